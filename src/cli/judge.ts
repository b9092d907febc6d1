import type { Command } from "commander";
import { claimWords } from "@/core/chain/claim";
import type { FiledStudy } from "@/core/exchange/study-file";
import { judgeAll, type Judged } from "@/core/judge/judged";
import { scopeOf } from "@/core/judge/verdict";
import { isOf, observationsOf } from "@/core/study/measurement";
import { formatPercent } from "@/core/units/number";
import { demandLines, demandsIn } from "./demands";
import { printJson } from "./exit";
import { wrapped } from "./lines";
import { openStudyFile } from "./study-file";

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
      const claims = judgedIn(study);
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

/** Every claim of every part of a study, in the order in which they stand. */
export function judgedIn({ study, parts, rigs, measurements }: FiledStudy): Judged[] {
  const all = observationsOf(measurements).filter((seen) => rigs.some((rig) => isOf(seen, rig)));
  const real = all.filter(({ origin }) => origin !== "simulated");
  const observations = real.length > 0 ? real : all;
  return judgeAll(parts, { rigs, observations, tolerance: study.tolerance, shelf: parts });
}

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
