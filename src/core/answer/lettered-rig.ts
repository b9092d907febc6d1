import type { Rig } from "../chain/rig";
import type { Basis, Conclusions } from "../conclude/conclusions";
import type { DrillKind } from "../drills/kind";
import { findingOf, type Finding } from "../locate/findings/finding";
import type { Standing } from "../locate/findings/standing";
import { usualDrill } from "../drills/shape";
import type { MachineCheck } from "../machine/check";
import { machineShown, type MachineShown } from "../machine/machine-stage";
import { conditionsDiffer } from "../study/condition-rows";
import type { Observation } from "../study/measurement";
import type { Direction } from "../units/rate";

/** A rig of a study with its letter and what was seen through it in the direction asked for. */
export interface LetteredRig {
  letter: string;
  rig: Rig;
  observation: Observation | null;
  /** What that says of the rig. */
  finding: Finding | null;
  /** What all runs together say of it; null where that was not worked out. */
  standing: Standing | null;
  /** What its host was shown to carry by the same requests; null where it was not checked. */
  machine: MachineShown | null;
}

/** One that was measured, and whose links come up. */
export type MeasuredRig = LetteredRig & { observation: Observation; finding: Finding };

export const isMeasured = (one: LetteredRig): one is MeasuredRig =>
  one.observation !== null && one.finding !== null;

/** The letter of the nth rig: A, B, ... Z, AA, AB, ... */
export function letterOf(index: number): string {
  const last = String.fromCharCode(65 + (index % 26));
  return index < 26 ? last : letterOf(Math.floor(index / 26) - 1) + last;
}

/**
 * The rigs of a study with what each is known by in one drill and direction, and what that says of it by
 * itself: what all runs together say is left open.
 */
export function letteredRigs(
  {
    rigs,
    knownIn,
    basis,
  }: Pick<Conclusions, "rigs" | "knownIn"> & { basis: Pick<Basis, "checks"> },
  drill: DrillKind,
  direction: Direction,
): LetteredRig[] {
  const small = drill.shows.includes("iops");
  const known = knownIn(drill.name, direction);
  const first = rigs.findIndex(({ id }) => known.has(id));
  return rigs.map((rig, index): LetteredRig => {
    const observation = known.get(rig.id) ?? null;
    return {
      letter: letterOf(index),
      rig,
      standing: null,
      machine: machineOf(rig, observation, drill, direction, basis.checks ?? []),
      observation:
        observation && withDifferences(observation, known.get(rigs[first]!.id)!, letterOf(first)),
      finding: observation && findingOf(rig, direction, observation.repeats, small),
    };
  });
}

/** What a rig's host was shown to carry, by the requests that were sent, or that the drill usually sends. */
function machineOf(
  rig: Rig,
  observation: Observation | null,
  kind: DrillKind,
  direction: Direction,
  checks: readonly MachineCheck[],
): MachineShown | null {
  // Nothing that was made up went through a machine; and recorded work, or a drill of both ways, has no usual requests.
  if (checks.length === 0 || observation?.origin === "simulated") return null;
  if (!observation && (kind.recorded || !kind.directions.includes(direction))) return null;
  const drill = observation?.drill ?? usualDrill(kind.name, direction);
  return machineShown(checks, rig, drill, observation?.repeats.median ?? null);
}

/** Warns where a rig was measured under other conditions than the first one. */
function withDifferences(seen: Observation, first: Observation, letter: string): Observation {
  const differs = conditionsDiffer(seen.circumstances, first.circumstances);
  if (differs.length === 0) return seen;
  const words = differs.map(({ what, a, b }) => `${what} ${a}, there ${b}`).join("; ");
  return { ...seen, cautions: [...seen.cautions, `other conditions than ${letter}: ${words}`] };
}
