import { fork } from "node:child_process";
import { once } from "node:events";
import path from "node:path";
import type { ArchiveProgress } from "@/core/archive/view";
import { programRoot } from "@/store/program-root";
import { Problem } from "../problem";
import { ArchiveSaid, type ArchiveMade, type ArchiveOrder } from "./order";

/** The bundle of the process. */
const bundled = () => path.join(/* turbopackIgnore: true */ programRoot(), "dist", "archive.mjs");

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
}

/** Has something of an archive made, under the name by which the process says it. */
export type InArchiveProcess = typeof inArchiveProcess;

/**
 * Has something of an archive done in a process of its own: pages answer meanwhile, and the memory that it takes
 * ends with it.
 *
 * @param made what the order gives
 * @throws Problem that says what went wrong, or that it was stopped
 */
export async function inArchiveProcess<M extends keyof ArchiveMade>(
  made: M,
  order: ArchiveOrder,
  { signal, onProgress, ms }: Following = {},
): Promise<ArchiveMade[M]> {
  if (signal?.aborted) throw new Problem(409, STOPPED);
  const child = fork(/* turbopackIgnore: true */ bundled(), [], {
    execArgv: [`--max-old-space-size=${HEAP_MB}`],
    stdio: ["ignore", "ignore", "inherit", "ipc"],
  });
  const end = () => child.kill("SIGKILL");
  signal?.addEventListener("abort", end);
  const timer = ms === undefined ? undefined : setTimeout(end, ms + GRACE_MS);
  let said: ArchiveSaid | null = null;
  child.on("message", (message) => {
    const told = ArchiveSaid.safeParse(message).data;
    if (told && "progress" in told) onProgress?.(told.progress);
    else if (told) said = told;
  });
  try {
    // Only when the line is closed is everything heard that the process said.
    const ended = once(child, "disconnect");
    child.send(order, (error) => error && end());
    await ended;
  } finally {
    clearTimeout(timer);
    signal?.removeEventListener("abort", end);
    end();
  }
  return resultOf(said, made, signal?.aborted === true, ms !== undefined);
}

const STOPPED = "It was stopped. What is missing in the archive is added the next time.";

function resultOf<M extends keyof ArchiveMade>(
  said: ArchiveSaid | null,
  made: M,
  isStopped: boolean,
  isLimited: boolean,
): ArchiveMade[M] {
  if (said && "problem" in said) throw new Problem(422, said.problem);
  if (said && made in said) return (said as unknown as ArchiveMade)[made];
  if (isStopped) throw new Problem(409, STOPPED);
  throw new Problem(
    409,
    isLimited
      ? "The question took more time or memory than it may. Narrow it, to one month say."
      : "The archive's process ended before it was done. The log says more. Try again.",
  );
}
