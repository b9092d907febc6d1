import * as z from "zod";

/** What a request asks of a drive. */
export const RequestKind = z.enum(["read", "write", "flush", "discard"]);
export type RequestKind = z.infer<typeof RequestKind>;

/** What a write asks of the drive's cache: that it is emptied before, that the write is on the medium itself, or both. */
export const FlushAround = z.enum(["before", "after", "both"]);
export type FlushAround = z.infer<typeof FlushAround>;

/** What a request is called in tables and on pages: its kind, and the flushes that belong to a write. */
export const OPERATIONS: readonly { name: string; kind: RequestKind; flush?: FlushAround }[] = [
  ...RequestKind.options.map((kind) => ({ name: kind, kind })),
  { name: "flush+write", kind: "write", flush: "before" },
  { name: "write+flush", kind: "write", flush: "after" },
  { name: "flush+write+flush", kind: "write", flush: "both" },
];

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
  /** Of a write; left out where it asks for neither. */
  flush?: FlushAround;
}

/**
 * Requests as numbers, so many of each as ROW says, one after another: when it began and how long it took
 * in tenths of a microsecond (-1: no answer was seen), its kind by its place in RequestKind with FLUSH times
 * what is flushed around it, its place and length in sectors, and its program.
 */
export type RequestRows = Float64Array;
export const ROW = 6;
/** Kinds are below; what is flushed around a request counts in these: 1 before, 2 after. */
export const FLUSH = 4;
/** Times are kept to a tenth of a microsecond. */
export const TICKS = 10;
export const SECTOR = 512;

/** @throws RangeError never: places and lengths between two sectors are widened to whole ones */
export function rowsOf(requests: readonly RecordedRequest[]): RequestRows {
  const rows = new Float64Array(requests.length * ROW);
  requests.forEach(({ startUs, tookUs, kind, offset, bytes, program, flush }, i) => {
    const first = Math.floor(offset / SECTOR);
    rows.set(
      [
        Math.round(startUs * TICKS),
        tookUs === null ? -1 : Math.round(tookUs * TICKS),
        RequestKind.options.indexOf(kind) + FLUSH * flushNumber(flush),
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
      kind: RequestKind.options[kind % FLUSH]!,
      offset: sector * SECTOR,
      bytes: sectors * SECTOR,
      program,
      ...(kind >= FLUSH ? { flush: FlushAround.options[Math.floor(kind / FLUSH) - 1]! } : {}),
    };
  });
}

/** 1 before, 2 after, 3 both, 0 neither. */
const flushNumber = (flush: FlushAround | undefined): number =>
  flush === undefined ? 0 : FlushAround.options.indexOf(flush) + 1;
