import * as z from "zod";
import { inflateSync } from "fflate";
import { fromBase64 } from "../units/base64";
import { MOST_BYTES, MOST_MS } from "../units/bounds";
import { checkedLine, jsonOf } from "../units/json-lines";
import { MOST_PACKED, packRequests, unpackRequests } from "./pack";
import { requestsOf, ROW, SECTOR, TICKS, type RecordedRequest, type RequestRows } from "./request";

/**
 * A recording as a file: one line of JSON for what was recorded and how, then lines of requests in the order
 * in which they reached the device, and a last line that says how the recording ended (docs/formats.md).
 */

/** Requests on one line, and in one recording, at most. */
export const MOST_ON_LINE = 10_000;
export const MOST_REQUESTS = 5_000_000;

const words = z.string().max(10_000);

export const RecordingHead = z.object({
  format: z.literal("nerrit-recording"),
  version: z.literal(1, { error: "is a version that this Nerrit does not know" }),
  nerrit: words,
  /** When, and where; null in a recording that another program made. */
  startedAt: z.iso.datetime().nullable(),
  host: words.nullable(),
  kernel: words.nullable(),
  /** The block device, what it is, and how much it holds. */
  device: words.nullable(),
  drive: words.nullable(),
  deviceBytes: z.number().nonnegative().max(MOST_BYTES).nullable(),
  /** The work that was recorded: a command line; null where nobody said. */
  command: words.nullable(),
  /** The kernel's trace points that told of it. */
  points: z.array(words).max(10),
});
export type RecordingHead = z.infer<typeof RecordingHead>;

/** Some of the requests, and the programs that are seen in them for the first time. */
export const RecordingPart = z.object({
  requests: z.number().int().nonnegative().max(MOST_ON_LINE),
  programs: z.array(words).max(10_000),
  /** `packRequests`, compressed (RFC 1951), as base64. */
  packed: z.base64().max(MOST_ON_LINE * MOST_PACKED * 2),
});
export type RecordingPart = z.infer<typeof RecordingPart>;

/**
 * Requests as a line of the file has them.
 *
 * @param deflate compresses bytes (RFC 1951)
 */
export function partOf(
  rows: RequestRows,
  programs: readonly string[],
  deflate: (bytes: Uint8Array) => { toString(encoding: "base64"): string },
): RecordingPart {
  const packed = deflate(packRequests(rows)).toString("base64");
  return { requests: rows.length / ROW, programs: [...programs], packed };
}

/** How a recording ended. */
export const RecordingEnd = z.object({
  /** How long was recorded. */
  ms: z.number().nonnegative().max(MOST_MS),
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
  /** Names of the programs that sent them. */
  programs: string[];
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
  const programs: string[] = [];
  let end: RecordingEnd | null = null;
  const last = lines.findLastIndex((line) => line.trim() !== "");
  for (const [i, line] of lines.entries()) {
    if (line.trim() === "") continue;
    const read = jsonOf(line);
    if (read === undefined && i === last) break;
    const number = i + 2;
    if (end) throw new RangeError(`line ${number} stands behind the end of the recording`);
    if (typeof read !== "object" || read === null || !("packed" in read)) {
      end = checkedLine(RecordingEnd, read, number);
      continue;
    }
    const part = checkedLine(RecordingPart, read, number);
    programs.push(...part.programs);
    for (const one of requestsIn(part, programs.length, number)) requests.push(one);
    if (requests.length > MOST_REQUESTS)
      throw new RangeError(`line ${number}: more than ${MOST_REQUESTS} requests in one recording`);
  }
  return { head, requests, programs, end: end ?? cutOff(requests) };
}

/** The requests of a line, within their bounds. */
function requestsIn(
  { requests, packed }: RecordingPart,
  programs: number,
  line: number,
): RecordedRequest[] {
  try {
    // One byte more than the requests can need: what unfolds to more is noticed by it.
    const out = new Uint8Array(requests * MOST_PACKED + 1);
    const rows = unpackRequests(inflateSync(fromBase64(packed), { out }), requests);
    for (let i = 0; i < rows.length; i += ROW) {
      const [start, took, sector, sectors, program] = [0, 1, 3, 4, 5].map((at) => rows[i + at]!);
      const isWithin =
        start! + Math.max(0, took!) <= MOST_MS * 1e3 * TICKS &&
        (sector! + sectors!) * SECTOR <= MOST_BYTES &&
        program! < Math.max(1, programs);
      if (!isWithin) throw new RangeError(`request ${i / ROW + 1} is beyond its bounds`);
    }
    return requestsOf(rows);
  } catch (error) {
    throw new RangeError(`line ${line}: packed: ${(error as Error).message}`, { cause: error });
  }
}

/** Gives programs their numbers, by their names. */
export class ProgramNumbers {
  private readonly numbers = new Map<string, number>();

  of(name: string): number {
    const known = this.numbers.get(name);
    if (known !== undefined) return known;
    this.numbers.set(name, this.numbers.size);
    return this.numbers.size - 1;
  }

  get names(): string[] {
    return [...this.numbers.keys()];
  }
}

/**
 * A recording of which only the requests are known.
 *
 * @param from what they were read out of
 * @param requests in any order
 */
export function foreignRecording(
  from: string,
  requests: readonly RecordedRequest[],
  programs: string[],
): Recording {
  const ordered = requests.toSorted((a, b) => a.startUs - b.startUs);
  const head: RecordingHead = {
    format: "nerrit-recording",
    version: 1,
    nerrit: from,
    startedAt: null,
    host: null,
    kernel: null,
    device: null,
    drive: null,
    deviceBytes: null,
    command: null,
    points: [],
  };
  return { head, requests: ordered, programs, end: { ...cutOff(ordered), reason: null } };
}

/** The end of a recording whose file has none. */
function cutOff(requests: readonly RecordedRequest[]): RecordingEnd {
  const us = requests.reduce((most, one) => Math.max(most, one.startUs + (one.tookUs ?? 0)), 0);
  const reason =
    "The file ends before the recording does: the machine or the recorder was stopped.";
  return { ms: us / 1e3, lost: 0, counted: null, reason };
}
