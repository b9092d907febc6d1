import * as z from "zod";

/** For so long what was removed can be put back, days. */
export const REMOVED_DAYS = 30;

export const RemovedKind = z.enum([
  "study",
  "measurement",
  "rig",
  "part",
  "demand",
  "reference",
  "suite",
  "correction",
  "drill",
  "mode",
  "host",
]);
export type RemovedKind = z.infer<typeof RemovedKind>;

/** Something that was removed, as it is shown. */
export interface Removed {
  id: string;
  kind: RemovedKind;
  title: string;
  /** What it was, in a line. */
  details: string;
  /** The study that it was removed from; null for what stands in none. */
  study: { id: string; title: string; isRemoved: boolean } | null;
  at: string;
  /** When it goes for good. */
  until: string;
}
