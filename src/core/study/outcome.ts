import type { Rig } from "../chain/rig";
import { OUTCOME, OUTCOME_WORDS, OutcomeKind } from "../drills/kinds/outcome";
import { isSetUpOf, type BriefMeasurement } from "./measurement";

/** That a rig does not work: in which way, in whose words, and when. */
export interface Outcome {
  measurementId: string;
  /** The rig as it was then. */
  rig: Rig;
  kind: OutcomeKind;
  /** What the tester wrote of it; empty where nothing. */
  words: string;
  /** ISO 8601. */
  at: string;
}

/** What does not work, the latest first; only of rigs that still stand as they were. */
export const outcomesOf = (
  measurements: readonly BriefMeasurement[],
  rigs: readonly Rig[],
): Outcome[] =>
  measurements.flatMap((one) => {
    if (one.drill.name !== OUTCOME.name) return [];
    if (one.runs.some(({ leftOut }) => leftOut !== null)) return [];
    if (!rigs.some((rig) => isSetUpOf(one.rig, rig))) return [];
    const kind = OutcomeKind.safeParse((one.drill as { outcome?: unknown }).outcome).data;
    if (!kind) return [];
    const { id, rig, reason, createdAt } = one;
    return [{ measurementId: id, rig, kind, words: reason ?? "", at: createdAt }];
  });

/** "drops off: after a minute of writing" */
export const outcomeWords = ({ kind, words }: Pick<Outcome, "kind" | "words">): string =>
  [OUTCOME_WORDS[kind], words].filter(Boolean).join(": ");
