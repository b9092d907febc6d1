import type { Part } from "../chain/part";
import { fileSystemOf, replacePart, type Rig } from "../chain/rig";
import type { Observation } from "../study/measurement";
import type { Outcome } from "../study/outcome";
import { priorShare, priorsOfPart, USUAL_OPINION, type Opinion } from "./hypotheses/opinion";

/** What may be why a rig does not work: a part, two that do not go together, or a condition. */
export interface Suspect {
  key: string;
  /** The parts themselves; none of a condition. */
  parts: Part[];
  text: string;
  probability: number;
}

/** A rig that does not work, and what that says of its parts. */
export interface DeadEnd {
  outcome: Outcome;
  /** The likeliest first; empty where all of it works elsewhere, pair by pair. */
  suspects: Suspect[];
  /** What tells most: one suspect in a rig that works. */
  next: { text: string; like: Rig; parts: string[] } | null;
}

/** A second cause beside one that explains a rig already is about as rare as any cause. */
const SECOND_CAUSE = 0.1;

/**
 * What does not work, argued from what does. A part that stood in a rig which was measured works, and so do
 * two neighbours that were measured side by side; of what is left, what several dead rigs have in common is
 * likelier by so much as a second cause is rare. How likely parts fail is taken from the beliefs that slow
 * rigs are weighed by (hypotheses/opinion.ts).
 *
 * @param seen what was measured, of any drill
 */
export function deadEnds(
  outcomes: readonly Outcome[],
  seen: readonly Observation[],
  opinion: Opinion = USUAL_OPINION,
): DeadEnd[] {
  const latest = outcomes.filter(
    ({ rig }, i) => outcomes.findIndex((one) => one.rig.id === rig.id) === i,
  );
  const dead = new Set(latest.map(({ rig }) => rig.id));
  // What drops off was measured, perhaps, before it did: that clears nobody.
  const working = seen.filter(({ rig, doubtful }) => !dead.has(rig.id) && !doubtful);
  const cleared = new Set(
    working.flatMap(({ rig }) => placesOf(rig, opinion).map(({ key }) => key)),
  );
  const inEach = new Map(
    latest.map(({ rig }) => [
      rig.id,
      placesOf(rig, opinion).filter(({ key }) => !cleared.has(key)),
    ]),
  );
  const often = (key: string) =>
    [...inEach.values()].filter((places) => places.some((one) => one.key === key)).length;
  return latest.map((outcome) => {
    const places = inEach.get(outcome.rig.id)!;
    const weighed = places.map((place) => ({
      ...place,
      weight: place.weight / SECOND_CAUSE ** (often(place.key) - 1),
    }));
    const sum = weighed.reduce((total, { weight }) => total + weight, 0);
    const suspects = weighed
      .map(({ key, parts, text, weight }) => ({ key, parts, text, probability: weight / sum }))
      .toSorted((a, b) => b.probability - a.probability);
    return { outcome, suspects, next: nextFor(suspects, working) };
  });
}

interface Place {
  key: string;
  parts: Part[];
  text: string;
  weight: number;
}

/** Everything that could be why a rig does not work, with how often that is so. */
function placesOf(rig: Rig, opinion: Opinion): Place[] {
  const all = [...rig.parts, ...rig.beside, ...rig.other];
  const single = all.map((part): Place => {
    const shares = priorsOfPart(part.kind).map(({ key }) => priorShare(opinion, key));
    return {
      key: `part ${part.id}`,
      parts: [part],
      text: `${part.name} itself`,
      weight: shares.reduce((sum, share) => sum + share, 0),
    };
  });
  const pairs = rig.parts.slice(1).map((part, i): Place => {
    const before = rig.parts[i]!;
    return {
      key: `pair ${before.id} ${part.id}`,
      parts: [before, part],
      text: `${before.name} and ${part.name} do not go together`,
      weight: priorShare(opinion, "pairing") / (rig.parts.length - 1),
    };
  });
  const condition = (key: "fileSystem" | "host" | "bay", value: string, text: string): Place[] =>
    value
      ? [
          {
            key: `${key} ${value.toLowerCase()}`,
            parts: [],
            text,
            weight: priorShare(opinion, key),
          },
        ]
      : [];
  const box = rig.parts.at(-2);
  return [
    ...single,
    ...pairs,
    ...condition("fileSystem", fileSystemOf(rig), `the file system ${fileSystemOf(rig)}`),
    ...condition("host", rig.host, `the host ${rig.host}`),
    ...condition("bay", rig.bay && `${box?.id} ${rig.bay}`, `bay ${rig.bay} of ${box?.name}`),
  ];
}

/** To put the likeliest part into a rig that works, in place of its kind: dead again, it is the part. */
function nextFor(suspects: readonly Suspect[], working: readonly Observation[]): DeadEnd["next"] {
  if (suspects.length < 2) return null;
  for (const { parts } of suspects) {
    const [part, other] = parts;
    if (!part || other) continue;
    for (const { rig } of working) {
      const out = rig.parts.find(({ kind }) => kind === part.kind);
      if (!out || rig.parts.some(({ id }) => id === part.id)) continue;
      return {
        text: `Put ${part.name} in place of ${out.name} in ${rig.name}, which works: if that does not work either, it is ${part.name}.`,
        like: rig,
        parts: replacePart(rig, out, part).parts.map(({ id }) => id),
      };
    }
  }
  return null;
}
