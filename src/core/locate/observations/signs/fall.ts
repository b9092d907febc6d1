import { drillShowing } from "../../../drills/catalogue";
import { median } from "simple-statistics";
import { kindOf } from "../../../drills/drill";
import { IN_MB } from "../../../units/number";
import { formatSize } from "../../../units/size";
import type { Observation } from "../observation";
import { causeKey, signature, type Sign, type Signature } from "./sign";

/** What is fast at first, and then is not, while writing: a cache that is full. */
const WRITING: Record<string, number> = {
  "drive own-limit": 0.5,
  "drive fault": 0.15,
  temperature: 0.6,
  fill: 0.4,
};
/** No cache of a drive makes reading fall: heat does. */
const READING: Record<string, number> = {
  "drive own-limit": 0.12,
  "enclosure own-limit": 0.15,
  "drive fault": 0.2,
  temperature: 0.7,
};

/** That a run was clearly faster before a lasting drop than after it. */
export const FALLS: Record<"read" | "write", Sign> = {
  read: { chance: (site, kind) => READING[causeKey(site, kind)] ?? null, otherwise: 0.06 },
  write: { chance: (site, kind) => WRITING[causeKey(site, kind)] ?? null, otherwise: 0.06 },
};

/** Clearly faster at first. */
const CLEARLY = 1.25;

/** Writes until there is no room: what no cache of any size hides from. */
export const LONGEST = drillShowing("sustained").name;

/**
 * What the course of a slow rig's own runs says, and of its long fill. Of a short run only a fall says
 * something: it may have ended too soon, or have begun after it.
 *
 * @param beside other drills of the same set-up
 */
export function fall(one: Observation, beside: readonly Observation[]): Signature[] {
  const { direction } = one.drill;
  if (direction === "mixed") return [];
  const fills = beside.filter(({ drill }) => drill.name === LONGEST && drill !== one.drill);
  const writing = direction === "write" ? fills : [];
  const runs = [one, ...writing].map((seen) => ({ seen, course: courseOf(seen) }));
  const said = runs.find(({ course }) => course?.falls) ?? runs.find(({ seen }) => isLong(seen));
  // Where nobody looked at its course, what the same set-up gave for a while stands for its beginning.
  const course = said?.course ?? (isLong(one) ? againstShort(one, beside) : null);
  if (!course) return [];
  return [
    signature(FALLS[direction], one.rig, course.falls, {
      text: `${one.rig.name || "The rig"} ${course.text}.`,
      measurementIds: course.measurementIds ?? said!.seen.measurementIds,
    }),
  ];
}

/** How a run went, in words. */
interface Course {
  falls: boolean;
  text: string;
  /** The runs that show it, where they are others than its own. */
  measurementIds?: readonly string[];
}

/** A long run against the best of the short ones of its set-up; null where there are none. */
function againstShort(
  { drill, repeats: { median: long }, measurementIds }: Observation,
  beside: readonly Observation[],
): Course | null {
  const [best] = beside
    .filter((one) => kindOf(one.drill).shows.includes("peak"))
    .filter((one) => one.drill.direction === drill.direction)
    .toSorted((a, b) => b.repeats.median - a.repeats.median);
  if (!best) return null;
  const short = best.repeats.median;
  const falls = short > long * CLEARLY;
  return {
    falls,
    text: falls
      ? `gives ${IN_MB.said(short)} in a short run and ${IN_MB.said(long)} over a long one`
      : `gives about as much over a long run as in a short one (${IN_MB.said(short)})`,
    measurementIds: [...measurementIds, ...best.measurementIds],
  };
}

const isLong = ({ drill }: Observation) => drill.name === LONGEST;

/** Whether most runs of what was seen fall, in words; null where nobody looked. */
function courseOf({ results = [] }: Observation): Course | null {
  const steps = results.flatMap(({ first }) => first ?? []);
  if (steps.length === 0) return null;
  const falling = steps.filter(
    ({ edgeBytes, burstMBps, sustainedMBps }) =>
      edgeBytes !== null && burstMBps > sustainedMBps * CLEARLY,
  );
  if (falling.length <= steps.length / 2) {
    // Of what was written down nobody saw the course.
    const watched = steps.some(({ interrupted }) => interrupted !== undefined);
    return watched ? { falls: false, text: "keeps its rate through a long fill" } : null;
  }
  const mid = (of: (step: (typeof steps)[number]) => number) => median(falling.map(of));
  const [from, to] = [mid((step) => step.burstMBps), mid((step) => step.sustainedMBps)];
  const after = formatSize(
    mid((step) => step.edgeBytes!),
    1000,
  );
  return {
    falls: true,
    text: `begins at ${IN_MB.said(from)} and falls to ${IN_MB.said(to)} after ${after}`,
  };
}
