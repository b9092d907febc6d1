import { letterOf } from "../answer/study";
import type { Part } from "../chain/part";
import type { Rig } from "../chain/rig";
import { titleOf } from "../drills/drill";
import { isOf, observationsOf, type Measurement, type Observation } from "../study/measurement";
import type { Study } from "../study/study";
import { DOING } from "../units/rate";

/** One study with everything in it that a part stands in. */
export interface InStudy {
  study: Pick<Study, "title" | "tolerance">;
  rigs: Rig[];
  /** The latest first. */
  measurements: Measurement[];
}

/** Something that was seen of a rig with the part in it, and in which study. */
export interface Seen {
  of: InStudy;
  letter: string;
  seen: Observation;
  /** The day of its latest run, ISO 8601. */
  at: string;
}

/** Whether a part stands anywhere in a rig. */
export const holds = ({ parts, beside, other }: Rig, { id }: Part) =>
  [...parts, ...beside, ...other].some((one) => one.id === id);

/** What was seen of a study's rigs that have a part in them, the latest first. */
export function seenIn(of: InStudy, part: Part): Seen[] {
  const times = new Map(of.measurements.map(({ id, createdAt }) => [id, createdAt]));
  return observationsOf(of.measurements).flatMap((seen) => {
    const index = of.rigs.findIndex((rig) => isOf(seen, rig));
    if (index < 0 || !holds(seen.rig, part)) return [];
    const at =
      seen.measurementIds
        .map((id) => times.get(id) ?? "")
        .toSorted()
        .at(-1) ?? "";
    return [{ of, seen, at, letter: letterOf(index) }];
  });
}

/** What was seen with a part in it, of all studies: of real parts where there is any, else simulated. */
export function seenWith(part: Part, studies: readonly InStudy[]): Seen[] {
  const all = studies.flatMap((of) => seenIn(of, part));
  const real = all.filter(({ seen }) => seen.origin !== "simulated");
  return real.length > 0 ? real : all;
}

/** What was done, in words: "Haul, reading". */
export const drillWords = ({ drill }: Observation) =>
  `${titleOf(drill)}, ${drill.direction === "mixed" ? "both ways" : DOING[drill.direction]}`;
