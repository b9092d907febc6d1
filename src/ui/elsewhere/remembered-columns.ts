import type { LogColumn } from "@/core/elsewhere/log";

const REMEMBERED = "nerrit-log-columns";

/** The columns of a log of this shape as they were taken last; null where there was none. */
export function remembered(shape: string): LogColumn[] | null {
  try {
    const all = JSON.parse(localStorage.getItem(REMEMBERED) ?? "{}") as Record<string, LogColumn[]>;
    return all[shape] ?? null;
  } catch {
    return null;
  }
}

export function remember(shape: string, columns: LogColumn[]): void {
  try {
    const all = JSON.parse(localStorage.getItem(REMEMBERED) ?? "{}") as Record<string, LogColumn[]>;
    localStorage.setItem(REMEMBERED, JSON.stringify({ ...all, [shape]: columns }));
  } catch {
    // Storage may be switched off; the columns are then guessed again.
  }
}
