import { capital } from "../chain/wording";
import { counted } from "../units/counted";
import { formatDay } from "../units/day";
import { formatPercent } from "../units/number";
import { writing } from "../units/writing";
import type { Change, Drift } from "./drift";
import { membersOf } from "./series";
import { seriesWords } from "./relative";

/** How a drift is said: the result first, then its evidence, then what to do. */
export interface DriftWords {
  /**
   * For a list: "12 % slower since 2026-03-03", "may be 12 % slower" where another part may be the cause;
   * empty where nothing became slower.
   */
  brief: string;
  result: string;
  /** Each a sentence. */
  evidence: string[];
  next: string | null;
}

const dayWords = (day: string): string => formatDay(day, writing().dates);

/** @param called how a part or a machine is said, by its key: "the Haul A drive" */
export function driftWords(drift: Drift, called: (of: string) => string): DriftWords {
  return {
    brief:
      drift.state === "slower"
        ? `${drift.together.length > 0 ? "may be " : ""}${changeWords(drift)}`
        : "",
    result: resultOf(drift, called),
    evidence: evidenceOf(drift, called),
    next: nextOf(drift, called),
  };
}

/** "12 % slower since 2026-03-03", "6 % slower a year". */
function changeWords({ state, change, shape, step, perYear }: Drift): string {
  const of = shape === "slope" ? perYear! : change!;
  const when = shape === "slope" ? "a year" : `since ${dayWords(step!.day)}`;
  return `${formatPercent(Math.abs(of.share))} ${state} ${when}`;
}

function resultOf(drift: Drift, called: (of: string) => string): string {
  const { of, state, open, together, first, change, explainedBy } = drift;
  const name = capital(called(of));
  if (state === "slower" || state === "faster") {
    const subject = capital(listed([of, ...together].map(called), "or"));
    return `${subject} is ${changeWords(drift)}.`;
  }
  if (state === "steady") return `${name} is as fast as on ${dayWords(first)}.`;
  if (open === "another")
    return `${name} is not shown to be slower: ${listed(explainedBy.slice(0, 2).map(called), "or")} explains the change of its rigs.`;
  if (open === "noise")
    return `Whether ${called(of)} became slower is open: its rates changed by ${between(change!)}.`;
  return `Whether ${called(of)} became slower is open: its rigs were measured on too few days.`;
}

function evidenceOf(drift: Drift, called: (of: string) => string): string[] {
  const { state, change, shape, step, perYear, days, series, together, meanwhile } = drift;
  if (series.length === 0) return [];
  const sentences: string[] = [];
  const changed = state === "slower" || state === "faster";
  if (changed || state === "steady")
    sentences.push(
      changed && shape === "slope"
        ? `The rates change by ${between(perYear!)} a year (95 % interval).`
        : `The rates changed by ${between(change!)} (95 % interval).`,
    );
  if (changed && step) sentences.push(stepWords(step));
  if (changed && together.length > 0)
    sentences.push(
      `${capital(listed([drift.of, ...together].map(called), "and"))} stood in the same rigs, so that these runs cannot tell them apart.`,
    );
  for (const { what, from, to } of meanwhile)
    sentences.push(`The ${what} changed in the same time, from ${from} to ${to}.`);
  const rigs = counted(new Set(series.map(({ rigId }) => rigId)).size, "rig");
  sentences.push(`The result rests on ${rigs}, measured alike on ${counted(days, "day")}.`);
  return sentences;
}

function stepWords({ dayBefore, day, earliest, latest }: NonNullable<Drift["step"]>): string {
  return earliest === latest
    ? `The change came between ${dayWords(dayBefore)} and ${dayWords(day)}.`
    : `The new rates began between ${dayWords(earliest)} and ${dayWords(latest)} (95 % interval).`;
}

function nextOf(drift: Drift, called: (of: string) => string): string | null {
  const { of, state, open, next, together, meanwhile } = drift;
  if (open === "few-days")
    return "Measure one of its rigs in the same way on at least two days before a change and two after.";
  if (open === "noise") return "Measure the same rigs in the same way on more days.";
  if (state !== "slower") return null;
  if (next) {
    const without = together.filter((one) => !membersOf(next).includes(one));
    return `Measure ${seriesWords(next)} again: ${called(of)} stands there without ${listed(without.map(called), "and")}.`;
  }
  if (together.length > 0)
    return `Exchange ${called(together[0]!)} for another one, and measure on two more days.`;
  const [other] = meanwhile;
  return other
    ? `Measure again with the ${other.what} at ${other.from}: the rates may come back.`
    : null;
}

/** "-14 to -10 %". */
function between({ low, high }: Change): string {
  const signed = (share: number) => `${share > 0 ? "+" : ""}${formatPercent(share)}`;
  return `${signed(low)} to ${signed(high)}`;
}

function listed(names: readonly string[], word: "and" | "or"): string {
  const most = names.slice(0, MOST_NAMED);
  if (names.length > MOST_NAMED) most.push(`${names.length - MOST_NAMED} more`);
  return most.length < 2
    ? (most[0] ?? "")
    : `${most.slice(0, -1).join(", ")} ${word} ${most.at(-1)}`;
}
const MOST_NAMED = 3;
