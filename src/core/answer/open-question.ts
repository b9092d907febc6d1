import { inClaimsWords, printedWords } from "../chain/claim";
import type { Verdict } from "../judge/verdict";
import { IN_MB } from "../units/number";
import type { Direction } from "../units/rate";
import type { Entry } from "./tell-rig";
import { doing } from "../chain/wording";

/** The one step that would tell most next. */
export interface OpenQuestion {
  text: string;
  step:
    | { kind: "rigs" | "judge" }
    | { kind: "measure" | "locate"; rigId: string; direction: Direction };
}

/** What is missing of an answer, in the order of the work; null where nothing is. */
export function openQuestion(
  entries: readonly Entry[],
  direction: Direction,
  verdicts: readonly Verdict[],
  rates = IN_MB,
): OpenQuestion | null {
  if (entries.length < 2) {
    return {
      text:
        entries.length === 0
          ? "Describe two rigs for the same drive."
          : "A second rig that differs in one part would tell what that part costs.",
      step: { kind: "rigs" },
    };
  }
  const unmeasured = entries.find(({ observed }) => !observed);
  if (unmeasured) {
    return {
      text: `Rig ${unmeasured.letter} has not been measured ${doing(direction)}.`,
      step: { kind: "measure", rigId: unmeasured.rig.id, direction },
    };
  }
  const single = entries.find(({ observed }) => observed!.n < 2);
  if (single) {
    return {
      text: `Rig ${single.letter} was measured once: repeats would show its noise.`,
      step: { kind: "measure", rigId: single.rig.id, direction },
    };
  }
  const verdict = verdicts.find(({ kind }) => kind === "Can't tell yet");
  if (verdict) {
    return {
      text: `Still open: does ${verdict.part.name} deliver ${inClaimsWords(verdict.claim, verdict.claim.mbps, rates)} ${doing(direction)}${printedWords(verdict.claim)}? ${verdict.settle[0]?.text ?? ""}`.trim(),
      step: { kind: "judge" },
    };
  }
  const puzzling = entries.find(
    ({ finding, standing }) =>
      finding?.kind === "above" || (finding?.kind === "below" && !standing?.settled),
  );
  if (puzzling) {
    return {
      text: `Still open: what holds rig ${puzzling.letter}?`,
      step: { kind: "locate", rigId: puzzling.rig.id, direction },
    };
  }
  const several = ({ finding, standing }: Entry) => {
    const { kind = "as-designed", others = 0 } = standing?.likeliest ?? {};
    return finding?.kind === "below" && kind !== "as-designed" ? others : 0;
  };
  // The one that loses most is what the answer begins with, and Locate opens with.
  const [group] = entries
    .filter((entry) => several(entry) > 0)
    .toSorted((a, b) => lossOf(b) - lossOf(a));
  if (group) {
    return {
      text: `Still open: which of ${several(group) + 1} holds rig ${group.letter}?`,
      step: { kind: "locate", rigId: group.rig.id, direction },
    };
  }
  return null;
}

/** How much of its ceiling a rig falls short of, MB/s. */
const lossOf = ({ finding, observed }: Entry): number =>
  (finding?.narrows.ceiling ?? 0) - (observed?.median ?? 0);
