import * as z from "zod";

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

/**
 * Requests as numbers, so many of each as ROW says, one after another: when it began and how long it took
 * in tenths of a microsecond (-1: no answer was seen), its kind by its place in RequestKind, its place and
 * length in sectors, and its program.
 */
export type RequestRows = Float64Array;
export const ROW = 6;
/** Times are kept to a tenth of a microsecond. */
export const TICKS = 10;
export const SECTOR = 512;

/** @throws RangeError never: places and lengths between two sectors are widened to whole ones */
export function rowsOf(requests: readonly RecordedRequest[]): RequestRows {
  const rows = new Float64Array(requests.length * ROW);
  requests.forEach(({ startUs, tookUs, kind, offset, bytes, program }, i) => {
    const first = Math.floor(offset / SECTOR);
    rows.set(
      [
        Math.round(startUs * TICKS),
        tookUs === null ? -1 : Math.round(tookUs * TICKS),
        RequestKind.options.indexOf(kind),
        first,
        Math.ceil((offset + bytes) / SECTOR) - first,
        program,
      ],
      i * ROW,
    );
  });
  return rows;
}

export function requestsOf(rows: RequestRows): RecordedRequest[] {
  return Array.from({ length: rows.length / ROW }, (_, i) => {
    const [start, took, kind, sector, sectors, program] = rows.subarray(i * ROW) as unknown as [
      number,
      number,
      number,
      number,
      number,
      number,
    ];
    return {
      startUs: start / TICKS,
      tookUs: took < 0 ? null : took / TICKS,
      kind: RequestKind.options[kind]!,
      offset: sector * SECTOR,
      bytes: sectors * SECTOR,
      program,
    };
  });
}
