import { judgedClaims, SMALL_REQUEST } from "../chain/claim";
import type { Part } from "../chain/part";
import type { Rig } from "../chain/rig";
import { kindOf, type Drill } from "../drills/drill";
import type { Shows } from "../drills/kind";
import { asksNoMore, requestsKey, shapeOf } from "../drills/shape";
import { gatherEvidence, type Evidence } from "../locate/observations/evidence";
import { findingOf } from "../locate/findings/finding";
import type { Opinion } from "../locate/hypotheses/opinion";
import { summarise, type Repeats } from "../stats/repeats";
import { byRigOf, isOf, Origin, type Observation } from "../study/measurement";
import { IN_MB, type RateWords } from "../units/number";
import type { Direction } from "../units/rate";
import { meantBy } from "./meant";
import { causeOf, longRunOf, type DropIn } from "./bursts";
import { weighing, type Weighing } from "../locate/weigh";
import { culpritIn, type Culprit } from "./culprit";
import { judgeClaim } from "./judge-claim";
import { scopeOf, type Grounds, type Trial, type Verdict } from "./verdict";

/** What claims are held against: a study's rigs and what was seen through them. */
export interface Trials {
  rigs: readonly Rig[];
  /** Of real parts where there are any, else simulated ones. */
  observations: readonly Observation[];
  tolerance: number;
  /** The parts at hand; without them those that are judged. */
  shelf?: readonly Part[];
  opinion?: Opinion;
  /** What may hold each of the observations back; without it that is worked out here. */
  causesOf?: Weighing;
  rates?: RateWords;
  /** Reads what slowed a long run down; without it nothing is known of that. */
  dropIn?: DropIn;
}

/**
 * The claims of throughput and requests of some parts in one direction, each held against the drills
 * that can show it. A peak that the part does not hold over a long run is kept in bursts only.
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
    return judgedClaims(part.claims, direction).map((claim): Verdict => {
      const meant = (shows: Shows) => meantBy(claim, part, groundsOf(shows));
      const own = meant(claim.kind);
      // A burst that stays below a claim of sustained speed says as much as a long run would.
      const shown = own.trials.some(({ observed }) => observed);
      const held = shown || claim.kind !== "sustained" ? own : meant("peak");
      const verdict = judgeClaim(part, claim, held);
      if (claim.kind === "peak" && verdict.kind === "Delivers") {
        // A long run is made by requests of its own; over which link counts.
        const through = meantBy({ ...claim, ...ANY_REQUESTS }, part, groundsOf("sustained"));
        const long = longRunOf(part, claim, through, own, dropIn);
        if (long)
          return {
            ...verdict,
            kind: long.burstsOnly ? "Delivers in bursts only" : verdict.kind,
            reasons: [...verdict.reasons, ...long.reasons],
          };
      }
      if (claim.kind === "sustained" && scopeOf(verdict.kind) !== null && held === own) {
        const at = own.trials.find(({ seen }) => seen === verdict.seen)!;
        const floor = claim.mbps * (1 - own.tolerance);
        const cause = causeOf(part, floor, at, {
          long: own.trials,
          short: meant("peak"),
          dropIn,
          rates: own.rates,
        });
        if (cause) return { ...verdict, reasons: [...verdict.reasons, cause.text] };
      }
      return verdict;
    });
  });
}

/** What was seen of each rig by the drills that show one kind of claim, by what they ask for. */
export function groundsFor(
  { rigs, observations, tolerance, shelf, opinion, causesOf, rates = IN_MB }: Trials,
  parts: readonly Part[],
  direction: Direction,
  shows: Shows,
): Grounds {
  const small = shows === "iops";
  const speaks = ({ drill }: Observation) => kindOf(drill).shows.includes(shows);
  const sustained = shows === "sustained";
  const seen = observations
    .filter(speaks)
    .map((one) => (sustained ? { ...one, repeats: sustainedOf(one) } : one));
  // What is left of a rate in the end is weighed by itself: it is another figure than the run's mean.
  const causes = sustained
    ? weighing([...seen, ...observations.filter((one) => !speaks(one))], opinion)
    : (causesOf ?? weighing(observations, opinion));
  const drills = new Map(seen.map(({ drill }) => [requestsKey(drill), drill]));
  const groups = [...drills].map(([key, drill]) => {
    const alike = seen.filter((one) => requestsKey(one.drill) === key);
    const byRig = byRigOf(alike);
    const evidence = gatherEvidence(
      seen.filter(
        (one) => asksNoMore(one.drill, drill) && (!small || blockOf(one.drill) === blockOf(drill)),
      ),
    );
    return { byRig, evidence, culprit: culpritIn(alike, causes) };
  });
  const trialOf = (
    rig: Rig,
    observation: Observation | null,
    evidence: Evidence,
    culprit: Culprit,
  ): Trial => ({
    rig,
    seen: observation,
    evidence,
    culprit,
    observed: observation && (small ? inSmallRequests(observation) : observation.repeats),
    // Worked out for the rigs that are judged: of a thousand those are few.
    get finding() {
      return observation && findingOf(rig, direction, observation.repeats, small);
    },
    larger: small && observation !== null && blockOf(observation.drill) > SMALL_REQUEST,
    sustained,
  });
  const trials = rigs.flatMap((rig) => {
    const own = groups.flatMap(({ byRig, evidence, culprit }) => {
      const best = bestOf(byRig.get(rig.id) ?? [], rig, direction);
      return best ? [trialOf(rig, best, evidence, culprit)] : [];
    });
    return own.length > 0 ? own : [trialOf(rig, null, NOTHING, () => null)];
  });
  return { trials, rigs, tolerance, rates, shelf: shelf ?? parts };
}

const NOTHING: Evidence = new Map();
const ANY_REQUESTS = { block: undefined, depth: undefined };

const blockOf = (drill: Drill) => shapeOf(drill)?.block ?? 0;

/**
 * Of a rig as it stands what shows most: measured before typed, sound before doubtful, repeated before
 * single, fast before slow.
 */
const bestOf = (seen: readonly Observation[], rig: Rig, direction: Direction): Observation | null =>
  seen
    .filter((one) => isOf(one, rig) && one.drill.direction === direction)
    .toSorted(
      (a, b) =>
        Origin.options.indexOf(a.origin) - Origin.options.indexOf(b.origin) ||
        Number(a.doubtful) - Number(b.doubtful) ||
        Number(!a.repeats.interval) - Number(!b.repeats.interval) ||
        b.repeats.median - a.repeats.median,
    )[0] ?? null;

/** Repeats of what was left of the rate after its last change of level. */
const sustainedOf = ({ results, repeats }: Observation) =>
  summarise(results.map((result, i) => result.first?.sustainedMBps ?? repeats.values[i]!));

/** As many small requests as there were larger ones, MB/s. */
function inSmallRequests({ drill, repeats }: Observation): Repeats {
  const share = SMALL_REQUEST / blockOf(drill);
  return share === 1 ? repeats : summarise(repeats.values.map((value) => value * share));
}
