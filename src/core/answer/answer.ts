import { differences, type Difference } from "../chain/difference";
import type { Verdict } from "../judge/verdict";
import type { Finding } from "../locate/findings/finding";
import { compareRepeats, SMALLEST_EFFECT } from "../stats/compare";
import { formatPercent, IN_MB, type RateWords } from "../units/number";
import type { Direction } from "../units/rate";
import { openQuestion, type OpenQuestion } from "./open-question";
import { alike, because, leftOver, tellRigs, type Entry, type Measured } from "./tell-rig";
import { tellMany } from "./tell-many";
import { tellVerdicts } from "./tell-verdicts";
import { called, capital, doing, list, mark, say, type Segment } from "../chain/wording";

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
  rates = IN_MB,
): Answer {
  const findings = Object.fromEntries(entries.map(({ rig, finding }) => [rig.id, finding]));
  const measured = entries
    .filter((entry): entry is Measured => entry.observed !== null)
    .toSorted((a, b) => b.observed.median - a.observed.median);
  const sentences: Segment[][] = [];
  const told = new Set<string>();
  const groups = alike(measured.filter(({ finding }) => finding));
  const many = groups.length > MOST_TOLD;
  const pair = pairToCompare(measured);
  // Two of very many that differ in several ways say nothing of the others.
  if (pair && !(many && waysApart(...pair).length > 1))
    sentences.push(...comparePair(...pair, direction, smallestEffect, told, rates));
  if (many) sentences.push(...tellMany(groups.flat(), direction, rates));
  else {
    const untold = measured.filter(({ finding, rig }) => finding && !told.has(rig.id));
    for (const group of alike(untold)) sentences.push(...tellRigs(group, direction, rates));
  }
  sentences.push(...tellVerdicts(verdicts, rates));
  if (measured.length === 0) sentences.push(tellMissing(entries, direction));
  return { sentences, findings, open: openQuestion(entries, direction, verdicts, rates) };
}

/** More groups of rigs than these are told of as a whole. */
const MOST_TOLD = 12;

/** Beyond so many rigs each is held against the fastest and the slowest alone. */
const MOST_PAIRED = 40;

/**
 * The two rigs whose difference says most: those furthest apart that differ in one way, else those
 * furthest apart. What memory may have answered is held against nothing.
 *
 * @param measured the fastest first
 */
function pairToCompare(measured: readonly Measured[]): [fast: Measured, slow: Measured] | null {
  const sound = measured.filter(({ doubtful }) => !doubtful);
  const [fastest, slowest] = [sound[0], sound.at(-1)];
  if (!fastest || !slowest || fastest === slowest) return null;
  const pairs =
    sound.length <= MOST_PAIRED
      ? sound.flatMap((fast, i) => sound.slice(i + 1).map((slow) => [fast, slow] as const))
      : sound.flatMap((one) => [[fastest, one] as const, [one, slowest] as const]);
  const apart = ([fast, slow]: readonly [Measured, Measured]) =>
    fast.observed.median / slow.observed.median;
  const [best] = pairs
    .filter(([fast, slow]) => fast !== slow && waysApart(fast, slow).length === 1)
    .toSorted((a, b) => apart(b) - apart(a));
  return best ? [...best] : [fastest, slowest];
}

/** In how many ways two rigs, and what was done on them, differ. */
function waysApart(a: Measured, b: Measured): string[] {
  const changes = differences(a.rig, b.rig).map(({ what }): string => what);
  if (a.drill !== b.drill) changes.push("the drill they were measured with");
  if (a.origin !== b.origin) changes.push(`${a.origin} runs against ${b.origin} ones`);
  return changes;
}

function comparePair(
  fast: Measured,
  slow: Measured,
  direction: Direction,
  smallestEffect: number,
  told: Set<string>,
  rates: RateWords,
): Segment[][] {
  const changes = waysApart(fast, slow);
  const comparison = compareRepeats(fast.observed, slow.observed, smallestEffect);
  const { rate, said } = rates;
  const apart = `${rate(slow.observed.median)} instead of ${said(fast.observed.median)} ${doing(direction)}`;

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
          `Rig ${fast.letter} gave ${rate(fast.observed.median)} and rig ${slow.letter} ${said(slow.observed.median)} ${doing(direction)}, but ${comparison.why}.`,
        ),
      ],
    ];
  }
  const [change] = differences(fast.rig, slow.rig);
  if (comparison.kind === "same") {
    return [
      [
        say(
          `Rigs ${fast.letter} and ${slow.letter} run the same within the noise (${rate(fast.observed.median)} and ${said(slow.observed.median)} ${doing(direction)})${change ? `: ${change.what} makes no difference here` : ""}.`,
        ),
      ],
    ];
  }
  if (!change) {
    return [[say(`Rigs ${fast.letter} and ${slow.letter} are the same on paper, yet ${apart}.`)]];
  }
  const { finding } = slow;
  const culprit = change.kind === "part" && (change.b ?? change.a);
  const narrow =
    finding?.kind === "at narrows" &&
    finding.narrows.culprits.some(({ id }) => culprit && id === culprit.id);
  // A narrows elsewhere is told by itself: this sentence is about the part that was changed.
  if (finding?.kind === "at narrows" && !narrow) {
    return [[...cost(change, slow, -comparison.change, false), say(`: ${apart}.`)]];
  }
  told.add(slow.rig.id);
  // What has carried more in other rigs is not what costs: it is only what was changed.
  const cleared =
    finding?.kind === "below" && culprit && slow.standing?.parts[culprit.id] === "cleared";
  if (cleared) {
    const odd = `With ${called(culprit)} in it rig ${slow.letter} gives ${apart}, yet ${culprit.name} has carried more elsewhere.`;
    return [[say(odd)], ...leftOver([slow])];
  }
  return [
    [...cost(change, slow, -comparison.change, narrow), say(`: ${apart}${because(slow)}.`)],
    ...leftOver([slow]),
  ];
}

/** What a change costs; the part in question is marked only where it is the narrows of the rig. */
function cost(change: Difference, slow: Measured, share: number, narrow: boolean): Segment[] {
  const amount = share > 0.5 ? "more than half" : formatPercent(share);
  const name = narrow ? mark : say;
  if (change.kind !== "part") {
    return [
      say(`The ${change.kind} (${change.what}) costs rig ${slow.letter} ${amount} of the flow`),
    ];
  }
  const { a, b } = change;
  return b
    ? [name(capital(called(b))), say(` costs rig ${slow.letter} ${amount} of the flow`)]
    : [say(`Without ${called(a!)} rig ${slow.letter} loses ${amount} of the flow`)];
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
