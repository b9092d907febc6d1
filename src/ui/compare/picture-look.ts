import type { Question } from "@/core/compare/question";
import type { ShownComparison, ShownRow } from "@/core/compare/shown";
import { DOING } from "@/core/units/rate";
import type { Look } from "../charts/plot";

/** What every picture of an answer is drawn from. */
export interface PictureProps {
  shown: ShownComparison;
  question: Question;
}

export const LABELS = "Barlow Semi Condensed";
/** More rigs than these would be too thin to be told apart. */
export const MOST = 40;
/** Beyond so many rigs their letters alone stand below them. */
const NAMED = 12;

export const nameOf = ({ title, direction }: ShownComparison["columns"][number]): string =>
  `${title}, ${DOING[direction]}`;

export const titleOf = ({ columns, rows }: ShownComparison): string =>
  columns.length === 1
    ? `${nameOf(columns[0]!)}, through ${rows.length} rigs`
    : `${new Set(columns.map(({ drill }) => drill)).size} drills through ${rows.length} rigs`;

/** Rigs side by side, each with its name where there is room. */
export const rigAxis = (rows: readonly ShownRow[], axis: Look["axis"]) => ({
  ...axis,
  type: "category" as const,
  data: rows.map(({ letter, name }) => (rows.length > NAMED ? letter : `${letter}  ${name}`)),
  axisLabel: {
    ...(axis.axisLabel as object),
    fontFamily: LABELS,
    interval: 0,
    width: Math.max(24, 1060 / rows.length - 8),
    overflow: "truncate",
  },
});
