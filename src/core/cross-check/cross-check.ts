import * as z from "zod";
import { BENT } from "../stats/ladder";
import { rateWhenAsked, type PathRates } from "./path-rates";
import { StatedFigure } from "./stated-figure";

/** What a program shows, held against what the rig gives where it is asked in that way. */
export const CheckedFigure = StatedFigure.extend({
  /** MB/s by the rig's ladders; null where they do not tell. */
  expectedMBps: z.number().positive().nullable(),
  /** By which share it is more than that, less below 0. */
  off: z.number().nullable(),
  verdict: z.enum(["as asked", "more", "less", "open"]),
});
export type CheckedFigure = z.infer<typeof CheckedFigure>;

/** Figures of several programs of one rig, in one direction. */
export const CrossCheck = z.object({
  figures: CheckedFigure.array(),
  /**
   * What makes the slowest and the fastest differ most of those that show what the path gives; null where they
   * hardly do.
   */
  differs: z
    .object({
      slow: z.string(),
      setting: z.enum(["block", "depth", "isRandom"]),
      /** How the faster one asks. */
      of: StatedFigure.pick({ block: true, depth: true, isRandom: true }),
      /** What the slower one would show with that setting of the faster one, MB/s. */
      wouldMBps: z.number(),
    })
    .nullable(),
  /** A figure counts as what the path gives within this share of it. */
  within: z.number(),
});
export type CrossCheck = z.infer<typeof CrossCheck>;

/** Holds what programs show against what the ladders of a rig come to for how each asks. */
export function crossCheck(path: PathRates, stated: readonly StatedFigure[]): CrossCheck {
  const within = Math.max(BENT, path.worst);
  const figures = stated.map((figure): CheckedFigure => {
    const expectedMBps = rateWhenAsked(path, figure);
    if (expectedMBps === null) return { ...figure, expectedMBps, off: null, verdict: "open" };
    const off = figure.mbps / expectedMBps - 1;
    const verdict = Math.abs(off) <= within ? "as asked" : off > 0 ? "more" : "less";
    return { ...figure, expectedMBps, off, verdict };
  });
  return { figures, differs: whatDiffers(path, figures, within), within };
}

/** Of the slowest and the fastest by the ladders, the setting that brings the slower one furthest up. */
function whatDiffers(
  path: PathRates,
  figures: readonly CheckedFigure[],
  within: number,
): CrossCheck["differs"] {
  const known = figures.flatMap((one) =>
    one.verdict === "as asked" ? [{ ...one, expectedMBps: one.expectedMBps! }] : [],
  );
  const [slow, ...others] = known.toSorted((a, b) => a.expectedMBps - b.expectedMBps);
  const fast = others.at(-1);
  if (!slow || !fast || fast.expectedMBps <= slow.expectedMBps * (1 + within)) return null;
  const settings = (["block", "depth", "isRandom"] as const).filter(
    (setting) => slow[setting] !== fast[setting],
  );
  const [most] = settings
    .map((setting) => ({
      setting,
      wouldMBps: rateWhenAsked(path, { ...slow, [setting]: fast[setting] }) ?? 0,
    }))
    .toSorted((a, b) => b.wouldMBps - a.wouldMBps);
  return most && most.wouldMBps > slow.expectedMBps * (1 + within)
    ? {
        slow: slow.name,
        of: { block: fast.block, depth: fast.depth, isRandom: fast.isRandom },
        ...most,
      }
    : null;
}
