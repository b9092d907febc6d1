import * as z from "zod";
import { RecordedWork } from "../run/recorded-work";

/** A recording that the server keeps, or makes just now. */
export const KeptRecording = z.object({
  id: z.string(),
  /** The drive as the kernel calls it: "sdb". */
  name: z.string(),
  startedAt: z.iso.datetime(),
  /** Whether it goes on. */
  running: z.boolean(),
  /** Requests so far, while it goes on. */
  requests: z.number(),
  /** Size of its file, bytes. */
  bytes: z.number(),
  /** Why it could not be made, in words; null where it was. */
  trouble: z.string().nullable(),
});
export type KeptRecording = z.infer<typeof KeptRecording>;

/** A recording that can be done again. */
export const KeptWork = z.object({
  id: z.string(),
  startedAt: z.iso.datetime(),
  /** Whether it came with the sample studies. */
  isSample: z.boolean(),
  work: RecordedWork,
});
export type KeptWork = z.infer<typeof KeptWork>;

const flow = z.object({
  bytes: z.number(),
  requests: z.number(),
  meanMBps: z.number(),
  peakMBps: z.number(),
  p99MBps: z.number(),
});

/** What recorded work asks of a drive, as `nerrit record --json` prints it (docs/formats.md). */
export const AskedDocument = z.object({
  requests: z.number(),
  seconds: z.number(),
  read: flow,
  write: flow,
  flushes: z.number(),
  discards: z.number(),
  medianBytes: z.number(),
  largeShare: z.number(),
  randomShare: z.number(),
  meanDepth: z.number(),
  mostDepth: z.number(),
  busyShare: z.number(),
  pauses: z.number(),
  pausedSeconds: z.number(),
  workingSetBytes: z.number(),
  medianUs: z.number().nullable(),
  p99Us: z.number().nullable(),
  programs: z.array(z.object({ name: z.string(), requests: z.number(), bytes: z.number() })),
  lost: z.number(),
  reason: z.string().nullable(),
  /** What doing it again takes; null where nothing was moved. */
  work: RecordedWork.nullable(),
});
export type AskedDocument = z.infer<typeof AskedDocument>;
