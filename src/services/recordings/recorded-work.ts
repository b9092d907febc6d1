import { createHash } from "node:crypto";
import fs from "node:fs";
import path from "node:path";
import { decodeLog } from "@/core/elsewhere/decode";
import { anyRecording } from "@/core/recording/any-recording";
import type { Recording } from "@/core/recording/recording-file";
import { workOf } from "@/core/replay/work";
import type { RecordedWork } from "@/core/run/recorded-work";

/** Larger than the recording of a day. */
const LIMIT = 512 * 2 ** 20;

/**
 * A recording in a file, in brief.
 *
 * @throws RangeError that says what is wrong with it
 */
export function recordedWorkIn(file: string): RecordedWork {
  const bytes = bytesOf(file);
  return inBrief(anyRecording(decodeLog(bytes)), file, bytes);
}

/** The same of one that was read already; null where it holds nothing that can be done again. */
export function recordedWorkOf(recording: Recording, file: string): RecordedWork | null {
  try {
    return inBrief(recording, file, bytesOf(file));
  } catch (error) {
    if (error instanceof RangeError) return null;
    throw error;
  }
}

const inBrief = (recording: Recording, file: string, bytes: Buffer): RecordedWork =>
  workOf(
    recording,
    recording.head.command || path.basename(file).replace(/\.[^.]+$/, ""),
    createHash("sha256").update(bytes).digest("hex"),
  );

function bytesOf(file: string): Buffer {
  try {
    if (fs.statSync(file).size > LIMIT) throw new Error("it is larger than 512 MiB");
    return fs.readFileSync(file);
  } catch (error) {
    throw new RangeError(`it cannot be read: ${(error as Error).message}`, { cause: error });
  }
}
