import type { Command } from "commander";
import { claimWords } from "@/core/chain/claim";
import type { Judged } from "@/core/judge/judged";
import { scopeOf } from "@/core/judge/verdict";
import { formatPercent } from "@/core/units/number";
import { demandLines, demandsIn } from "./demands";
import { printJson } from "../exit";
import { wrapped } from "../lines";
import { conclusionsIn, openStudyFile } from "./study-file";

/** `nerrit judge`: what each claim of each part of a study is worth, and which rigs meet its demands. */
export function addJudge(program: Command): void {
  program
    .command("judge")
    .description(
      "say whether each part of a study delivers what it claims, and each rig what it is wanted for",
    )
    .argument("<study>", "a study's file (docs/formats.md)")
    .option("--json", "print one JSON document")
    .action((file: string, { json }: { json?: boolean }) => {
      const study = openStudyFile(file);
      const claims = conclusionsIn(study).judged();
      const demands = demandsIn(study);
      if (json) return printJson({ claims: claims.map(documentOf), demands });
      process.stdout.write(`${[...textOf(claims), ...demandLines(demands)].join("\n")}\n`);
    });
}

const WORDS = {
  Delivers: "delivers",
  "Delivers in bursts only": "delivers-in-bursts-only",
  "Falls short": "falls-short",
  "Falls short in this combination": "falls-short",
  "Can't tell yet": "cant-tell",
} as const;

/** One claim of the document of `nerrit judge --json` (docs/formats.md). */
export const documentOf = ({ part, claim, kind, impossible, shortBy, settle }: Judged) => ({
  partId: part.id,
  claim,
  verdict: WORDS[kind],
  scope: scopeOf(kind),
  impossible: impossible.length > 0,
  shortfall: shortBy === null ? null : Number(shortBy.toFixed(4)),
  settle: settle.map(({ text }) => text),
});

function textOf(claims: readonly Judged[]): string[] {
  if (claims.length === 0) return ["No part of this study claims anything."];
  return claims.flatMap(({ part, claim, kind, impossible, shortBy, reasons, settle }) => [
    `${part.name}, ${claimWords(claim)}: ${kind}${shortBy === null ? "" : ` by ${formatPercent(shortBy)}`}`,
    ...[...new Set([...reasons, ...impossible])].flatMap((line) => wrapped(line, 2)),
    ...settle.flatMap(({ text }) => wrapped(`would settle it: ${text}`, 2)),
  ]);
}
