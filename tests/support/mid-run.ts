import type { Finished } from "./command";

/** Runs into whose middle something is to break. */

export interface Document {
  meanMBps: number;
  bytes: number;
  ms: number;
  samples: { ms: number; bytes: number }[];
  events: { kind: string; text: string }[];
}
/** What a run printed. */
export const documentOf = ({ stdout }: Finished) => JSON.parse(stdout) as Document;

/** Of a run's progress: it has said twice how far its counted time is. */
export const UNDER_WAY = /(MB\/s\n[^]*){2}/;

/** A run of small requests, whose drive is asked for something all the time. */
export const asked = (target: string, direction: string, seconds: number): string[] => [
  "measure",
  "--target",
  target,
  "--direction",
  direction,
  "--seconds",
  String(seconds),
  "--span",
  "8MiB",
  "--block",
  "64KiB",
  "--depth",
  "4",
  "--reserve",
  "0B",
  "--json",
];
