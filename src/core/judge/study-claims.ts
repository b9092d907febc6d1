import { judgedClaims, SMALL_REQUEST } from "../chain/claim";
import type { Part } from "../chain/part";
import type { Rig } from "../chain/rig";
import { kindOf } from "../drills/drill";
import type { Shows } from "../drills/kind";
import { shapeOf } from "../drills/shape";
import { gatherEvidence } from "../locate/evidence";
import { findingOf } from "../locate/finding";
import { USUAL_OPINION, type Opinion } from "../locate/opinion";
import { summarise } from "../stats/repeats";
import { byRigOf, observe, type Observation } from "../study/measurement";
import { IN_MB, type RateWords } from "../units/number";
import type { Direction } from "../units/rate";
import { causeOf, inBurstsOnly, type DropIn } from "./bursts";
import { culpritIn } from "./culprit";
import { judgeClaim, type Grounds, type Trial, type Verdict } from "./verdict";

/** What claims are held against: a study's rigs and what was seen through them. */
export interface Trials {
  rigs: readonly Rig[];
  /** Of real parts where there are any, else simulated ones. */
  observations: readonly Observation[];
  tolerance: number;
  /** The parts at hand; without them those that are judged. */
  shelf?: readonly Part[];
  opinion?: Opinion;
  rates?: RateWords;
  /** Reads what slowed a long run down; without it nothing is known of that. */
  dropIn?: DropIn;
}

/**
 * The claims of throughput and requests of some parts in one direction, each held against the drills
 * that can show it. A peak that a long run does not hold is kept in bursts only.
 *
 * @param parts whose claims are judged
 */
export function judgeClaims(
  parts: readonly Part[],
  trials: Trials,
  direction: Direction,
): Verdict[] {
  const { dropIn = () => null } = trials;
  const made = new Map<Shows, Grounds>();
  const groundsOf = (shows: Shows) => {
    const known = made.get(shows) ?? groundsFor(trials, parts, direction, shows);
    made.set(shows, known);
    return known;
  };
  return parts.flatMap((part) => {
    const small = part.claims.some(({ kind }) => kind === "iops");
    const block = small
      ? groundsOf("iops").trials.find(({ observed }) => observed)?.block
      : undefined;
    return judgedClaims(part.claims, direction, block).map((claim): Verdict => {
      const own = groundsOf(claim.kind);
      // A burst that stays below a claim of sustained speed says as much as a long run would.
      const shown = own.trials.some(({ observed }) => observed);
      const held = shown || claim.kind !== "sustained" ? own : groundsOf("peak");
      const verdict = judgeClaim(part, claim, held);
      if (claim.kind === "peak" && verdict.kind === "Delivers") {
        const bursts = inBurstsOnly(part, claim, groundsOf("sustained"), own, dropIn);
        if (bursts)
          return {
            ...verdict,
            kind: "Delivers in bursts only",
            reasons: [...verdict.reasons, ...bursts.reasons],
          };
      }
      if (claim.kind === "sustained" && verdict.kind === "Falls short" && held === own) {
        const at = own.trials.find(({ rig }) => rig === verdict.rig)!;
        const floor = claim.mbps * (1 - own.tolerance);
        const cause = causeOf(part, floor, at, own.trials, groundsOf("peak"), dropIn, own.rates);
        if (cause) return { ...verdict, reasons: [...verdict.reasons, cause] };
      }
      return verdict;
    });
  });
}

/** What was seen of each rig by the drills that show one kind of claim. */
export function groundsFor(
  { rigs, observations, tolerance, shelf, opinion = USUAL_OPINION, rates = IN_MB }: Trials,
  parts: readonly Part[],
  direction: Direction,
  shows: Shows,
): Grounds {
  const seen = observations
    .filter(({ drill }) => kindOf(drill).shows.includes(shows))
    .map((one) => ({ ...one, repeats: shows === "sustained" ? sustainedOf(one) : one.repeats }));
  const byRig = byRigOf(seen);
  const trials = rigs.map((rig): Trial => {
    const observation = observe(byRig.get(rig.id) ?? [], rig, direction);
    return {
      rig,
      seen: observation,
      observed: observation?.repeats ?? null,
      // Worked out for the rigs that are judged: of a thousand those are few.
      get finding() {
        return observation && findingOf(rig, direction, observation.repeats, shows === "iops");
      },
      sustained: shows === "sustained",
      block: (observation && shapeOf(observation.drill)?.block) ?? SMALL_REQUEST,
    };
  });
  return {
    ...{ trials, tolerance, rates, shelf: shelf ?? parts },
    evidence: gatherEvidence(seen),
    culprit: culpritIn(seen, observations, opinion),
  };
}

/** Repeats of what was left of the rate after its last change of level. */
const sustainedOf = ({ results, repeats }: Observation) =>
  summarise(results.map((result, i) => result.steps[0]?.sustainedMBps ?? repeats.values[i]!));
