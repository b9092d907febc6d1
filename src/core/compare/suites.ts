import { letterOf } from "../answer/lettered-rig";
import { bottleneckOf } from "../chain/bottleneck";
import type { Rig } from "../chain/rig";
import type { Suite, SuiteTest } from "../study/suite";
import { counted } from "../units/counted";
import { formatPercent, type RateWords } from "../units/number";
import type { Question } from "./question";

/** A rig as a suite's table shows it. */
export interface SuiteRig {
  letter: string;
  rigId: string;
  name: string;
  /** What its narrowest link lets through, MB/s, the lower of both ways; null where no link is known. */
  ceiling: number | null;
  /** How many times as good as the baseline over all tests that both did; null for the baseline, or none. */
  overall: number | null;
}

/** One test over the rigs. */
export interface SuiteRow extends Pick<SuiteTest, "name" | "unit" | "isLessBetter"> {
  /** In the order of the rigs; `ratio` is how many times as good as the baseline. */
  cells: { value: number | null; ratio: number | null }[];
}

/** A suite over the rigs that are asked about, the baseline first. */
export interface SuiteShown {
  name: string;
  /** Share from which a difference is of interest. */
  least: number;
  rigs: SuiteRig[];
  rows: SuiteRow[];
}

/**
 * Suites over rigs, each test held against the baseline: the rig that the question is against, else the suite's
 * first.
 *
 * @param rigs of the study as they stand, in the order of their letters
 * @param least share from which a difference is of interest
 */
export function suitesShown(
  suites: readonly Suite[],
  rigs: readonly Rig[],
  question: Pick<Question, "rigs" | "drive" | "against">,
  least: number,
): SuiteShown[] {
  const letters = new Map(rigs.map((rig, i) => [rig.id, letterOf(i)]));
  const asked = rigs.filter(
    ({ id, parts }) =>
      (question.rigs === null || question.rigs.includes(id)) &&
      (question.drive === null || parts.at(-1)?.id === question.drive),
  );
  return suites.flatMap(({ name, rigIds, tests }) => {
    const places = rigIds
      .flatMap((id, at) => {
        const rig = asked.find((one) => one.id === id);
        return rig ? [{ rig, at }] : [];
      })
      .toSorted(
        (a, b) => Number(b.rig.id === question.against) - Number(a.rig.id === question.against),
      );
    const [base] = places;
    if (!base) return [];
    const rows = tests.map(({ values, ...test }): SuiteRow => ({
      ...test,
      cells: places.map(({ at }) => ({
        value: values[at] ?? null,
        ratio: ratioOf(test.isLessBetter, values[at] ?? null, values[base.at] ?? null),
      })),
    }));
    const shown = places.map(({ rig }, i): SuiteRig => ({
      letter: letters.get(rig.id)!,
      rigId: rig.id,
      name: rig.name,
      ceiling: ceilingOf(rig),
      overall: i === 0 ? null : meanOf(rows.flatMap(({ cells }) => cells[i]!.ratio ?? [])),
    }));
    return [{ name, least, rigs: shown, rows }];
  });
}

function ratioOf(isLessBetter: boolean, value: number | null, base: number | null): number | null {
  if (value === null || base === null) return null;
  return isLessBetter ? base / value : value / base;
}

/**
 * The geometric mean of ratios: the only mean that does not depend on which rig is the baseline (Fleming and
 * Wallace, How not to lie with statistics, Communications of the ACM 29, 1986).
 */
const meanOf = (ratios: readonly number[]): number | null =>
  ratios.length > 0
    ? Math.exp(ratios.reduce((sum, ratio) => sum + Math.log(ratio), 0) / ratios.length)
    : null;

function ceilingOf(rig: Rig): number | null {
  const known = (["read", "write"] as const).flatMap(
    (way) => bottleneckOf(rig, way)?.ceiling ?? [],
  );
  return known.length > 0 ? Math.min(...known) : null;
}

/** Tests of one kind that are named in a sentence. */
const NAMED = 3;

/**
 * Which tests gain, which lose, and which are the same through the rig with the widest link, against the baseline:
 * "3 of 18 tests gain from the wider link of B, Import most (41 %). Compile is 9 % slower. 14 are the same."
 */
export function tellSuite(suite: SuiteShown, { said }: RateWords): string {
  const { least } = suite;
  const [base, ...others] = suite.rigs;
  const [best] = others.toSorted(
    (a, b) => (b.ceiling ?? 0) - (a.ceiling ?? 0) || (b.overall ?? 0) - (a.overall ?? 0),
  );
  if (!base || !best)
    return `Only rig ${base?.letter} did ${suite.name}: do the suite through another rig, too.`;
  const at = suite.rigs.indexOf(best);
  const both = suite.rows.flatMap(({ name, cells }) => {
    const { ratio } = cells[at]!;
    return ratio === null ? [] : [{ name, ratio }];
  });
  if (both.length === 0) return `No test was done through both ${base.letter} and ${best.letter}.`;
  const isWider =
    best.ceiling !== null && base.ceiling !== null && best.ceiling > base.ceiling * (1 + least);
  const gain = both.filter(({ ratio }) => ratio > 1 + least).toSorted((a, b) => b.ratio - a.ratio);
  const lose = both
    .filter(({ ratio }) => ratio < 1 / (1 + least))
    .toSorted((a, b) => a.ratio - b.ratio);
  const link = isWider ? `the wider link of ${best.letter} (${said(best.ceiling!)})` : best.letter;
  const of = `${gain.length === 0 ? "None" : gain.length} of ${counted(both.length, "test")}`;
  const most = gain.slice(0, NAMED).map(({ name, ratio }) => `${name} ${formatPercent(ratio - 1)}`);
  const gains = `${of} ${gain.length === 1 ? "gains" : "gain"} from ${link}${most.length > 0 ? `: ${most.join(", ")}${gain.length > NAMED ? " and more" : ""}` : ""}.`;
  const worst = lose
    .slice(0, NAMED)
    .map(({ name, ratio }) => `${name} is ${formatPercent(1 - ratio)} worse`);
  const losses =
    worst.length > 0 ? ` ${worst.join(", ")}${lose.length > NAMED ? " and more" : ""}.` : "";
  const same = both.length - gain.length - lose.length;
  const alike =
    same > 0 && gain.length > 0
      ? ` ${same} ${same === 1 ? "is" : "are"} the same within ${formatPercent(least)}.`
      : "";
  return gains + losses + alike;
}
