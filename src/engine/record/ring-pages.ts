/**
 * The pages of the kernel's trace buffer as `trace_pipe_raw` gives them (events/header_page, events/header_event;
 * include/linux/ring_buffer.h): a time stamp and a length, then events, each with its type and how long after
 * the one before it came.
 */

/** Types of entries beside events of up to 28 words. */
const PADDING = 29;
const TIME_EXTEND = 30;
const TIME_STAMP = 31;
const HEADER_BYTES = 16;
/** Bits of the length that say something else: that events were lost before, and how many stand at the end. */
const LENGTH_MASK = 0xfffff;
const MISSED_EVENTS = 1 << 31;
const DELTA_BITS = 27;

/** Called for each event: its time in nanoseconds, and where its own bytes begin. */
export type EachEvent = (ns: number, at: number) => void;

/**
 * Goes through one page.
 *
 * @param view of the page alone
 * @returns whether events were lost before it
 */
export function eachEvent(view: DataView, each: EachEvent): boolean {
  let ns = Number(view.getBigUint64(0, true));
  const commit = view.getUint32(8, true);
  const end = Math.min(view.byteLength, HEADER_BYTES + (commit & LENGTH_MASK));
  for (let at = HEADER_BYTES; at + 4 <= end;) {
    const header = view.getUint32(at, true);
    const type = header & 31;
    const delta = header >>> 5;
    if (type === PADDING) {
      // One that was taken back has its length behind it; without a time the rest of the page is empty.
      if (delta === 0) break;
      ns += delta;
      at += 4 + view.getUint32(at + 4, true);
    } else if (type === TIME_EXTEND || type === TIME_STAMP) {
      const long = view.getUint32(at + 4, true) * 2 ** DELTA_BITS + delta;
      ns = type === TIME_EXTEND ? ns + long : withHighBits(long, ns);
      at += 8;
    } else {
      ns += delta;
      const long = type === 0;
      const from = at + (long ? 8 : 4);
      const bytes = long ? view.getUint32(at + 4, true) - 4 : type * 4;
      each(ns, from);
      at = from + bytes;
    }
  }
  return (commit & MISSED_EVENTS) !== 0;
}

/** An absolute time stamp has 59 bits; the five above them are those of the time before. */
function withHighBits(low: number, before: number): number {
  const whole = 2 ** 59;
  return Math.floor(before / whole) * whole + low;
}
