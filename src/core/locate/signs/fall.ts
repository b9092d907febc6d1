import { median } from "simple-statistics";
import { IN_MB } from "../../units/number";
import { formatSize } from "../../units/size";
import type { Observation } from "../seen";
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
export const LONGEST = "long-fill";

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
  if (!said?.course) return [];
  const { seen, course } = said;
  return [
    signature(FALLS[direction], one.rig, course.falls, {
      text: `${one.rig.name || "The rig"} ${course.text}.`,
      measurementIds: seen.measurementIds,
    }),
  ];
}

const isLong = ({ drill }: Observation) => drill.name === LONGEST;

/** Whether most runs of what was seen fall, in words; null where nobody looked. */
function courseOf({ results = [] }: Observation): { falls: boolean; text: string } | null {
  const steps = results.flatMap(({ steps: [first] }) => first ?? []);
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
