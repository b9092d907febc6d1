import * as z from "zod";
import type { Copy, Demand } from "../study/demand";
import type { BusySeconds } from "../trace/busy-seconds";
import type { Direction } from "../units/rate";

/** Which of the recorded seconds a rig is to keep up with. */
export const KeptUpWith = z.enum(["p99", "peak"]);
export type KeptUpWith = z.infer<typeof KeptUpWith>;

export const KEPT_UP_WITH: Record<KeptUpWith, string> = {
  p99: "99 of 100 seconds",
  peak: "every second",
};

/** What work moved, and in how many seconds: recorded, watched or read from a log. */
export interface WorkMoved {
  seconds: number;
  read: BusySeconds;
  write: BusySeconds;
}

/**
 * Work as a demand: each way the whole of the work in the time that it took, and as much in one second
 * as its busy seconds moved.
 *
 * @param name what the demand is called
 * @returns null where nothing was read or written
 */
export function demandOfWork(
  name: string,
  asked: WorkMoved,
  keptUpWith: KeptUpWith,
): Demand | null {
  const copies = (["read", "write"] as const).flatMap((direction) =>
    copiesOf(asked[direction], direction, asked.seconds, keptUpWith),
  );
  return copies.length > 0 ? { name, streams: [], copies } : null;
}

function copiesOf(
  { bytes, p99MBps, peakMBps }: BusySeconds,
  direction: Direction,
  seconds: number,
  keptUpWith: KeptUpWith,
): Copy[] {
  if (bytes === 0 || seconds === 0) return [];
  const busiest = keptUpWith === "peak" ? peakMBps : p99MBps;
  const copy = (what: string, mb: number, within: number): Copy => ({
    what,
    direction,
    gigabytes: plain(mb / 1e3),
    minutes: plain(within / 60),
  });
  return [
    copy("the whole of the work", bytes / 1e6, seconds),
    copy(keptUpWith === "peak" ? "its busiest second" : "a busy second of it", busiest, 1),
  ];
}

/** As a figure that can be read in a form. */
const plain = (value: number): number => Number(value.toPrecision(6));
