import { inClaimsWords, judgedClaims, SMALL_REQUEST, type JudgedClaim } from "../chain/claim";
import type { Part } from "../chain/part";
import type { Rig } from "../chain/rig";
import { kindOf } from "../drills/drill";
import type { Shows } from "../drills/kind";
import { shapeOf } from "../drills/shape";
import { gatherEvidence, type Evidence } from "../locate/evidence";
import { findingOf } from "../locate/finding";
import { summarise } from "../stats/repeats";
import { observe, type Observation } from "../study/measurement";
import { IN_MB, type RateWords } from "../units/number";
import { DOING, type Direction } from "../units/rate";
import { judgeClaim, type Trial, type Verdict } from "./verdict";

/** What claims are held against: a study's rigs and what was seen through them. */
export interface Trials {
  rigs: readonly Rig[];
  /** Of real parts where there are any, else simulated ones. */
  observations: readonly Observation[];
  tolerance: number;
  rates?: RateWords;
}

/**
 * The claims of throughput and requests of some parts in one direction, each held against the drills
 * that can show it. A peak that a long run does not hold is kept in bursts only.
 *
 * @param parts whose claims are judged
 */
export function judgeClaims(
  parts: readonly Part[],
  { rigs, observations, tolerance, rates = IN_MB }: Trials,
  direction: Direction,
): Verdict[] {
  const trials = {
    peak: trialsOf(rigs, observations, direction, "peak"),
    sustained: trialsOf(rigs, observations, direction, "sustained"),
    iops: trialsOf(rigs, observations, direction, "iops"),
  };
  return parts.flatMap((part) => {
    const block = trials.iops.trials.find(({ observed }) => observed)?.block;
    return judgedClaims(part.claims, direction, block).map((claim) => {
      const own = trials[claim.kind];
      // A burst that stays below a claim of sustained speed says as much as a long run would.
      const shown = own.trials.some(({ observed }) => observed);
      const { trials: held, evidence } = shown || claim.kind !== "sustained" ? own : trials.peak;
      const verdict = judgeClaim(part, claim, held, evidence, tolerance, rates);
      const bursts =
        claim.kind === "peak" && verdict.kind === "Delivers"
          ? inBurstsOnly(part, claim, trials.sustained.trials, tolerance, rates)
          : null;
      return bursts
        ? { ...verdict, kind: "Delivers in bursts only", reasons: [...verdict.reasons, bursts] }
        : verdict;
    });
  });
}

/**
 * Why a peak that is delivered holds in bursts only: in no rig with the part in it did a long run stay
 * at the claim, less the tolerance.
 */
function inBurstsOnly(
  part: Part,
  claim: JudgedClaim,
  long: readonly Trial[],
  tolerance: number,
  rates: RateWords,
): string | null {
  const floor = claim.mbps * (1 - tolerance);
  const seen = long
    .filter(({ rig, observed, doubtful }) => observed?.interval && !doubtful && stands(part, rig))
    .toSorted((a, b) => b.observed!.median - a.observed!.median);
  const [best] = seen;
  if (!best || best.observed!.interval!.high >= floor) return null;
  return `Over a long run it sustained ${inClaimsWords(claim, best.observed!.median, undefined, rates)} ${DOING[claim.direction]} in ${best.rig.name} at most: the claim is kept in bursts only.`;
}

const stands = (part: Part, { parts, beside, other }: Rig) =>
  [...parts, ...beside, ...other].some(({ id }) => id === part.id);

/** What was seen of each rig by the drills that show one kind of claim. */
function trialsOf(
  rigs: readonly Rig[],
  all: readonly Observation[],
  direction: Direction,
  shows: Shows,
): { trials: Trial[]; evidence: Evidence } {
  const seen = all
    .filter(({ drill }) => kindOf(drill).shows.includes(shows))
    .map((one) => ({ ...one, repeats: shows === "sustained" ? sustainedOf(one) : one.repeats }));
  const evidence = gatherEvidence(seen);
  const trials = rigs.map((rig): Trial => {
    const observation = observe(seen, rig, direction);
    return {
      rig,
      observed: observation?.repeats ?? null,
      finding:
        observation && findingOf(rig, direction, observation.repeats, evidence, shows === "iops"),
      doubtful: observation?.doubtful ?? false,
      sustained: shows === "sustained",
      block: (observation && shapeOf(observation.drill)?.block) ?? SMALL_REQUEST,
      ...(observation ? { origin: observation.origin } : {}),
    };
  });
  return { trials, evidence };
}

/** Repeats of what was left of the rate after its last change of level. */
const sustainedOf = ({ results, repeats }: Observation) =>
  summarise(results.map((result, i) => result.steps[0]?.sustainedMBps ?? repeats.values[i]!));
