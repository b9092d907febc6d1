import { formatNumber } from "../units/number";
import { type Block, type Cell } from "./document";

const MOST_LINES = 8;

/** Longer names would take two lines of the page. */
const NAME = 36;

export const linesOf = (block: Block): number =>
  block.kind === "table" ? block.table.rows.length : 1;

export const shortened = (text: string): string => {
  const signs = [...text];
  return signs.length > NAME ? `${signs.slice(0, NAME - 1).join("")}…` : text;
};

export const prose = (text: string): Block => ({ kind: "prose", words: [text] });

/** A table of at most as many lines as one page holds. */
export function table({
  key,
  title,
  note,
  columns,
  rows,
  figures,
  most = MOST_LINES,
}: {
  key: string;
  title: string;
  note: string;
  columns: readonly string[];
  rows: readonly Cell[][];
  /** Which columns are figures. */
  figures: readonly number[];
  most?: number;
}): Block {
  const left = rows.length - most;
  return {
    kind: "table",
    table: {
      key,
      title,
      note:
        left > 0
          ? `${note} ${formatNumber(left)} more are left out; the sheet side by side has every rig.`
          : note,
      columns: columns.map((name, i) => ({ name, figure: figures.includes(i) })),
      rows: rows.slice(0, most).map((row) => [...row]),
    },
  };
}
