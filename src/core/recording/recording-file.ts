import * as z from "zod";
import { MOST_BYTES, MOST_MS } from "../units/bounds";
import { checkedLine, jsonOf } from "../units/json-lines";
import { RequestRow, requestOfRow, type RecordedRequest } from "./request";

/**
 * A recording as a file: one line of JSON for what was recorded and how, then lines of requests in the order
 * in which they reached the device, and a last line that says how the recording ended (docs/formats.md).
 */

const words = z.string().max(10_000);

export const RecordingHead = z.object({
  format: z.literal("nerrit-recording"),
  version: z.literal(1, { error: "is a version that this Nerrit does not know" }),
  nerrit: words,
  startedAt: z.iso.datetime(),
  host: words,
  kernel: words,
  /** The block device, what it is, and how much it holds. */
  device: words,
  drive: words.nullable(),
  deviceBytes: z.number().nonnegative().max(MOST_BYTES).nullable(),
  /** The work that was recorded: a command line; null where nobody said. */
  command: words.nullable(),
  /** The kernel's trace points that told of it. */
  points: z.array(words).max(10),
});
export type RecordingHead = z.infer<typeof RecordingHead>;

const Rows = z.object({ requests: z.array(RequestRow).max(10_000) });

/** How a recording ended. */
export const RecordingEnd = z.object({
  /** How long was recorded. */
  ms: z.number().nonnegative().max(MOST_MS),
  programs: z.array(words).max(10_000),
  /** Events that the kernel had no room for. */
  lost: z.number().int().nonnegative(),
  /** What the device itself counted meanwhile, bytes; null where it keeps no count. */
  counted: z
    .object({
      read: z.number().nonnegative().max(MOST_BYTES),
      written: z.number().nonnegative().max(MOST_BYTES),
    })
    .nullable(),
  reason: words.nullable(),
});
export type RecordingEnd = z.infer<typeof RecordingEnd>;

export interface Recording {
  head: RecordingHead;
  requests: RecordedRequest[];
  end: RecordingEnd;
}

/**
 * Reads a recording. One that was cut off is read to its last whole line.
 *
 * @throws RangeError that names the line that makes no sense
 */
export function readRecording(text: string): Recording {
  const [first, ...lines] = text.split("\n");
  const head = checkedLine(RecordingHead, jsonOf(first ?? ""), 1);
  const requests: RecordedRequest[] = [];
  let end: RecordingEnd | null = null;
  const last = lines.findLastIndex((line) => line.trim() !== "");
  for (const [i, line] of lines.entries()) {
    if (line.trim() === "") continue;
    const read = jsonOf(line);
    if (read === undefined && i === last) break;
    if (end) throw new RangeError(`line ${i + 2} stands behind the end of the recording`);
    if (typeof read === "object" && read !== null && "requests" in read)
      for (const row of checkedLine(Rows, read, i + 2).requests) requests.push(requestOfRow(row));
    else end = checkedLine(RecordingEnd, read, i + 2);
  }
  return { head, requests, end: end ?? cutOff(requests) };
}

/** The end of a recording whose file has none. */
function cutOff(requests: readonly RecordedRequest[]): RecordingEnd {
  const us = requests.reduce((most, one) => Math.max(most, one.startUs + (one.tookUs ?? 0)), 0);
  const reason =
    "The file ends before the recording does: the machine or the recorder was stopped.";
  return { ms: us / 1e3, programs: [], lost: 0, counted: null, reason };
}
