/** What several drives moved together, MB/s, while so many were at work. */
export interface FanInPoint {
  drives: number;
  total: number;
}

/** Several drives behind one uplink: total(n) = min(n d, U). */
export interface FanInFit {
  /** What one drive takes while there is room, MB/s. */
  drive: number;
  /** What the uplink they share carries, MB/s; null where it was never full. */
  uplink: number | null;
  /** With how many drives it is full; null where it never was. */
  full: number | null;
  /** How far a point lies from the fit, as a share, at most. */
  worst: number;
}

/** An uplink has to stand out so far from what the drives would take without it. */
const CLEAR = 0.05;

/**
 * Fits what several drives move together (model.md 3), by least squares of the relative error, over
 * every number of drives from which the uplink could be full.
 *
 * @returns null for fewer than two numbers of drives
 */
export function fitFanIn(points: readonly FanInPoint[]): FanInFit | null {
  const used = points.filter(({ drives, total }) => drives > 0 && total > 0);
  const counts = [...new Set(used.map(({ drives }) => drives))].sort((a, b) => a - b);
  if (counts.length < 2) return null;
  const mean = (values: number[]) => values.reduce((sum, value) => sum + value, 0) / values.length;
  const fits = [...counts.slice(1), Infinity].map((full): FanInFit & { cost: number } => {
    const free = used.filter(({ drives }) => drives < full);
    const held = used.filter(({ drives }) => drives >= full);
    const drive = mean(free.map(({ drives, total }) => total / drives));
    const uplink = held.length > 0 ? mean(held.map(({ total }) => total)) : null;
    const off = used.map(
      ({ drives, total }) => total / Math.min(drives * drive, uplink ?? Infinity) - 1,
    );
    return {
      ...{ drive, uplink, full: uplink === null ? null : uplink / drive },
      worst: Math.max(...off.map(Math.abs)),
      cost: off.reduce((sum, share) => sum + share * share, 0),
    };
  });
  const straight = fits.at(-1)!;
  const most = Math.max(...counts);
  // An uplink that only the noise shows is none.
  const bent = fits.filter(
    ({ uplink, drive }) => uplink !== null && uplink < most * drive * (1 - CLEAR),
  );
  const { cost: _, ...best } = [...bent, straight].reduce((a, b) => (b.cost < a.cost ? b : a));
  return best;
}
