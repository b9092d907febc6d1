import { differences, type Difference } from "../chain/difference";
import type { Rig } from "../chain/rig";
import type { Verdict } from "../judge/verdict";
import { findingOf, type Finding } from "../locate/finding";
import { compareRepeats, SMALLEST_EFFECT } from "../stats/compare";
import type { Repeats } from "../stats/repeats";
import { formatPercent, formatRate } from "../units/number";
import type { Direction } from "../units/rate";
import { called, capital, doing, list, mark, nameNarrows, say, type Segment } from "./wording";

/** A rig of a study, its letter, and what was measured through it in one direction. */
export interface Entry {
  letter: string;
  rig: Rig;
  observed: Repeats | null;
  /** Which drill definition the repeats share; compared only with the same. */
  drill: string | null;
}

/** The one step that would tell most next. */
export interface OpenQuestion {
  text: string;
  step: { kind: "rigs" } | { kind: "measure"; rigId: string; direction: Direction };
}

export interface Answer {
  sentences: Segment[][];
  /** Findings by rig id; null where the rig has no run or no working link. */
  findings: Record<string, Finding | null>;
  open: OpenQuestion | null;
}

/**
 * The answer of a study in one direction: which stage limits each rig, how far each is from its
 * ceiling, what the differing part costs, and whether claims are delivered.
 *
 * @param verdicts verdicts on claims in this direction
 * @param smallestEffect share below which a difference is of no interest
 */
export function answerStudy(
  entries: readonly Entry[],
  direction: Direction,
  verdicts: readonly Verdict[],
  smallestEffect = SMALLEST_EFFECT,
): Answer {
  const findings = Object.fromEntries(
    entries.map(({ rig, observed }) => [
      rig.id,
      observed ? findingOf(rig, direction, observed) : null,
    ]),
  );
  const measured = entries
    .filter((entry): entry is Entry & { observed: Repeats } => entry.observed !== null)
    .toSorted((a, b) => b.observed.median - a.observed.median);
  const fast = measured[0];
  const slow = measured.length > 1 ? measured.at(-1)! : undefined;

  const sentences: Segment[][] = [];
  const told = new Set<string>();
  if (fast && slow) {
    sentences.push(...comparePair(fast, slow, findings, direction, smallestEffect, told));
  }
  for (const entry of measured) {
    const finding = findings[entry.rig.id];
    if (finding && !told.has(entry.rig.id)) sentences.push(tellRig(entry, finding, direction));
  }
  for (const verdict of verdicts) {
    const sentence = tellVerdict(verdict);
    if (sentence) sentences.push(sentence);
  }
  if (measured.length === 0) sentences.push(tellMissing(entries, direction));
  return { sentences, findings, open: openQuestion(entries, direction, verdicts, findings) };
}

type Measured = Entry & { observed: Repeats };

function comparePair(
  fast: Measured,
  slow: Measured,
  findings: Record<string, Finding | null>,
  direction: Direction,
  smallestEffect: number,
  told: Set<string>,
): Segment[][] {
  const changes: string[] = differences(fast.rig, slow.rig).map(({ what }) => what);
  if (fast.drill !== slow.drill) changes.push("the drill they were measured with");
  const comparison = compareRepeats(fast.observed, slow.observed, smallestEffect);
  const rates = `${formatRate(slow.observed.median)} instead of ${formatRate(fast.observed.median)} MB/s ${doing(direction)}`;

  if (changes.length > 1) {
    return [
      [
        say(
          `Rigs ${fast.letter} and ${slow.letter} differ in ${changes.length} ways (${list(changes)}), so their difference convicts neither.`,
        ),
      ],
    ];
  }
  if (comparison.kind === "unknown") {
    return [
      [
        say(
          `Rig ${fast.letter} gave ${formatRate(fast.observed.median)} and rig ${slow.letter} ${formatRate(slow.observed.median)} MB/s ${doing(direction)}, but ${comparison.why}.`,
        ),
      ],
    ];
  }
  const [change] = differences(fast.rig, slow.rig);
  if (comparison.kind === "same") {
    return [
      [
        say(
          `Rigs ${fast.letter} and ${slow.letter} run the same within the noise (${formatRate(fast.observed.median)} and ${formatRate(slow.observed.median)} MB/s ${doing(direction)})${change ? `: ${change.what} makes no difference here` : ""}.`,
        ),
      ],
    ];
  }
  if (!change) {
    return [[say(`Rigs ${fast.letter} and ${slow.letter} are the same on paper, yet ${rates}.`)]];
  }
  const finding = findings[slow.rig.id];
  told.add(slow.rig.id);
  return [[...cost(change, slow, -comparison.change), say(`: ${rates}${because(finding)}.`)]];
}

