/** What each drive does by itself, and what it did behind one enclosure; MB/s. */
export interface NativePoint {
  native: number;
  observed: number;
}

/** The plateau that an enclosure shows over several drives. */
export interface CeilingFit {
  /** MB/s; null where no drive was fast enough to show one. */
  ceiling: number | null;
  /** Interval of it; no upper end where only its floor is known. */
  low: number;
  high: number | null;
  /** How far a point lies from the fit, as a share, at most. */
  worst: number;
}

/** Half the chi-squared of one degree of freedom at 95 %: the profile of the likelihood may fall so far. */
const PROFILE = 1.92;
const STEPS = 800;

/**
 * Fits observed = min(native, C) to several drives in one enclosure (docs/model.md, 3): the C with the
 * smallest squares of the logarithms' distances, with the interval in which the likelihood falls by no
 * more than 1.92 (profile likelihood, 95 %).
 *
 * @param noise spread of a rate, as a share; not less than 1 %
 * @returns null for fewer than two points
 */
export function fitCeiling(points: readonly NativePoint[], noise: number): CeilingFit | null {
  const used = points.filter(({ native, observed }) => native > 0 && observed > 0);
  if (used.length < 2) return null;
  const sigma = Math.max(noise, 0.01);
  const top = Math.max(...used.map(({ native, observed }) => Math.max(native, observed))) * 1.5;
  const bottom = Math.min(...used.map(({ observed }) => observed)) / 1.5;
  const off = (c: number) =>
    used.map(({ native, observed }) => Math.log(observed / Math.min(native, c)) / sigma);
  const cost = (c: number) => off(c).reduce((sum, z) => sum + z * z, 0) / 2;
  const tried = Array.from({ length: STEPS + 1 }, (_, i) => {
    const c = bottom * (top / bottom) ** (i / STEPS);
    return { c, cost: cost(c) };
  });
  const least = Math.min(...tried.map((one) => one.cost));
  const within = tried.filter((one) => one.cost <= least + PROFILE);
  const best = tried.find((one) => one.cost === least)!;
  // Where a higher and higher ceiling is as likely, none was shown.
  const open = within.at(-1)!.c === tried.at(-1)!.c;
  return {
    ceiling: open ? null : best.c,
    low: within[0]!.c,
    high: open ? null : within.at(-1)!.c,
    worst: Math.max(...off(open ? Infinity : best.c).map((z) => Math.abs(Math.expm1(z * sigma)))),
  };
}
