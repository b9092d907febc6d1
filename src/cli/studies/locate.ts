import type { Command } from "commander";
import type { Located } from "@/core/locate/locate";
import { evidenceOn } from "@/core/locate/findings/for-and-against";
import {
  likelihoodWords,
  tellExplanation,
  tellLocated,
  tellNext,
  tellOutcome,
} from "@/core/locate/findings/sentences";
import type { Rig } from "@/core/chain/rig";
import { titleOf } from "@/core/drills/drill";
import { DOING } from "@/core/units/rate";
import { printJson } from "../exit";
import { wrapped } from "../lines";
import { conclusionsIn, openStudyFile } from "./study-file";

/** `nerrit locate`: which part holds each rig of a study back, and what to swap next. */
export function addLocate(program: Command): void {
  program
    .command("locate")
    .description("say which part limits each rig, how sure that is, and what to swap next")
    .argument("<study>", "a study's file (docs/formats.md)")
    .option("--json", "print one JSON document")
    .action((file: string, { json }: { json?: boolean }) => {
      const located = conclusionsIn(openStudyFile(file)).located();
      if (json) printJson({ rigs: located.map(locatedDocument) });
      else process.stdout.write(`${located.flatMap(locatedText).join("\n")}\n`);
    });
}

const rounded = (value: number, digits = 4) => Number(value.toFixed(digits));

/** One rig of the document of `nerrit locate --json` (docs/formats.md). */
export function locatedDocument(located: Located) {
  const { rig, drill, observedMBps, settled, explanations, nextSwaps } = located;
  const named = { name: drill.name, direction: drill.direction };
  return {
    rigId: rig.id,
    drill: named,
    observedMBps: rounded(observedMBps, 3),
    settled,
    explanations: explanations.map((one) => {
      const { for: pro, against } = evidenceOn(one, located);
      return {
        kind: one.kind,
        at: one.at,
        group: one.group,
        // Never rounded up: together they are 1 at most.
        probability: Math.floor(one.probability * 1e4) / 1e4,
        text: tellExplanation(one, located),
        for: pro.map(({ text }) => text),
        against: against.map(({ text }) => text),
      };
    }),
    nextSwaps: nextSwaps.map((next) => ({
      text: tellNext(next, located),
      rig: asEntered(next.rig),
      drill: { name: next.drill.name, direction: next.drill.direction },
      bits: rounded(next.bits),
      minutes: next.minutes,
      outcomes: next.outcomes.map((outcome) => ({
        fromMBps: rounded(outcome.fromMBps, 2),
        toMBps: rounded(outcome.toMBps, 2),
        probability: rounded(outcome.probability),
        meaning: tellOutcome(outcome, located),
      })),
    })),
  };
}

/** A rig as it is entered, by the ids of its parts. */
function asEntered({ id: _, parts, beside, other, ...rest }: Rig) {
  const ids = (list: Rig["parts"]) => list.map((part) => part.id);
  return { ...rest, partIds: ids(parts), besideIds: ids(beside), otherIds: ids(other) };
}

function locatedText(located: Located): string[] {
  const { drill, rig, explanations, nextSwaps, settled } = located;
  const [next] = nextSwaps;
  return [
    `${rig.name || rig.id} · ${titleOf(drill)}, ${drill.direction === "mixed" ? "mixed" : DOING[drill.direction]}`,
    ...wrapped(tellLocated(located)),
    ...explanations.slice(0, 5).flatMap((one) => {
      const { for: pro, against } = evidenceOn(one, located);
      return [
        ...wrapped(`${likelihoodWords(one.probability)}: ${tellExplanation(one, located)}`, 2),
        ...pro.flatMap(({ text }) => wrapped(`for: ${text}`, 4)),
        ...against.flatMap(({ text }) => wrapped(`against: ${text}`, 4)),
      ];
    }),
    ...(next
      ? wrapped(tellNext(next, located))
      : settled
        ? []
        : ["Nothing on this shelf would tell more."]),
    "",
  ];
}