function cost(change: Difference, slow: Measured, share: number): Segment[] {
  const amount = share > 0.5 ? "more than half" : formatPercent(share);
  const subject = change.kind === "part" && (change.b ?? change.a);
  if (!subject) {
    return [
      say(`The ${change.kind} (${change.what}) costs rig ${slow.letter} ${amount} of the flow`),
    ];
  }
  const absent = change.kind === "part" && !change.b;
  return absent
    ? [
        say(`Without `),
        mark(called(subject)),
        say(` rig ${slow.letter} loses ${amount} of the flow`),
      ]
    : [mark(capital(called(subject))), say(` costs rig ${slow.letter} ${amount} of the flow`)];
}

function because(finding: Finding | null | undefined): string {
  if (!finding) return "";
  const share = formatPercent(finding.efficiency);
  const { mode } = finding.narrows.link ?? {};
  if (finding.kind === "at narrows") {
    const what = mode ? `just what a ${mode.short} link attains` : "just what its own limit allows";
    return `, ${what} (${share} of its ceiling)`;
  }
  if (finding.kind === "above") return `, which is more than the rig's ledger allows`;
  const looks = finding.looksLike ? `; it looks like a ${finding.looksLike.short} link` : "";
  return `, ${share} of the lowest ceiling in its ledger, which does not explain it${looks}`;
}

/** Says so where the rig has other places nearly as narrow. */
function nearly({ near }: Finding): string {
  const names = [...new Set(near)];
  if (names.length === 0) return "";
  return `, with ${list(names)} nearly as narrow`;
}

function tellRig(entry: Measured, finding: Finding, direction: Direction): Segment[] {
  const rate = `${formatRate(entry.observed.median)} MB/s ${doing(direction)}`;
  const ceiling = `${formatRate(finding.narrows.ceiling)} MB/s`;
  const share = formatPercent(finding.efficiency);
  switch (finding.kind) {
    case "at narrows":
      return [
        say(`Rig ${entry.letter} is limited by `),
        ...nameNarrows(finding.narrows),
        say(`: ${rate}, ${share} of its ceiling of ${ceiling}${nearly(finding)}.`),
      ];
    case "above":
      return [
        say(
          `Rig ${entry.letter} gave ${rate}, more than the ${ceiling} its narrows can carry: memory answered, or a link is not what was declared.`,
        ),
      ];
    case "below":
      return [
        say(`Rig ${entry.letter} gave ${rate}, ${share} of the ${ceiling} that `),
        ...nameNarrows(finding.narrows).map(({ text }) => say(text)),
        say(
          ` could carry: what holds it back is not in its ledger${finding.looksLike ? `, though the rate is that of a ${finding.looksLike.short} link` : ""}.`,
        ),
      ];
  }
}

function tellVerdict(verdict: Verdict): Segment[] | null {
  const claim = `the ${formatRate(verdict.claim.mbps)} MB/s it claims for ${doing(verdict.claim.direction)}`;
  const name = capital(verdict.part.name);
  switch (verdict.kind) {
    case "Delivers":
      return [say(`${name} delivers ${claim}.`)];
    case "Falls short":
      return [say(`${name} falls ${formatPercent(verdict.shortBy!)} short of ${claim}.`)];
    case "Can't tell yet":
      return verdict.observed
        ? [say(`Whether ${verdict.part.name} delivers ${claim} can't be told yet.`)]
        : null;
  }
}

function tellMissing(entries: readonly Entry[], direction: Direction): Segment[] {
  if (entries.length === 0) {
    return [say("This study has no rigs yet. Describe two that differ in one part.")];
  }
  const names = list(entries.map(({ letter }) => letter));
  return [
    say(
      `Nothing has been measured ${doing(direction)} yet through ${entries.length === 1 ? "rig" : "rigs"} ${names}.`,
    ),
  ];
}

function openQuestion(
  entries: readonly Entry[],
  direction: Direction,
  verdicts: readonly Verdict[],
  findings: Record<string, Finding | null>,
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
      text: `Still open: does ${verdict.part.name} deliver ${formatRate(verdict.claim.mbps)} MB/s ${doing(direction)}? ${verdict.wouldSettle[0] ?? ""}`.trim(),
      step: { kind: "measure", rigId: verdict.rigId ?? entries[0]!.rig.id, direction },
    };
  }
  const puzzling = entries.find(
    ({ rig }) => findings[rig.id] && findings[rig.id]!.kind !== "at narrows",
  );
  if (puzzling) {
    return {
      text: `Still open: what holds rig ${puzzling.letter}? Change one of its parts and measure again.`,
      step: { kind: "rigs" },
    };
  }
  return null;
}
