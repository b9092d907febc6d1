import { PART_KIND_NAMES } from "../../chain/part";
import type { Ask } from "../../study/asked-rig";
import type { Direction } from "../../units/rate";
import { formatChance, type RateWords } from "../../units/number";
import { placesOf, type Located } from "../locate";
import type { NextSwap } from "../steps/next-swap";
import { carriedIn, type Carried } from "./carried";
import { evidenceOn, type Evidence } from "./for-and-against";
import {
  likelihood,
  placeName,
  tellChange,
  tellExplanation,
  tellLocated,
  tellOutcome,
} from "./sentences";

/** What a page shows of one rig, with nothing left to work out. */
export interface ShownLocated {
  rigId: string;
  letter: string;
  name: string;
  observedMBps: number;
  settled: boolean;
  /** Whether the ledger foresees the rate. */
  asDesigned: boolean;
  /** Whether memory may have answered in the drive’s place. */
  fromMemory: boolean;
  sentence: string;
  /** What most likely holds it back, and how likely, in a few words. */
  first: string;
  reaches: ShownReach[];
  places: ShownPlace[];
  next: ShownNext[];
  /** What would have to be borrowed to learn more, as an order; null where nothing would. */
  borrow: { text: string; bits: number } | null;
}

export interface ShownReach {
  key: string;
  name: string;
  kind: Carried["site"]["kind"];
  state: Carried["state"];
  shownMBps: number | null;
  ceiling: number | null;
  /** "cleared by B", "only ever seen with Serac". */
  words: string;
  measurementId: string | null;
}

/** One place that may hold the rig back, with all that cannot be told from it. */
export interface ShownPlace {
  key: string;
  probability: number;
  likelihood: string;
  texts: string[];
  for: Evidence[];
  against: Evidence[];
  /** Whether nothing on the shelf can part what stands here. */
  together: boolean;
  /** What would part it: "another enclosure, another drive"; empty where it stands alone. */
  toPart: string;
}

export interface ShownNext {
  text: string;
  /** What is measured then, and on which rig. */
  ask: Ask;
  bits: number;
  minutes: number;
  outcomes: { fromMBps: number; toMBps: number; probability: number; meaning: string }[];
}

/**
 * What is shown of a rig.
 *
 * @param letterOf the letter of a study's rig by its id; null for one that is not in it any more
 */
export function showLocated(
  located: Located,
  rates: RateWords,
  letterOf: (rigId: string) => string | null,
): ShownLocated {
  const { rig, explanations, settled, observedMBps, posterior, trial, nextSwaps } = located;
  const places = placesOf(explanations);
  const [top] = places;
  const leading = top?.explanations[0];
  return {
    rigId: rig.id,
    letter: letterOf(rig.id) ?? "—",
    name: rig.name,
    observedMBps,
    settled,
    asDesigned: leading?.kind === "as-designed",
    fromMemory: leading?.kind === "memory-answered",
    sentence: tellLocated(located, rates),
    first: leading
      ? `${placeName(leading, located)}, ${formatChance(top.probability)}`
      : "nothing explains it",
    reaches: posterior.trials.includes(trial)
      ? carriedIn(posterior, trial).map((one) => showReach(one, letterOf))
      : [],
    places: places.map(({ key, probability, explanations: list }) => {
      const evidence = list.map((one) => evidenceOn(one, located, rates));
      const names = new Set(list.map(({ place }) => place));
      return {
        key,
        probability,
        likelihood: likelihood(probability),
        together: names.size > 1,
        toPart:
          names.size > 1
            ? [
                ...new Set(
                  list
                    .flatMap(({ site }) => site?.parts ?? [])
                    .map((part) => PART_KIND_NAMES[part.kind]),
                ),
              ]
                .map((kind) => `another ${kind}`)
                .join(" or ")
            : "",
        texts: list.map((one) => tellExplanation(one, located)),
        ...sides(evidence),
      };
    }),
    borrow: located.borrow && {
      text: tellChange(located.borrow, rig),
      bits: located.borrow.bits,
    },
    next: nextSwaps.map((next) => ({
      text: tellChange(next, rig),
      bits: next.bits,
      minutes: next.minutes,
      ask: askOf(next),
      outcomes: next.outcomes.map((outcome) => ({
        fromMBps: outcome.fromMBps,
        toMBps: outcome.toMBps,
        probability: outcome.probability,
        meaning: tellOutcome(outcome, located),
      })),
    })),
  };
}

/** Of causes at one place what speaks for any; against them only what speaks for none. */
function sides(evidence: readonly { for: Evidence[]; against: Evidence[] }[]) {
  const pro = unique(evidence.flatMap((one) => one.for));
  const texts = new Set(pro.map(({ text }) => text));
  const contra = unique(evidence.flatMap(({ against }) => against));
  return { for: pro, against: contra.filter(({ text }) => !texts.has(text)) };
}

const unique = (list: readonly Evidence[]): Evidence[] => [
  ...new Map(list.map((one) => [one.text, one])).values(),
];

function showReach(
  { site, shown, ceiling, state, onlyWith, idle }: Carried,
  letterOf: (rigId: string) => string | null,
): ShownReach {
  const letter = shown && letterOf(shown.trial.rig.id);
  const by = letter ? `rig ${letter}` : shown?.trial.rig.name;
  const words =
    state === "cleared"
      ? idle
        ? "cleared: it had time to spare"
        : `cleared by ${by}`
      : state === "enough"
        ? "no more was asked of it"
        : state === "untried"
          ? `only ever seen with ${onlyWith
              .slice(0, 2)
              .map(({ name }) => name)
              .join(" and ")}${onlyWith.length > 2 ? " and others" : ""}`
          : "suspect";
  return {
    key: site.key,
    name: site.name,
    kind: site.kind,
    state,
    ceiling,
    words,
    shownMBps: shown?.mbps ?? null,
    measurementId: shown?.trial.measurementIds[0] ?? null,
  };
}

/** What a step asks to be measured. */
export const askOf = ({ base, rig, drill }: NextSwap): Ask => ({
  rig: {
    like: base.id,
    parts: rig.parts.map(({ id }) => id),
    transport: rig.transport,
    fileSystem: rig.fileSystem,
    host: rig.host,
    bay: rig.bay || "",
  },
  drill: drill.name,
  direction: drill.direction as Direction,
});
