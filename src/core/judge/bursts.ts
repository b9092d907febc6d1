import { inClaimsWords, type JudgedClaim } from "../chain/claim";
import { PART_KIND_NAMES, type Part } from "../chain/part";
import type { Rig } from "../chain/rig";
import { asksNoMore } from "../drills/shape";
import { setUpKey } from "../chain/set-up";
import { gatherEvidence } from "../locate/observations/evidence";
import type { Cause } from "../reading/cause";
import type { RateWords } from "../units/number";
import { DOING } from "../units/rate";
import { challengeOf } from "./challenge";
import type { Grounds, Trial } from "./verdict";

/** What the trace of a long run says of its heat and of its last lasting drop. */
export interface Drop {
  /** What it comes from; null where there was none. */
  cause: Cause | null;
  /** The hottest that it was, °C; null where nothing told. */
  hottest: number | null;
}

/** Reads the trace of the latest of some measurements; null where there is none. */
export type DropIn = (measurementIds: readonly string[]) => Drop | null;

/** What a long run that sank below a claim says of a part. */
export interface LongRun {
  /** Whether something puts the fall down to the part, so that it keeps the claim in bursts only. */
  burstsOnly: boolean;
  reasons: string[];
}

/**
 * What long runs say of a peak that is delivered. It holds in bursts only where in no rig with the part in
 * it a long run stayed at the claim, less the tolerance, where one sank below it that is known to let a
 * burst through, and where something puts that down to the part. A fall that nothing puts down to the
 * part costs it nothing (docs/model.md, 6).
 *
 * @param long what was seen in long runs
 * @param short what was seen in runs that show a peak
 * @returns null where a long run held it, or none was made that says anything of it
 */
export function longRunOf(
  part: Part,
  claim: JudgedClaim,
  { trials: long, tolerance, rates }: Grounds,
  short: Grounds,
  dropIn: DropIn,
): LongRun | null {
  const floor = claim.mbps * (1 - tolerance);
  const through = long.filter((trial) => isSound(trial) && stands(part, trial.rig));
  if (through.some(({ observed }) => observed!.interval!.high >= floor)) return null;
  // A long run through a path that is slow at once shows nothing of what a burst leaves behind.
  const [best] = through
    .filter(
      (trial) => burstOf(trial, short) >= floor || isChallenged(part, claim, trial, short.trials),
    )
    .toSorted(fastest);
  if (!best) return null;
  const sustained = inClaimsWords(claim, best.observed!.median, rates);
  const cause = causeOf(part, floor, best, { long, short, dropIn, rates });
  const fell = `Over a long run ${best.rig.name} sustained ${sustained} ${DOING[claim.direction]} at most`;
  const burstsOnly = cause?.by === "part";
  return {
    burstsOnly,
    reasons: [
      burstsOnly
        ? `${fell}: the claim is kept in bursts only.`
        : `${fell}; nothing puts that down to ${part.name}.`,
      ...(cause ? [cause.text] : []),
    ],
  };
}

/** Whether everything else in a rig was shown to carry more than a claim, for a while. */
function isChallenged(
  part: Part,
  claim: JudgedClaim,
  { rig, seen }: Trial,
  short: readonly Trial[],
): boolean {
  const shown = short.flatMap((one) =>
    one.seen && asksNoMore(one.seen.drill, seen!.drill) ? [one.seen] : [],
  );
  return challengeOf(part, claim, rig, gatherEvidence(shown)).every((one) => one.shown);
}

/** The most that a rig gave for a while: in a long run itself, or in short ones, MB/s. */
function burstOf({ rig, seen }: Trial, short: Grounds): number {
  const own = seen?.results.map(({ first }) => first?.burstMBps ?? 0) ?? [];
  const others = short.trials
    .filter((one) => setUpKey(one.rig) === setUpKey(rig) && one.seen && !one.seen.doubtful)
    .filter((one) => asksNoMore(one.seen!.drill, seen!.drill))
    .map(({ observed }) => observed?.median ?? 0);
  return Math.max(0, ...own, ...others);
}

