import { NumberReader, putNumber, zigzag } from "../units/leb128";
import { FLUSH, ROW, type RequestRows } from "./request";

/**
 * Requests as bytes, each as what it adds to those before, in numbers of as many bytes as they need.
 * A request takes five to ten bytes before the whole is compressed.
 */

/** What the first byte of a request says of the rest, beside its kind in the two lowest bits. */
const SAME_PROGRAM = 4; // as the request before
const GOES_ON = 8; // begins where the one before of its kind ended
const SAME_LENGTH = 16; // as the request before of its kind
const ANSWERED = 32;
const FLUSHED = 64; // times what is flushed around the request
const KIND = FLUSH - 1;

/** What a request is at most: one byte, and five numbers of eight. */
export const MOST_PACKED = 41;

export function packRequests(rows: RequestRows): Uint8Array {
  const out = new Uint8Array((rows.length / ROW) * MOST_PACKED);
  let at = 0;
  const put = (value: number) => void (at = putNumber(out, at, value));
  const ends = [0, 0, 0, 0];
  const lengths = [0, 0, 0, 0];
  let [before, last] = [0, 0];
  for (let i = 0; i < rows.length; i += ROW) {
    const [start, took, asks] = [rows[i]!, rows[i + 1]!, rows[i + 2]!];
    const kind = asks & KIND;
    const [sector, sectors, program] = [rows[i + 3]!, rows[i + 4]!, rows[i + 5]!];
    out[at++] =
      kind |
      (FLUSHED * Math.floor(asks / FLUSH)) |
      (program === last ? SAME_PROGRAM : 0) |
      (sector === ends[kind] ? GOES_ON : 0) |
      (sectors === lengths[kind] ? SAME_LENGTH : 0) |
      (took >= 0 ? ANSWERED : 0);
    put(Math.max(0, start - before));
    if (took >= 0) put(took);
    if (program !== last) put(program);
    if (sector !== ends[kind]) put(zigzag(sector - ends[kind]!));
    if (sectors !== lengths[kind]) put(sectors);
    before = Math.max(before, start);
    last = program;
    ends[kind] = sector + sectors;
    lengths[kind] = sectors;
  }
  return out.slice(0, at);
}

/** @throws RangeError for bytes that `packRequests` did not make of so many requests */
export function unpackRequests(packed: Uint8Array, count: number): RequestRows {
  const rows = new Float64Array(count * ROW);
  const reader = new NumberReader(packed);
  const ends = [0, 0, 0, 0];
  const lengths = [0, 0, 0, 0];
  let [start, program] = [0, 0];
  for (let i = 0; i < rows.length; i += ROW) {
    const flags = reader.byte();
    const kind = flags & KIND;
    start += reader.number();
    const took = flags & ANSWERED ? reader.number() : -1;
    if (!(flags & SAME_PROGRAM)) program = reader.number();
    const sector = ends[kind]! + (flags & GOES_ON ? 0 : reader.signed());
    const sectors = flags & SAME_LENGTH ? lengths[kind]! : reader.number();
    if (sector < 0) throw new RangeError("a place before the drive’s first");
    const asks = kind + FLUSH * Math.floor(flags / FLUSHED);
    rows.set([start, took, asks, sector, sectors, program], i);
    ends[kind] = sector + sectors;
    lengths[kind] = sectors;
  }
  if (!reader.isAtEnd) throw new RangeError("more bytes than the requests need");
  return rows;
}
