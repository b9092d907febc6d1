import { Fragment, type ReactNode } from "react";
import type { Question, Sort } from "@/core/compare/question";
import type { Reference } from "@/core/study/reference";
import type { ShownComparison, ShownRow } from "@/core/compare/shown";
import { DOING } from "@/core/units/rate";
import { CELL, HEAD, HEAD_RIGHT } from "../controls/table";

/** A column's drill, with the trade's description below it. */
export function DrillHead({ column }: { column: ShownComparison["columns"][number] }) {
  return (
    <th className={HEAD_RIGHT}>
      {column.title}, {DOING[column.direction]}
      <span className="block text-[12px] font-normal">{column.what}</span>
    </th>
  );
}

/** Rows below the title of their study, where rigs of several stand in their order. */
export function GroupedRows({
  rows,
  question,
  columns,
  children,
}: {
  rows: readonly ShownRow[];
  question: Question;
  /** How many cells a heading spans. */
  columns: number;
  children: (row: ShownRow) => ReactNode;
}) {
  const grouped = question.sort === "letter";
  return rows.map((row, i) => (
    <Fragment key={row.rigId}>
      {grouped && row.study !== null && row.study !== rows[i - 1]?.study && (
        <tr>
          <th colSpan={columns} className={`${CELL} pt-3 text-left font-serif font-normal`}>
            {row.study}
          </th>
        </tr>
      )}
      {children(row)}
    </Fragment>
  ));
}

/** A rig as the head of its row. */
export function RigHead({
  row,
  baseline,
  question,
}: {
  row: ShownRow;
  baseline: boolean;
  question: Question;
}) {
  return (
    <th className={`${CELL} max-w-72 min-w-36 text-left font-medium [overflow-wrap:anywhere]`}>
      <span className="font-serif italic">{row.letter}</span>&ensp;{row.name}
      {row.study !== null && question.sort !== "letter" && (
        <span className="ml-2 text-[13px] font-normal text-secondary">{row.study}</span>
      )}
      {baseline && <span className="ml-2 text-[13px] font-semibold">baseline</span>}
      {row.fileSystem && (
        <span className="ml-2 text-[13px] font-normal text-secondary">{row.fileSystem}</span>
      )}
    </th>
  );
}

/** The head of a row for a rate that no rig here gave. */
export const ReferenceHead = ({ reference }: { reference: Reference }) => (
  <th className={`${CELL} max-w-72 min-w-36 text-left font-medium italic [overflow-wrap:anywhere]`}>
    {reference.name}
    <span className="ml-2 text-[13px] font-normal text-secondary not-italic">stated, no rig</span>
  </th>
);

/** A head that puts the rows in the order of its column. */
export function Sorted({
  words,
  sort,
  now,
  onSort,
  left = false,
}: {
  words: string;
  sort: Sort;
  now: Sort;
  onSort: (sort: Sort) => void;
  left?: boolean;
}) {
  return (
    <th className={left ? HEAD : HEAD_RIGHT} aria-sort={sort === now ? "descending" : "none"}>
      <button
        type="button"
        className={`hover:underline ${sort === now ? "font-semibold text-ink" : ""}`}
        onClick={() => onSort(sort)}
      >
        {words}
        {sort === now && sort !== "letter" && " ↓"}
      </button>
    </th>
  );
}
