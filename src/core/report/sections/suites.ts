import { suitesShown, tellSuite, type SuiteShown } from "../../compare/suites";
import { formatPercent, formatRate } from "../../units/number";
import { inUnit } from "../../units/rate";
import { words, type Block, type Cell } from "../document";
import type { Matter } from "../matter";

const EVERY = { rigs: null, drive: null, against: "" };

/** What other programs' suites showed: a sentence and a table each; nothing where there are none. */
export const suitesBlocks = (matter: Matter): Block[] => {
  const { study, rigs } = matter.filed;
  return suitesShown(study.suites, rigs, EVERY, study.smallestEffect).flatMap(
    (suite, i): Block[] => [
      { kind: "prose", words: [`${suite.name}: ${tellSuite(suite, matter.rates)}`] },
      { kind: "table", table: tableOf(matter, suite, i) },
    ],
  );
};

function tableOf({ rates }: Matter, { name, rigs, rows }: SuiteShown, at: number) {
  const [base, ...others] = rigs;
  const figure = (value: number | null, isRate: boolean): Cell =>
    value === null
      ? words("–")
      : isRate
        ? { text: rates.rate(value), value: inUnit(value, rates.unit) }
        : { text: formatRate(value), value };
  const share = (ratio: number | null): Cell =>
    ratio === null ? words("–") : { text: formatPercent(ratio), value: ratio };
  return {
    key: `suite-${at + 1}`,
    title: `${name}, test by test`,
    note: `Shares: how good a rig is against ${base!.letter}, ${base!.name}. All tests: the geometric mean.`,
    columns: [
      { name: "test" },
      ...rigs.map(({ letter }) => ({ name: letter, figure: true })),
      ...others.map(({ letter }) => ({ name: `${letter} against ${base!.letter}`, figure: true })),
    ],
    rows: [
      ...rows.map((row): Cell[] => {
        const isRate = row.unit === "MB/s";
        return [
          words(`${row.name}, ${isRate ? rates.unit : row.unit}`),
          ...row.cells.map(({ value }) => figure(value, isRate)),
          ...row.cells.slice(1).map(({ ratio }) => share(ratio)),
        ];
      }),
      ...(others.length > 0
        ? [
            [
              words("all tests"),
              ...rigs.map(() => words("")),
              ...others.map(({ overall }) => share(overall)),
            ],
          ]
        : []),
    ],
  };
}
