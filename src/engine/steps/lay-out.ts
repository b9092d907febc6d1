import fs from "node:fs";
import { promisify } from "node:util";
import { setTimeout as sleep } from "node:timers/promises";
import { movedBy } from "../lanes/counters";
import { allEnded, laneError, startLanes } from "../lanes/lanes";
import type { Outside } from "../outside";
import { Presence, throwLaneError } from "../target/presence";
import type { Medium } from "../target/scratch";
import { SAMPLE_MS } from "./sampling";

/** A scratch file is laid out in requests that any drive takes well. */
const BLOCK = 2 ** 20;
const DEPTH = 2;

/**
 * Writes the beginning of a file, so that reads find data and writes find their blocks in use.
 *
 * @param bytes how much
 * @param as the run that its pages name, the share of each page that a drive could compress away, and what
 * is being done, for a failure
 * @throws RunFailure when the disk fills up or fails
 */
export async function layOut(
  medium: Medium,
  bytes: number,
  { run, compressible, doing }: { run: number; compressible: number; doing: string },
  outside: Outside,
): Promise<void> {
  const blocks = Math.ceil(bytes / BLOCK);
  const total = blocks * BLOCK;
  const lanes = await startLanes({
    fds: medium.fds,
    fileBytes: medium.fileBytes,
    writeShare: 1,
    order: "sequential",
    block: BLOCK,
    first: 0,
    blocks,
    once: true,
    depth: DEPTH,
    mark: { run, generation: 0 },
    generated: false,
    checked: false,
    compressible,
    seed: run,
  });
  const presence = new Presence(medium.target);
  lanes.release();
  try {
    while (!allEnded(lanes)) {
      await sleep(SAMPLE_MS);
      outside.tell({ event: "preparing", bytes: movedBy(lanes.counters, BLOCK).written, total });
      if (outside.stop.aborted || laneError(lanes)) lanes.stop();
      presence.check();
    }
  } finally {
    lanes.stop();
  }
  await lanes.ended;
  throwLaneError(lanes, medium.target, doing);
  if (!outside.stop.aborted) {
    for (const fd of medium.fds) await promisify(fs.fsync)(fd);
  }
}
