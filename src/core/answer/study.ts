import { judgedClaims } from "../chain/claim";
import type { Segment } from "../chain/wording";
import type { Conclusions } from "../conclude/conclusions";
import { DRILLS, findDrill, USUAL_DRILL } from "../drills/catalogue";
import type { DrillKind } from "../drills/kind";
import type { Judged } from "../judge/judged";
import type { Verdict } from "../judge/verdict";
import { heldAgainst } from "../locate/findings/finding";
import { counts, type BriefMeasurement } from "../study/measurement";
import { IN_MB, type RateWords } from "../units/number";
import type { Direction } from "../units/rate";
import { groupByCause, type CauseGroup } from "./cause-group";
import { headlineOf } from "./headline";
import { letteredRigs, type LetteredRig } from "./lettered-rig";
import { groupStep, nextStep, type NextStep } from "./next-step";
import { certaintyBeside, groupTitle, tellGroup } from "./tell-group";

/** Everything the answer page shows for one drill in one direction. */
export interface StudyAnswer {
  direction: Direction;
  /** Which drill it answers for, by name. */
  drill: string;
  rigs: LetteredRig[];
  /** The same rigs by what their rates come from, the worst first. */
  groups: readonly CauseGroup[];
  /** One sentence or a few: the worst finding, or that all is as designed. */
  headline: Segment[][];
  /** What each finding is, with its certainty and its next step, in the order of the groups. */
  told: readonly ToldGroup[];
  /** The one step that would settle most; null where nothing is open. */
  next: NextStep | null;
  verdicts: Verdict[];
}

/** What is said of one group. */
export interface ToldGroup {
  /** Its heading: "Cable K7 holds its link to 5 Gb/s". */
  title: string;
  /** "very likely, 93 %"; null where nothing is uncertain. */
  certainty: string | null;
  /** The whole finding in one sentence. */
  sentence: Segment[];
  next: NextStep | null;
}

/**
 * The drills that were done in a study in one direction, in the order in which drills are listed.
 *
 * @param measurements of the study
 */
export const drillsDone = (
  measurements: readonly BriefMeasurement[],
  direction: Direction,
): DrillKind[] =>
  DRILLS.filter(({ name }) =>
    measurements.some(
      ({ drill, runs }) =>
        drill.name === name && drill.direction === direction && runs.some(counts),
    ),
  );

/** Of more slow rigs than can be weighed together, so many are looked at: those that lose most. */
const MOST_STANDING = 1;

/** How an answer is asked for. */
export interface Wanted {
  /** The drill that is asked for; null: the first of the list that was done. */
  drill?: string | null;
  /** How rates are written in its sentences. */
  rates?: RateWords;
  /** Whether what to do next is worked out too, which takes most of the time; it is, if left out. */
  steps?: boolean;
}

/**
 * Answers a study: gathers what each rig showed in one drill, with what all runs together say of it, and
 * says what limits each rig and whether the enclosures deliver.
 *
 * @param conclusions of the study
 */
export function answerFor(
  conclusions: Conclusions,
  direction: Direction,
  { drill = null, rates = IN_MB, steps = true }: Wanted = {},
): StudyAnswer {
  const { measurements } = conclusions;
  const asked =
    (drill === null ? drillsDone(measurements, direction)[0] : findDrill(drill)) ?? USUAL_DRILL;
  const alone = letteredRigs(conclusions, asked, direction);
  const lettered = stood(alone, asked.name, direction, conclusions);
  const small = asked.shows.includes("iops");
  const groups = groupByCause(lettered, { direction, small });
  const telling = { direction, rates, small, rigs: lettered };
  const judged = conclusions.judged(rates);
  const unsettled = { rigs: lettered, groups, drill: asked.name, direction, conclusions, judged };
  return {
    direction,
    drill: asked.name,
    rigs: lettered,
    groups,
    headline: headlineOf(groups, telling),
    told: groups.map((group) => ({
      title: groupTitle(group, telling),
      certainty: certaintyBeside(group),
      sentence: tellGroup(group, telling),
      next: steps ? groupStep(group, unsettled) : null,
    })),
    next: steps ? nextStep(unsettled) : null,
    verdicts: enclosuresIn(judged, direction),
  };
}

/** The same rigs with what all runs together say of them; of very many, of those that lose most. */
function stood(
  alone: readonly LetteredRig[],
  drill: string,
  direction: Direction,
  { knownIn, standingOf, areFew }: Conclusions,
): LetteredRig[] {
  const known = knownIn(drill, direction);
  const few = areFew(drill, direction);
  const slow = alone
    .filter(({ finding }) => finding?.kind === "below")
    .toSorted((a, b) => a.finding!.efficiency - b.finding!.efficiency)
    .slice(0, MOST_STANDING);
  return alone.map((one): LetteredRig => {
    const observation = known.get(one.rig.id);
    const standing = observation && (few || slow.includes(one)) ? standingOf(observation) : null;
    const { rig, finding } = one;
    return {
      ...one,
      standing,
      finding: finding && heldAgainst(finding, rig, direction, observation!.repeats, standing),
    };
  });
}

/** The claims of the enclosures in one direction: what an answer tells of. */
const enclosuresIn = (judged: readonly Judged[], direction: Direction): Verdict[] =>
  judged
    .filter(({ part }) => part.kind === "enclosure")
    .flatMap((one) =>
      judgedClaims([one.claim], direction).map((claim) => ({
        ...one,
        claim,
        reasons: [...one.reasons, ...one.impossible],
      })),
    );
