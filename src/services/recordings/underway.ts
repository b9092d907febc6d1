import type { ChildProcess } from "node:child_process";
import fs from "node:fs";

/** A recording that goes on, or could not be made. */
export interface Underway {
  child: ChildProcess;
  running: boolean;
  trouble: string | null;
  /** How much of its file has been counted, and what was found there. */
  readTo: number;
  requests: number;
}

/** Counts the requests of the lines that have come since. */
export function countOn(underway: Underway, file: string, size: number): void {
  if (size <= underway.readTo) return;
  const data = Buffer.alloc(size - underway.readTo);
  const fd = fs.openSync(file, "r");
  const bytes = fs.readSync(fd, data, 0, data.length, underway.readTo);
  fs.closeSync(fd);
  // The last line may still be on its way.
  const end = data.subarray(0, bytes).lastIndexOf("\n") + 1;
  for (const [, count] of data
    .subarray(0, end)
    .toString("latin1")
    .matchAll(/^\{"requests":(\d+)/gm))
    underway.requests += Number(count);
  underway.readTo += end;
}
