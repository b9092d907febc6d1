import type { LinkMode } from "../../ledger/mode";

/**
 * Rates on an even grid of their logarithms: what is not known of a part is a distribution on it.
 * The last of them is "more than matters here". After the rates come places for link modes: a limit
 * there is a mode that a link has come up at, which lets through what each pair of ends gets out of it.
 */
export interface Grid {
  /** MB/s at each place, rising; the last is Infinity. */
  rates: Float64Array;
  /** Logarithms of the finite rates. */
  logs: Float64Array;
  /** Distance of two places, as a difference of logarithms. */
  step: number;
  /** The link modes that have a place of their own after those of the rates. */
  modes: readonly LinkMode[];
  /** All places, the least limit first and "more than matters" last. */
  order: Int32Array;
  /** Of each place, where it stands in that order. */
  rank: Int32Array;
}

/** Finer than the noise of any bench, so that nothing depends on where the places fall. */
const STEP = 0.025;
/** Places at most: a study whose rates lie further apart is looked at more coarsely. */
const MOST = 480;

/** A grid from one rate to another. @param low MB/s @param high MB/s */
export function gridOver(low: number, high: number): Grid {
  const width = Math.log(high / low);
  const step = Math.max(STEP, width / MOST);
  const count = Math.max(2, Math.ceil(width / step) + 1);
  const logs = Float64Array.from({ length: count }, (_, i) => Math.log(low) + i * step);
  const rates = Float64Array.from([...logs.map(Math.exp), Infinity]);
  return { rates, logs, step, modes: [], ...ranked([...rates]) };
}

/** A grid with places for link modes. @param tops of each mode, the most that it lets through, MB/s */
export function withModes(grid: Grid, modes: readonly LinkMode[], tops: readonly number[]): Grid {
  return { ...grid, modes, ...ranked([...grid.rates, ...tops]) };
}

function ranked(limits: readonly number[]): Pick<Grid, "order" | "rank"> {
  const order = Int32Array.from(limits.keys()).toSorted((a, b) => limits[a]! - limits[b]! || a - b);
  const rank = new Int32Array(order.length);
  order.forEach((place, i) => (rank[place] = i));
  return { order, rank };
}

/** The place of a limit that is above all that matters. */
export const unlimited = ({ rates }: Grid): number => rates.length - 1;

/** The place of a grid that a rate is nearest to, the finite ones only. @param mbps MB/s */
export function placeOf({ logs, step }: Grid, mbps: number): number {
  const place = Math.round((Math.log(mbps) - logs[0]!) / step);
  return Math.max(0, Math.min(logs.length - 1, place));
}
