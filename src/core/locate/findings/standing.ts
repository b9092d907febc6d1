import type { ExplanationKind } from "../posterior/explanation";
import { placesOf, type Located } from "../locate";
import { carriedIn, type Carried } from "./carried";
import type { At } from "../hypotheses/site";
import { causeSubject, othersOf, placeName } from "./sentences";

/** How a rig stands by all that was seen: what most likely holds it back, and who is cleared. */
export interface Standing {
  /** What most likely holds it back, with all that the shelf cannot tell from it; null for nothing. */
  likeliest: {
    kind: ExplanationKind;
    at: At;
    /** In a few words: "K2", "the file system exFAT". */
    name: string;
    /** As the subject of a sentence: "cable K2", "the Till enclosure". */
    subject: string;
    probability: number;
    /** Further places that cannot be told from it. */
    others: number;
  } | null;
  /** What is next likely; null where that is all. */
  second: { subject: string; probability: number } | null;
  /** Whether the likeliest is as good as sure. */
  settled: boolean;
  /** Of a rig that something holds back, by the id of a part; otherwise empty. */
  parts: Readonly<Record<string, Carried["state"]>>;
}

/** The standing of a rig that was located. */
export function standingOf(located: Located): Standing {
  const { explanations, settled, posterior, trial } = located;
  const [top, next] = placesOf(explanations);
  const first = top?.explanations[0];
  const isHeld = first !== undefined && first.kind !== "as-designed";
  const reaches = isHeld && posterior.trials.includes(trial) ? carriedIn(posterior, trial) : [];
  return {
    likeliest: first
      ? {
          kind: first.kind,
          at: first.at,
          name: placeName(first, located),
          subject: causeSubject(first, located),
          probability: top.probability,
          others: othersOf(top),
        }
      : null,
    second: next
      ? {
          subject: causeSubject(next.explanations[0]!, located),
          probability: next.probability,
        }
      : null,
    settled,
    parts: Object.fromEntries(
      reaches.flatMap(({ site, state }) =>
        site.kind === "part" ? [[site.parts[0]!.id, state]] : [],
      ),
    ),
  };
}