const isSound = ({ observed, seen }: Trial) => Boolean(observed?.interval && !seen?.doubtful);
const fastest = (a: Trial, b: Trial) => b.observed!.median - a.observed!.median;
const stands = (part: Part, { parts, beside, other }: Rig) =>
  [...parts, ...beside, ...other].some(({ id }) => id === part.id);

/** Rates closer than this are the same for telling what a drop comes from. */
const SAME = 0.12;

/** What a long run's low end comes from, in a sentence: the part, the drive in it, or nobody knows. */
export interface LowEnd {
  by: "part" | "drive" | "unknown";
  text: string;
}

/** What was seen in long runs and in short ones. */
interface Lengths {
  long: readonly Trial[];
  short: Grounds;
  dropIn: DropIn;
  rates: RateWords;
}

/**
 * What a long run's low end comes from: the cache of the drive, told from the heat of the enclosure by
 * the same drive elsewhere, by another drive here, and by the temperature in the trace. What never gave
 * more than in the end sank from nothing, and tells nothing.
 *
 * @returns null for what has no low end of its own: a cable, a port
 */
export function causeOf(
  part: Part,
  floor: number,
  { rig, observed, seen }: Trial,
  { long, short, dropIn, rates }: Lengths,
): LowEnd | null {
  const drive = rig.parts.at(-1);
  if (!drive || part.kind === "cable" || part.kind === "host-port") return null;
  const sound = long.filter((trial) => isSound(trial) && trial.rig.id !== rig.id);
  const low = observed!.median;
  const drop = seen ? dropIn(seen.measurementIds) : null;
  const warm = drop?.hottest ? `, ${Math.round(drop.hottest)} °C at most` : "";
  if (part.id !== drive.id) {
    const [elsewhere] = sound
      .filter((trial) => stands(drive, trial.rig) && !stands(part, trial.rig))
      .toSorted(fastest);
    const sustained = elsewhere && rates.said(elsewhere.observed!.median);
    if (elsewhere && elsewhere.observed!.median >= floor) {
      const heat = drop?.cause?.kind === "heat" ? `; by its trace the cause is heat${warm}` : "";
      return {
        by: "part",
        text: `The drive’s own cache is not the cause: ${drive.name} sustained ${sustained} in ${elsewhere.rig.name}${heat}.`,
      };
    }
    const sankAsFar = (other: Trial) =>
      Math.abs(other.observed!.median / low - 1) <= SAME &&
      burstOf(other, short) > other.observed!.median * (1 + SAME);
    if (elsewhere && sankAsFar(elsewhere))
      return {
        by: "drive",
        text: `${drive.name} sustained no more in ${elsewhere.rig.name} (${sustained}): its own cache gives out, which says nothing against ${part.name}.`,
      };
    const [other] = sound
      .filter((trial) => stands(part, trial.rig) && !stands(drive, trial.rig))
      .toSorted(fastest);
    if (other && sankAsFar(other))
      return {
        by: "part",
        text: `With ${other.rig.parts.at(-1)!.name} inside, ${part.name} sustained as little (${rates.said(other.observed!.median)}): the drive’s cache is not the cause.`,
      };
  }
  const cause = drop?.cause;
  const why = cause && cause.because.length > 0 ? ` (${cause.because.join("; ")})` : "";
  // An enclosure has to carry its drive's heat away; what a cache does is the drive's alone.
  if (cause?.kind === "heat")
    return { by: "part", text: `By the trace of the run the cause is heat${warm}${why}.` };
  if (cause?.kind === "cache")
    return {
      by: part.id === drive.id ? "part" : "drive",
      text: `By the trace of the run the drive’s cache gave out${why}.`,
    };
  return {
    // What a drive does in the end is its own, whether its cache or its heat does it.
    by: part.id === drive.id && cause?.kind === "unknown" ? "part" : "unknown",
    text: `The cause is not known: the same drive in another ${PART_KIND_NAMES.enclosure}, or a temperature beside the run, would tell the drive’s cache from heat.`,
  };
}
