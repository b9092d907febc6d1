import { isBlockTrace, recordingOfBlockTrace } from "./block-trace";
import { isRecordingCsv, recordingOfCsv } from "./recording-csv";
import { readRecording, type Recording } from "./recording-file";

/** Whether a text holds a recording, by how it begins. */
export const isRecording = (text: string): boolean =>
  /^\uFEFF?\s*\{\s*"format"\s*:\s*"nerrit-recording"/.test(text) ||
  isRecordingCsv(text) ||
  isBlockTrace(text);

/**
 * Reads a recording: a file of `nerrit record`, a table of requests, or the kernel's block trace as text.
 *
 * @throws RangeError that names the line that makes no sense
 */
export function anyRecording(text: string): Recording {
  if (isRecordingCsv(text)) return recordingOfCsv(text);
  if (isBlockTrace(text)) return recordingOfBlockTrace(text);
  return readRecording(text);
}
