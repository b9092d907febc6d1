import * as z from "zod";
import { MOST_BYTES, MOST_MS } from "../units/bounds";

/** What a request asks of a drive. */
export const RequestKind = z.enum(["read", "write", "flush", "discard"]);
export type RequestKind = z.infer<typeof RequestKind>;

/** One request that reached a block device. Of its content, and of file names, nothing is kept. */
export interface RecordedRequest {
  /** When it reached the device, microseconds after the recording began. */
  startUs: number;
  /** How long it took to be answered; null where no answer was seen. */
  tookUs: number | null;
  kind: RequestKind;
  /** Where on the device, bytes. */
  offset: number;
  bytes: number;
  /** The process that sent it, by its place in the recording's list of programs. */
  program: number;
}

const count = z.number().int().nonnegative();
const us = z
  .number()
  .nonnegative()
  .max(MOST_MS * 1e3);

/** The order in which a request's row holds it; offset and bytes in sectors of 512. */
export const RequestRow = z.tuple([
  us,
  us.nullable(),
  count.max(3),
  count.max(MOST_BYTES / 512),
  count.max(MOST_BYTES / 512),
  count.max(9999),
]);
export type RequestRow = z.infer<typeof RequestRow>;

const SECTOR = 512;

export const rowOfRequest = (one: RecordedRequest): RequestRow => [
  one.startUs,
  one.tookUs,
  RequestKind.options.indexOf(one.kind),
  one.offset / SECTOR,
  one.bytes / SECTOR,
  one.program,
];

export const requestOfRow = ([
  startUs,
  tookUs,
  kind,
  at,
  length,
  program,
]: RequestRow): RecordedRequest => ({
  startUs,
  tookUs,
  kind: RequestKind.options[kind]!,
  offset: at * SECTOR,
  bytes: length * SECTOR,
  program,
});
