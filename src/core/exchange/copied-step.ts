import * as z from "zod";
import { copyFigures } from "../drills/copy-figures";
import { StepLabel } from "../run/program";
import type { StepResult } from "../run/result";
import { MOST_BYTES, MOST_REQUESTS, MOST_MS, MOST_STEPS } from "../units/bounds";
import type { Moment } from "../trace/curve";

const count = z.number().int().nonnegative();
const bytes = count.max(MOST_BYTES);
const ms = z.number().nonnegative().max(MOST_MS);
const sum = z.number().nonnegative().max(Number.MAX_VALUE);

/** What the program counted of a copy; its figures are worked out here, as for what Nerrit copies itself. */
export const Copied = z.object({
  event: z.literal("copied"),
  repeat: count.max(49),
  step: count.max(MOST_STEPS),
  label: StepLabel,
  startMs: ms,
  ms,
  files: count.max(MOST_REQUESTS),
  read: bytes,
  written: bytes,
  /** Whether there was a source, and a destination, on a drive. */
  reads: z.boolean(),
  writes: z.boolean(),
  waitedForFromMs: ms,
  waitedForToMs: ms,
  /** Sums over the files (core/drills/copy-figures.ts). */
  fit: z.tuple([sum, sum, sum, sum, sum]),
  fromDeviceBytes: bytes.nullable(),
  toDeviceBytes: bytes.nullable(),
  verified: count.max(MOST_REQUESTS),
  differing: z.array(z.string().max(4096)).max(1000),
  kept: z.string().max(4096).nullable(),
});
export type Copied = z.infer<typeof Copied>;

/** What a copy gave. @param moments of its samples, in order */
export function copyOf(copied: Copied, moments: readonly Moment[]): StepResult {
  const { label, verified, differing, kept } = copied;
  const figures = copyFigures(label, copied, moments);
  return { ...figures, copy: { ...figures.copy, verified, differing, kept } };
}
