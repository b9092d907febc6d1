import { createHash } from "node:crypto";
import fs from "node:fs";
import path from "node:path";
import { anyRecording } from "@/core/recording/any-recording";
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
  const recording = anyRecording(bytes.toString("utf8"));
  const name = recording.head.command || path.basename(file).replace(/\.[^.]+$/, "");
  return workOf(recording, name, createHash("sha256").update(bytes).digest("hex"));
}

function bytesOf(file: string): Buffer {
  try {
    if (fs.statSync(file).size > LIMIT) throw new Error("it is larger than 512 MiB");
    return fs.readFileSync(file);
  } catch (error) {
    throw new RangeError(`it cannot be read: ${(error as Error).message}`, { cause: error });
  }
}
