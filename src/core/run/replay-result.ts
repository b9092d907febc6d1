import * as z from "zod";
import { MOST_BYTES, MOST_MS, MOST_REQUESTS } from "../units/bounds";

const duration = z.number().nonnegative().max(MOST_MS);
const count = z.number().int().nonnegative().max(MOST_REQUESTS);

/** A length of time, and how much of it requests were under way, milliseconds. */
const Span = z.object({ ms: duration, waitedMs: duration });

/** A stretch of a recording between two of its pauses. */
export const ReplayPhase = z.object({
  /** Where it begins in the recording, milliseconds. */
  fromMs: duration,
  requests: count,
  bytes: z.number().nonnegative().max(MOST_BYTES),
  recorded: Span,
  replayed: Span,
});
export type ReplayPhase = z.infer<typeof ReplayPhase>;

/** Recorded work beside its replay. */
export const ReplayResult = z.object({
  /** Time for the work, and the time in which the drive had a request to answer. */
  recorded: Span,
  replayed: Span,
  phases: z.array(ReplayPhase).max(100),
  /** Request times of the recording, histograms of src/core/stats/histogram.ts; null where there was none. */
  recordedRead: z.string().nullable(),
  recordedWrite: z.string().nullable(),
  flushes: count,
  /** Requests that were not done again: what frees space would leave holes in the scratch file. */
  leftOut: count,
  /** Requests that were widened to the drive's smallest block. */
  widened: count,
  /** Whether the places were folded into less than the recording touches. */
  folded: z.boolean(),
});
export type ReplayResult = z.infer<typeof ReplayResult>;
