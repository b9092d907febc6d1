import { fork } from "node:child_process";
import path from "node:path";
import { Problem } from "../problem";
import { ArchiveSaid, type ArchiveOrder } from "./order";
import type { ArchiveProgress } from "@/core/archive/view";

/** The bundle of the process, for a program that runs in the project's folder. */
export const BUNDLED = path.join(/* turbopackIgnore: true */ process.cwd(), "dist", "archive.mjs");

/** Memory that the process's own heap may take, MB; the engine's comes beside it. */
const HEAP_MB = 1024;
/** A process that has not ended so long after its time is killed. */
const GRACE_MS = 5000;

/** How an order is followed. */
export interface Following {
  /** Ends the process. */
  signal?: AbortSignal;
  onProgress?(progress: ArchiveProgress): void;
  /** The process is killed when it takes longer, milliseconds. */
  ms?: number;
  /** Another bundle of the process. */
  bundle?: string;
}

/**
 * Has something of an archive done in a process of its own: pages answer meanwhile, and what it takes in memory
 * and time ends with it.
 *
 * @throws Problem that says what went wrong, or that it was stopped
 */
export async function inArchiveProcess(
  order: ArchiveOrder,
  { signal, onProgress, ms, bundle = BUNDLED }: Following = {},
): Promise<Exclude<ArchiveSaid, { progress: ArchiveProgress } | { problem: string }>> {
  if (signal?.aborted) throw new Problem(409, "It was stopped.");
  const child = fork(/* turbopackIgnore: true */ bundle, [], {
    execArgv: [`--max-old-space-size=${HEAP_MB}`],
    stdio: ["ignore", "ignore", "inherit", "ipc"],
  });
  const end = () => child.kill("SIGKILL");
  signal?.addEventListener("abort", end);
  const timer = ms === undefined ? null : setTimeout(end, ms + GRACE_MS);
  let last: ArchiveSaid | null = null;
  try {
    await new Promise<void>((ended, failed) => {
      child.once("error", failed);
      child.once("exit", () => ended());
      child.on("message", (message) => {
        const said = ArchiveSaid.parse(message);
        if ("progress" in said) onProgress?.(said.progress);
        else last = said;
      });
      child.send(order, (error) => error && failed(error));
    });
  } finally {
    if (timer) clearTimeout(timer);
    signal?.removeEventListener("abort", end);
  }
  const said = last as ArchiveSaid | null;
  if (!said || "progress" in said)
    throw new Problem(
      409,
      signal?.aborted
        ? "It was stopped. The archive holds what it held before."
        : ms === undefined
          ? "The archive's process ended before it was done. Try again; see the log."
          : "The question took more time or memory than it may. Narrow it, to one month say.",
    );
  if ("problem" in said) throw new Problem(422, said.problem);
  return said;
}
