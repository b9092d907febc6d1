import { quantile } from "simple-statistics";
import type { Sample } from "../run/result";
import type { Direction } from "../units/rate";

/** What went one way in a trace: all of it, and its busy seconds. */
export interface BusySeconds {
  bytes: number;
  /** MB/s in the busiest second, and what 99 of 100 seconds stay within, pauses among them. */
  peakMBps: number;
  p99MBps: number;
}

/** A piece of the time, milliseconds: samples come ten a second. */
const PIECE_MS = 100;
/** Pieces at most, a day of them; those of a longer trace are longer. */
const MOST_PIECES = 864_000;

/** From the first moment of a trace to its last, seconds. */
export function lengthOf(samples: readonly Sample[]): number {
  const [from, to] = ends(samples);
  return Math.max(0, to - from) / 1e3;
}

/**
 * What went one way in a trace, with its busy seconds. Within a sample the rate counts as even: of a trace
 * with a sample a minute, no second is busier than its minute.
 *
 * @param samples of all targets, in any order; gaps between them moved nothing
 */
export function busySeconds(samples: readonly Sample[], direction: Direction): BusySeconds {
  const [from, to] = ends(samples);
  const pieceMs = Math.max(PIECE_MS, (to - from) / MOST_PIECES);
  const second = Math.max(1, Math.round(1000 / pieceMs));
  const pieces = new Float64Array(Math.max(second, Math.ceil((to - from) / pieceMs)));
  let bytes = 0;
  for (const sample of samples) {
    const moved = direction === "write" ? sample.written : sample.bytes - sample.written;
    bytes += moved;
    spread(pieces, (sample.from - from) / pieceMs, (sample.ms - from) / pieceMs, moved);
  }
  const seconds: number[] = [];
  let within = 0;
  let most = 0;
  for (const [i, piece] of pieces.entries()) {
    within += piece - (pieces[i - second] ?? 0);
    most = Math.max(most, within);
    if ((i + 1) % second === 0) seconds.push(within);
  }
  const meanMBps = bytes / 1e6 / Math.max(1, (to - from) / 1e3);
  const perSecond = 1 / 1e3 / (second * pieceMs);
  const peakMBps = Math.max(meanMBps, most * perSecond);
  const p99MBps = Math.min(peakMBps, Math.max(meanMBps, quantile(seconds, 0.99) * perSecond));
  return { bytes, peakMBps, p99MBps };
}

/** Shares bytes among the pieces that they were moved in. */
function spread(pieces: Float64Array, from: number, to: number, bytes: number): void {
  const last = Math.min(pieces.length - 1, Math.max(Math.floor(from), Math.ceil(to) - 1));
  for (let i = Math.floor(from); i <= last; i++) {
    const share =
      to > from ? (Math.min(to, i + 1) - Math.max(from, i)) / (to - from) : i === last ? 1 : 0;
    pieces[i]! += bytes * share;
  }
}

function ends(samples: readonly Sample[]): [from: number, to: number] {
  let [from, to] = [Infinity, -Infinity];
  for (const sample of samples) {
    from = Math.min(from, sample.from);
    to = Math.max(to, sample.ms);
  }
  return to > from ? [from, to] : [0, 0];
}
