import type { Claim } from "../chain/claim";
import type { Part } from "../chain/part";
import type { Rig } from "../chain/rig";
import { candidateParts } from "../locate/steps/candidate-parts";
import { weighing } from "../locate/weigh";
import { IN_MB } from "../units/number";
import { Direction } from "../units/rate";
import { impossibleClaim } from "./impossible";
import { judgeClass } from "./link-class";
import { groundsFor, judgeClaims, type Trials } from "./study-claims";
import type { Grounds, Judgement, Verdict } from "./verdict";

/** A claim as printed, and what it is worth. */
export interface Judged extends Judgement {
  /** The same for the same claim of the same part. */
  key: string;
  part: Part;
  claim: Claim;
  /** Why its own link cannot carry it, known before anything is measured; empty where it can. */
  impossible: string[];
}

/**
 * Every claim of some parts, in the order in which they stand.
 *
 * @param parts of a study
 */
export function judgeAll(parts: readonly Part[], all: Trials): Judged[] {
  const { rates = IN_MB } = all;
  const { causesOf = weighing(all.observations, all.opinion) } = all;
  const trials = { ...all, causesOf, shelf: candidateParts(all.shelf ?? parts, all.rigs) };
  const verdicts = new Map(
    Direction.options.map((way) => [way, judgeClaims(parts, trials, way)] as const),
  );
  const peaks = new Map<Direction, Grounds>();
  const peaksOf = (direction: Direction) => {
    const grounds = peaks.get(direction) ?? groundsFor(trials, parts, direction, "peak");
    peaks.set(direction, grounds);
    return grounds;
  };
  return parts.flatMap((part) =>
    part.claims.map((claim, i): Judged => {
      const impossible = impossibleClaim(part, claim, rates);
      const base = { key: `${part.id}.${i}`, part, claim, impossible };
      if (claim.kind === "link") return { ...base, ...judgeClass(part, claim, trials, peaksOf) };
      const { kind, shortBy, reasons, settle, rig, seen, observed, challenge } = verdictOn(
        part,
        claim,
        verdicts.get(claim.direction)!,
      );
      // What is impossible is said apart from the verdict.
      const own = reasons.filter((reason) => !impossible.includes(reason));
      return { ...base, kind, shortBy, reasons: own, settle, rig, seen, observed, challenge };
    }),
  );
}

/** Verdicts of a part come in the order of its claims in that direction. */
function verdictOn(part: Part, claim: Claim, verdicts: readonly Verdict[]): Verdict {
  const alike = part.claims.filter(
    (one) => one.kind !== "link" && claim.kind !== "link" && one.direction === claim.direction,
  );
  return verdicts.filter((one) => one.part === part)[alike.indexOf(claim)]!;
}

/** Everything that claims something and stands in some rig or is given, each part once. */
export function partsOfRigs(rigs: readonly Rig[]): Part[] {
  const all = rigs.flatMap((rig) => [...rig.parts, ...rig.beside, ...rig.other]);
  return [...new Map(all.map((part) => [part.id, part])).values()];
}
