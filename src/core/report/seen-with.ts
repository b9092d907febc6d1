import { letterOf } from "../answer/lettered-rig";
import type { Part } from "../chain/part";
import type { Rig } from "../chain/rig";
import { conclude, type Basis, type Conclusions } from "../conclude/conclusions";
import type { Drop } from "../judge/bursts";
import { titleOf } from "../drills/drill";
import type { BriefMeasurement, Observation } from "../study/measurement";
import type { Study } from "../study/study";
import { DOING } from "../units/rate";

/** One study with everything in it that a part stands in. */
export interface FiledWith extends Pick<
  Basis,
  "shelf" | "opinion" | "hosts" | "networks" | "checks"
> {
  study: Pick<Study, "title" | "tolerance">;
  rigs: Rig[];
  /** The latest first. */
  measurements: BriefMeasurement[];
  /** What slowed long runs down, by their measurements. */
  drops?: Readonly<Record<string, Drop | null>>;
}

/** The same with what follows from its runs. */
export interface InStudy extends FiledWith {
  conclusions: Conclusions;
}

/** Draws the conclusions of a study in which a part stands. */
export function inStudy(filed: FiledWith): InStudy {
  const { study, drops = {}, ...rest } = filed;
  const dropIn = ([id]: readonly string[]) => drops[id ?? ""] ?? null;
  return { ...filed, conclusions: conclude({ ...rest, tolerance: study.tolerance, dropIn }) };
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
  const index = new Map(of.rigs.map(({ id }, i) => [id, i]));
  return of.conclusions.seen.flatMap((seen) => {
    if (!holds(seen.rig, part)) return [];
    const at =
      seen.measurementIds
        .map((id) => times.get(id) ?? "")
        .toSorted()
        .at(-1) ?? "";
    return [{ of, seen, at, letter: letterOf(index.get(seen.rig.id)!) }];
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
