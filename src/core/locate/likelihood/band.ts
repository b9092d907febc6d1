import { placeOf, type Grid } from "./grid";

/** How far below its band good hardware may yet lie, ever less likely, as a difference of logarithms. */
const BELOW = 0.1;
/** Two rigs of good hardware put together of the same links lie this close, as a difference of logarithms. */
export const APART = 0.15;
/** Points at which a band is taken onto the grid. */
const POINTS = 80;

/** Bands on each grid, each worked out once: a study has few. */
const bands = new WeakMap<Grid, Map<string, Float64Array>>();

/**
 * A band in which good hardware lies, even as far as is known, and falling off beside it. What lies
 * beyond the grid is at its last place; what lies below it, where no rig was seen, is left out.
 *
 * @param ceiling what nothing exceeds, MB/s
 */
export function bandOn(
  grid: Grid,
  band: { low: number; high: number },
  ceiling: number,
  below = BELOW,
): Float64Array {
  const known = bands.get(grid) ?? new Map<string, Float64Array>();
  bands.set(grid, known);
  const key = [band.low, band.high, ceiling, below].join(" ");
  const found = known.get(key) ?? placed(grid, band, ceiling, below);
  known.set(key, found);
  return found;
}

/**
 * What times per request foresee, taken onto the grid: the farther from it the less likely.
 *
 * @param mbps what is foreseen, MB/s
 * @param above how far above it good hardware may lie, as a difference of logarithms
 * @param below how far below
 * @param shown what other rigs show to be reached of it, as a share; the rest below that is unlikely
 */
export function foreseenOn(
  grid: Grid,
  mbps: number,
  above: number,
  below: number,
  shown = 0,
): Float64Array {
  const known = bands.get(grid) ?? new Map<string, Float64Array>();
  bands.set(grid, known);
  const key = ["foreseen", mbps, above, below, shown].join(" ");
  let found = known.get(key);
  if (!found) known.set(key, (found = spreadOut(grid, mbps, above, below, shown)));
  return found;
}

function spreadOut(
  grid: Grid,
  mbps: number,
  above: number,
  below: number,
  shown: number,
): Float64Array {
  const values = Float64Array.from(grid.rates, (rate) => {
    const off = Math.log(rate / mbps) / (rate > mbps ? above : below);
    const less = rate < shown * mbps ? Math.log((shown * mbps) / rate) / APART : 0;
    return Number.isFinite(off) ? Math.exp(-0.5 * (off * off + less * less)) : 0;
  });
  const total = values.reduce((sum, value) => sum + value, 0);
  return values.map((value) => value / total);
}

function placed(
  grid: Grid,
  { low, high }: { low: number; high: number },
  ceiling: number,
  below: number,
): Float64Array {
  const [from, to] = [Math.log(low) - below, Math.log(Math.max(ceiling, high))];
  const density = new Float64Array(grid.rates.length);
  const last = density.length - 1;
  const top = grid.logs.at(-1)! + grid.step / 2;
  const bottom = grid.logs[0]! - grid.step / 2;
  let total = 0;
  for (let k = 0; k < POINTS; k++) {
    const log = from + ((k + 0.5) * (to - from)) / POINTS;
    const rate = Math.exp(log);
    const weight = rate < low ? 0.4 * (1 - (Math.log(low) - log) / below) : rate <= high ? 1 : 0.3;
    total += weight;
    if (log > bottom) density[log > top ? last : placeOf(grid, rate)]! += weight;
  }
  return density.map((value) => value / total);
}
