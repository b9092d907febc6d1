import { isBeyond } from "@/core/compare/practice";
import { tellComparison } from "@/core/compare/comparison-words";
import { formatNumber, ratesIn } from "@/core/units/number";
import type { Question } from "@/core/compare/question";
import type { ShownComparison } from "@/core/compare/shown";
import type { SuiteShown } from "@/core/compare/suites";
import { counted } from "@/core/units/counted";
import { DOING, inUnit, type RateUnit } from "@/core/units/rate";
import type { Cell } from "../out/save";
import { MOST_ROWS, type Slide } from "../out/slide";
import { isSmall, MARKS } from "./cell-words";

const digits = (value: number | null | undefined) =>
  value === null || value === undefined ? null : Number(value.toPrecision(6));

/** An answer as a table that leaves the program: a line for each rig, drill and direction. */
export function tableRows(shown: ShownComparison, question: Question, unit: RateUnit): Cell[][] {
  const rate = (mbps: number | null | undefined) =>
    mbps === null || mbps === undefined ? null : digits(inUnit(mbps, unit));
  const head = [
    "rig",
    "name",
    "file system",
    "drill",
    "direction",
    `median, ${unit}`,
    "n",
    "spread",
    `95 % from, ${unit}`,
    `95 % to, ${unit}`,
    `ceiling, ${unit}`,
    "share of the ceiling",
    `claimed, ${unit}`,
    "share of the baseline",
    "beside the baseline",
    "requests a second",
    "p50, µs",
    "p99, µs",
    "origin",
    "cautions",
  ];
  return [
    head,
    ...shown.rows.flatMap((row) =>
      row.cells.flatMap((cell, i): Cell[][] => {
        if (!cell) return [];
        const { repeats } = cell;
        const column = shown.columns[i]!;
        return [
          [
            row.letter,
            row.name,
            row.fileSystem,
            column.title,
            DOING[column.direction],
            rate(repeats.median),
            repeats.n,
            digits(repeats.n > 1 ? repeats.spread : null),
            rate(repeats.interval?.low),
            rate(repeats.interval?.high),
            rate(cell.ceiling),
            digits(cell.efficiency),
            rate(cell.claim?.mbps),
            digits(cell.retention),
            cell.mark === null ? null : MARKS[cell.mark].words,
            digits(cell.iops),
            digits(cell.p50Us),
            digits(cell.p99Us),
            cell.origin,
            cell.cautions.join("; "),
          ],
        ];
      }),
    ),
  ];
}

/** What an answer is of, to stand below its pictures. */
export function noteOf(shown: ShownComparison, question: Question, unit: RateUnit): string {
  const drills = shown.columns.map(({ title, direction }) => `${title} ${DOING[direction]}`);
  const against = shown.baseline
    ? `rig ${shown.baseline.letter}, ${shown.baseline.name}`
    : question.against === "claim"
      ? "what is claimed"
      : "the link ceiling";
  const cells = shown.rows.flatMap((row) => row.cells.flatMap((cell) => cell ?? []));
  const simulated = cells.some(({ origin }) => origin === "simulated");
  const other = [...new Set(cells.map(({ origin }) => origin))].filter(
    (origin) => origin !== "measured" && origin !== "simulated",
  );
  return `${[...new Set(drills)].join(", ")}; ${counted(shown.rows.length, "rig")} against ${against}; medians in ${unit}.${simulated ? " Simulated." : ""}${other.length > 0 ? ` Partly ${other.join(" and ")}.` : ""}`;
}

/** An answer as a picture for a screen: what it says, and the rigs of its first drill, those in its order first. */
export function comparisonSlide(shown: ShownComparison, question: Question, unit: RateUnit): Slide {
  const { rate, said } = ratesIn(unit);
  const [only, ...more] = shown.rows;
  if (only && more.length === 0) return rigSlide(only, shown, unit);
  const at = shown.columns.findIndex((_, i) => shown.rows.some(({ cells }) => cells[i]));
  const small = isSmall(shown.columns[at]?.block ?? null);
  return {
    statement: tellComparison(shown, said),
    source: `${noteOf(shown, question, unit)} Made with Nerrit.`,
    rows: shown.rows
      .flatMap(({ letter, name, cells }) => {
        const cell = cells[at];
        if (!cell) return [];
        const value = small ? cell.iops : cell.repeats.median;
        return [
          {
            name: `${letter}  ${name}`,
            figure: `${small ? formatNumber(value) : rate(value)}${isBeyond(cell) ? " !" : ""}`,
            rate: isBeyond(cell) ? null : value,
            ceiling: small ? null : cell.ceiling,
          },
        ];
      })
      .slice(0, MOST_ROWS),
  };
}

/** One rig as a card for a screen: its path, and what it gave in each drill. */
function rigSlide(
  { letter, path, fileSystem, cells }: ShownComparison["rows"][number],
  shown: ShownComparison,
  unit: RateUnit,
): Slide {
  const { rate, said } = ratesIn(unit);
  const ceilings = cells.flatMap((cell) => cell?.ceiling ?? []);
  const hottest = cells.flatMap((cell) => cell?.hottest ?? []);
  const around = [
    ...(ceilings.length > 0 ? [`link ceiling ${said(Math.max(...ceilings))}`] : []),
    ...(hottest.length > 0 ? [`hottest ${formatNumber(Math.max(...hottest))} °C`] : []),
    ...(fileSystem ? [fileSystem] : []),
  ];
  return {
    statement: `Rig ${letter}: ${path.join(" · ")}`,
    source: `${around.join(", ")}; medians in ${unit}, frame: link ceiling.${shown.origin === "simulated" ? " Simulated." : ""} Made with Nerrit.`,
    rows: cells
      .flatMap((cell, i) => {
        if (!cell) return [];
        const { title, direction, block } = shown.columns[i]!;
        const small = isSmall(block);
        const beyond = isBeyond(cell) ? " !" : "";
        return [
          {
            name: `${title}, ${DOING[direction]}`,
            figure: `${small ? `${formatNumber(cell.iops)}/s` : rate(cell.repeats.median)}${beyond}`,
            rate: small || beyond ? null : cell.repeats.median,
            ceiling: small ? null : cell.ceiling,
          },
        ];
      })
      .slice(0, MOST_ROWS),
  };
}

/** A suite as a table that leaves the program: a line for each test, with how good each rig is against the first. */
export function suiteRows({ rigs, rows }: SuiteShown, unit: RateUnit): Cell[][] {
  const [base] = rigs;
  return [
    [
      "test",
      "unit",
      ...rigs.map(({ letter, name }) => `${letter} ${name}`),
      ...rigs.slice(1).map(({ letter }) => `${letter} against ${base!.letter}`),
    ],
    ...rows.map((row): Cell[] => {
      const isRate = row.unit === "MB/s";
      return [
        row.name,
        isRate ? unit : row.unit,
        ...row.cells.map(({ value }) =>
          digits(value !== null && isRate ? inUnit(value, unit) : value),
        ),
        ...row.cells.slice(1).map(({ ratio }) => digits(ratio)),
      ];
    }),
  ];
}
