import { formatPercent } from "../units/number";

/** The time of one request by its size. */
export interface BlockFit {
  by: "block";
  overheadUs: number;
  asymptoteMBps: number;
  halfRateBytes: number;
  /** Largest deviation of a step from the fit, as a share. */
  worst: number;
}

/** Requests a second by how many are in flight. */
export interface DepthFit {
  by: "depth";
  singleIops: number;
  plateauIops: number;
  kneeDepth: number;
  rises: boolean;
}

/** A step of a ladder by block size. */
export interface BlockPoint {
  /** Bytes of one request. */
  block: number;
  /** Finished requests a second. */
  iops: number;
}

/**
 * Fits the time of one request to its size, t = t0 + b/R, by least squares of the relative error:
 * overhead t0, asymptotic rate R and half-rate size t0 R (docs/model.md, 3).
 *
 * @param points of single requests, one after another
 * @returns null where fewer than two steps finished anything, or larger requests took no longer
 */
export function fitByBlock(points: readonly BlockPoint[]): BlockFit | null {
  const used = points
    .filter(({ iops }) => iops > 0)
    .map(({ block, iops }) => ({ b: block, t: 1 / iops }));
  if (new Set(used.map(({ b }) => b)).size < 2) return null;
  // With weights 1/t^2 each step's deviation counts as a share of its own time.
  let [s, sb, sbb, st, sbt] = [0, 0, 0, 0, 0];
  for (const { b, t } of used) {
    const w = 1 / (t * t);
    s += w;
    sb += w * b;
    sbb += w * b * b;
    st += w * t;
    sbt += w * b * t;
  }
  let slope = (s * sbt - sb * st) / (s * sbb - sb * sb);
  let overhead = (st - slope * sb) / s;
  if (overhead < 0) {
    overhead = 0;
    slope = sbt / sbb;
  }
  if (!(slope > 0)) return null;
  const worst = Math.max(...used.map(({ b, t }) => Math.abs((overhead + slope * b) / t - 1)));
  return {
    by: "block",
    overheadUs: overhead * 1e6,
    asymptoteMBps: 1 / slope / 1e6,
    halfRateBytes: overhead / slope,
    worst,
  };
}

/** A step of a ladder by queue depth. */
export interface DepthPoint {
  depth: number;
  iops: number;
}

/** Steps within a tenth of the best are the plateau. */
const PLATEAU = 0.9;
/** A path that works on one request at a time still wins a little by having the next one ready. */
const NO_RISE = 1.15;

/**
 * Reads a ladder by depth: what one request at a time reaches, the plateau, the depth at which a
 * path that served each request as fast as a single one would meet it, and whether there is a rise
 * at all.
 *
 * @returns null where no step finished anything
 */
export function fitByDepth(points: readonly DepthPoint[]): DepthFit | null {
  const used = points.filter(({ iops }) => iops > 0).toSorted((a, b) => a.depth - b.depth);
  const [shallow] = used;
  if (!shallow) return null;
  const best = Math.max(...used.map(({ iops }) => iops));
  const high = used.filter(({ iops }) => iops >= best * PLATEAU);
  const plateau = high.reduce((sum, { iops }) => sum + iops, 0) / high.length;
  const single = shallow.iops / shallow.depth;
  return {
    by: "depth",
    singleIops: single,
    plateauIops: plateau,
    kneeDepth: Math.max(1, plateau / single),
    rises: plateau > shallow.iops * NO_RISE,
  };
}

/** Requests a second at a depth, if each were served as fast as a single one up to the plateau. */
export const iopsAtDepth = ({ singleIops, plateauIops }: DepthFit, depth: number): number =>
  Math.min(singleIops * depth, plateauIops);

/** A ladder by depth is called bent where a step lies further than this from its two lines. */
export const BENT = 0.1;

/**
 * The step of a ladder by depth that its fit misses most.
 *
 * @returns by which share of the fit it lies off it; null where none does by more than a tenth
 */
export function misfitByDepth(
  fit: DepthFit,
  points: readonly DepthPoint[],
): { depth: number; share: number } | null {
  const off = points.map(({ depth, iops }) => ({
    depth,
    share: iops / iopsAtDepth(fit, depth) - 1,
  }));
  const [worst] = off.toSorted((a, b) => Math.abs(b.share) - Math.abs(a.share));
  return worst && Math.abs(worst.share) > BENT ? worst : null;
}

/** The same in words, to follow what is said of the fit; empty where it fits. */
export function sayMisfit(fit: DepthFit, points: readonly DepthPoint[]): string {
  const worst = fit.rises ? misfitByDepth(fit, points) : null;
  if (!worst) return "";
  const less = worst.share < 0;
  return ` With ${worst.depth} in flight it gives ${formatPercent(Math.abs(worst.share))} ${less ? "less" : "more"} than that${less ? ": requests that wait together slow each other" : ""}.`;
}
