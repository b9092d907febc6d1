import type { Rig } from "../../../chain/rig";
import type { CauseKind } from "../../hypotheses/opinion";
import { sitesOf, type Site } from "../../hypotheses/site";
import { RUN_STATES } from "../../hypotheses/run-state";
import { stateSite } from "../../hypotheses/state-site";

/**
 * Something that was seen of a rig beside its rate, and that some causes would bring about and others
 * would not: it changes how likely each is before the rates are weighed.
 */
export interface Signature {
  text: string;
  measurementIds: readonly string[];
  /** How many times likelier it makes each cause of a site, against one that is on no list. */
  factors: readonly { site: string; kind: CauseKind; factor: number }[];
  /** Sites that these runs show to have had time to spare: each could carry more than it did. */
  clears?: readonly string[];
}

/**
 * How often a sign shows, by what holds a rig back. These are beliefs, to a factor of about two, as
 * the shares of causes are; only how they stand to one another matters.
 */
export interface Sign {
  /** Probability that it shows where this is the cause; null where it is as for all others. */
  chance(site: Site, kind: CauseKind): number | null;
  /** The same for what is on no list, and where nothing is wrong. */
  otherwise: number;
}

const PARTS: readonly CauseKind[] = ["dropped-mode", "own-limit", "fault"];

/** The causes that a site can have; see priors. */
const kindsAt = ({ kind }: Site): readonly CauseKind[] =>
  kind === "part" ? PARTS : [kind === "pairing" ? "pairing" : "condition"];

/** What a sign that shows in a rig, or does not, says of all its sites and of the states it may be in. */
export const signature = (
  { chance, otherwise }: Sign,
  rig: Rig,
  shows: boolean,
  said: Pick<Signature, "text" | "measurementIds">,
): Signature => ({
  ...said,
  factors: [...sitesOf(rig), ...RUN_STATES.map((state) => stateSite(rig, state))].flatMap((site) =>
    kindsAt(site).flatMap((kind) => {
      const own = chance(site, kind);
      if (own === null) return [];
      return [
        { site: site.key, kind, factor: shows ? own / otherwise : (1 - own) / (1 - otherwise) },
      ];
    }),
  ),
});

/** The kind of part and of cause in one word, as the shares of causes have it. */
export const causeKey = ({ kind: of, parts: [part] }: Site, kind: CauseKind): string =>
  of === "part" ? `${part!.kind} ${kind}` : of;

/** The factor of several signatures on one cause of a site: of alike ones the strongest alone counts. */
export function factorOf(signatures: readonly Signature[], site: string, kind: CauseKind): number {
  const [up, down] = [[1], [1]] as [number[], number[]];
  for (const { factors } of signatures)
    for (const one of factors)
      if (one.site === site && one.kind === kind) (one.factor > 1 ? up : down).push(one.factor);
  return Math.max(...up) * Math.min(...down);
}
