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
 * Fits what several drives move together (docs/model.md, 3), by least squares of the relative error, over
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
      drive,
      uplink,
      full: uplink === null ? null : uplink / drive,
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

/** What is left out after each drive that joins, milliseconds: until it flows evenly. */
const SETTLE_MS = 300;

/**
 * What several drives moved together while one, two, ... of them were at work.
 *
 * @param targets when each began, milliseconds after the first
 * @param samples of all of them, in order of time
 */
export function fanInPoints(
  targets: readonly { startedMs: number }[],
  samples: readonly { from: number; ms: number; bytes: number }[],
): FanInPoint[] {
  const [first] = samples;
  if (!first) return [];
  const begins = targets.map(({ startedMs }) => first.from + startedMs).sort((a, b) => a - b);
  const end = samples.at(-1)!.ms;
  return begins.flatMap((begin, i): FanInPoint[] => {
    const [from, to] = [begin + SETTLE_MS, begins[i + 1] ?? end];
    if (to - from < SETTLE_MS) return [];
    let bytes = 0;
    for (const sample of samples) {
      const inside = Math.min(sample.ms, to) - Math.max(sample.from, from);
      if (inside > 0) bytes += (sample.bytes * inside) / (sample.ms - sample.from);
    }
    return [{ drives: i + 1, total: bytes / 1e3 / (to - from) }];
  });
}
