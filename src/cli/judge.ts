import type { Command } from "commander";
import type { Claim } from "@/core/chain/claim";
import type { Part } from "@/core/chain/part";
import type { FiledStudy } from "@/core/exchange/study-file";
import { impossibleClaim } from "@/core/judge/impossible";
import { judgeClass } from "@/core/judge/link-class";
import { judgeClaims } from "@/core/judge/study-claims";
import { isOf, observationsOf } from "@/core/study/measurement";
import { formatNumber, formatPercent, IN_MB } from "@/core/units/number";
import { Direction, DOING } from "@/core/units/rate";
import { printJson } from "./exit";
import { wrapped } from "./lines";
import { openStudyFile } from "./study-file";

/** `nerrit judge`: what each claim of each part of a study is worth. */
export function addJudge(program: Command): void {
  program
    .command("judge")
    .description("say whether each part of a study delivers what it claims")
    .argument("<study>", "a study's file (docs/formats.md)")
    .option("--json", "print one JSON document")
    .action((file: string, { json }: { json?: boolean }) => {
      const claims = judgedIn(openStudyFile(file));
      if (json) printJson({ claims: claims.map(documentOf) });
      else process.stdout.write(`${textOf(claims).join("\n")}\n`);
    });
}

const WORDS = {
  Delivers: "delivers",
  "Delivers in bursts only": "delivers-in-bursts-only",
  "Falls short": "falls-short",
  "Can't tell yet": "cant-tell",
} as const;

/** A claim as printed, and what it is worth. */
interface Judged {
  part: Part;
  claim: Claim;
  kind: keyof typeof WORDS;
  impossible: string[];
  shortBy: number | null;
  reasons: string[];
  settle: string[];
}

/** Every claim of every part of a study, in the order in which they stand. */
export function judgedIn({ study, parts, rigs, measurements }: FiledStudy): Judged[] {
  const all = observationsOf(measurements).filter((seen) => rigs.some((rig) => isOf(seen, rig)));
  const real = all.filter(({ origin }) => origin !== "simulated");
  const observations = real.length > 0 ? real : all;
  const trials = { rigs, observations, tolerance: study.tolerance };
  const verdicts = new Map(
    Direction.options.map((way) => [way, judgeClaims(parts, trials, way)] as const),
  );
  return parts.flatMap((part) =>
    part.claims.map((claim): Judged => {
      const impossible = impossibleClaim(part, claim);
      const base = { part, claim, impossible, shortBy: null };
      if (claim.kind === "link") {
        const { kind, reason, settle } = judgeClass(part, claim, observations);
        return { ...base, kind, reasons: [reason], settle };
      }
      // Verdicts of a part come in the order of its claims in that direction.
      const alike = part.claims.filter(
        (one) => one.kind !== "link" && one.direction === claim.direction,
      );
      const at = alike.indexOf(claim);
      const verdict = verdicts.get(claim.direction)!.filter((one) => one.part === part)[at]!;
      const { kind, shortBy, reasons, wouldSettle: settle } = verdict;
      return { ...base, kind, shortBy, reasons, settle };
    }),
  );
}

/** One claim of the document of `nerrit judge --json` (docs/formats.md). */
export const documentOf = ({ part, claim, kind, impossible, shortBy, settle }: Judged) => ({
  partId: part.id,
  claim,
  verdict: WORDS[kind],
  impossible: impossible.length > 0,
  shortfall: shortBy === null ? null : Number(shortBy.toFixed(4)),
  settle,
});

function textOf(claims: readonly Judged[]): string[] {
  if (claims.length === 0) return ["No part of this study claims anything."];
  return claims.flatMap(({ part, claim, kind, impossible, shortBy, reasons, settle }) => [
    `${part.name}, ${claimWords(claim)}: ${kind}${shortBy === null ? "" : ` by ${formatPercent(shortBy)}`}`,
    ...[...new Set([...reasons, ...impossible])].flatMap((line) => wrapped(line, 2)),
    ...settle.flatMap((line) => wrapped(`would settle it: ${line}`, 2)),
  ]);
}

function claimWords(claim: Claim): string {
  if (claim.kind === "link") return `a ${formatNumber(claim.gbps)} Gb/s link`;
  const figure =
    claim.kind === "iops"
      ? `${formatNumber(claim.iops)} requests a second`
      : IN_MB.said(claim.mbps);
  return `${claim.kind === "iops" ? "" : `${claim.kind} `}${figure} ${DOING[claim.direction]}`;
}
