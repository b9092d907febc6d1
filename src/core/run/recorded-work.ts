import * as z from "zod";
import { MOST_BYTES, MOST_MS, MOST_REQUESTS } from "../units/bounds";

/** Recordings that are done again in one run. */
export const MOST_WORKS = 8;

/** A recording in brief: which it is, and what doing it again takes. */
export const RecordedWork = z.object({
  /** What it is called: the command that was recorded, or the file's name. */
  name: z.string().min(1).max(200),
  /** SHA-256 of its file, in hexadecimal: what is done again is exactly this. */
  sha256: z.string().regex(/^[0-9a-f]{64}$/, "must be a SHA-256 in hexadecimal"),
  requests: z.number().int().positive().max(MOST_REQUESTS),
  ms: z.number().nonnegative().max(MOST_MS),
  bytesRead: z.number().nonnegative().max(MOST_BYTES),
  bytesWritten: z.number().nonnegative().max(MOST_BYTES),
  /** How much of a drive it touches, in whole pages of 4 KiB, bytes. */
  workingSetBytes: z.number().positive().max(MOST_BYTES),
});
export type RecordedWork = z.infer<typeof RecordedWork>;

/** When requests of a recording go: as soon as those before are answered, or at the recorded times. */
export const Pace = z.enum(["asap", "as-recorded"], {
  error: "must be asap or as-recorded",
});
export type Pace = z.infer<typeof Pace>;

/** What becomes of the time between an answer and the next request, in which a program thinks. */
export const Pauses = z.enum(["kept", "left-out"], { error: "must be kept or left-out" });
export type Pauses = z.infer<typeof Pauses>;
