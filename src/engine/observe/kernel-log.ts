import fs from "node:fs";
import type { RunEvent } from "@/core/run/result";

/** A line of the kernel's log. */
export interface LogLine {
  text: string;
  kind: RunEvent["kind"];
}

/** A record is at most a page; one too long for the buffer is an error of the call, not of the log. */
const RECORD = 8192;

/**
 * What the kernel logs about some devices from now on (Documentation/ABI/testing/dev-kmsg). Where this
 * user may not read it, there is nothing to tell.
 */
export class KernelLog {
  private fd: number | null = null;

  /** @param names words of which one stands in a line that matters: "sdb", "2-1.2", "0000:01:00.0" */
  constructor(private readonly names: readonly string[]) {
    try {
      this.fd = fs.openSync("/dev/kmsg", fs.constants.O_RDONLY | fs.constants.O_NONBLOCK);
      this.records(); // what was logged before the run
    } catch {
      this.close();
    }
  }

  /** What was logged since the last call. */
  read(): LogLine[] {
    return this.records().flatMap((record) => lineOf(record, this.names) ?? []);
  }

  private records(): string[] {
    const found: string[] = [];
    const buffer = Buffer.alloc(RECORD);
    while (this.fd !== null) {
      try {
        const bytes = fs.readSync(this.fd, buffer, 0, RECORD, null);
        if (bytes === 0) break;
        found.push(buffer.toString("utf8", 0, bytes));
      } catch (error) {
        const { code } = error as NodeJS.ErrnoException;
        if (code === "EPIPE") continue; // records were overwritten before they were read
        if (code !== "EAGAIN") this.close();
        break;
      }
    }
    return found;
  }

  close(): void {
    if (this.fd !== null) fs.closeSync(this.fd);
    this.fd = null;
  }
}

/**
 * Reads one record, "6,339,5140900,-;text" with continuation lines after it.
 *
 * @returns null where it concerns none of the names
 */
export function lineOf(record: string, names: readonly string[]): LogLine | null {
  const text = /^[^;]*;([^\n]*)/.exec(record)?.[1];
  if (text === undefined) return null;
  // A name stands by itself: "sdb" is not meant by "sdbc", nor "2-1" by "2-1.2".
  const meant = names.some((name) => {
    const quoted = name.replace(/[.*+?^${}()|[\]\\]/g, "\\$&");
    return new RegExp(`(^|[^\\w.-])${quoted}(?![\\w.-]*\\w)`).test(text);
  });
  if (!meant) return null;
  const kind = /\breset\b/i.test(text)
    ? "reset"
    : /disconnect|offline|detached|device removed/i.test(text)
      ? "gone"
      : /error|fail|timed out|timeout|abort/i.test(text)
        ? "error"
        : "kernel";
  return { text, kind };
}
