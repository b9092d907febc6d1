"use client";

import type { Question, Sort } from "@/core/compare/question";
import type { ShownCell, ShownComparison, ShownRow } from "@/core/compare/shown";
import { DOING } from "@/core/units/rate";
import { formatPercent } from "@/core/units/number";
import { FIGURE } from "../controls/table";
import { useRates } from "../frame/unit";
import { Absent, BaselineMark, isSmall, shareOf, shareWords } from "./cell-words";
import { OneDrillTable } from "./one-drill-table";
import { DrillHead, GroupedRows, ReferenceHead, RigHead, Sorted } from "./table-heads";

const SHARES = { ceiling: "of the ceiling", claim: "of the claim" } as const;
export const shareHead = (against: string): string =>
  against === "ceiling" || against === "claim" ? SHARES[against] : "of the baseline";

/** Rigs down, drills across; of a single drill everything that is known of it. */
export function CompareTable({
  shown,
  question,
  onSort,
  onOpen,
}: {
  shown: ShownComparison;
  question: Question;
  onSort: (sort: Sort) => void;
  /** Told which cell is to be looked into. */
  onOpen: (row: ShownRow, column: number) => void;
}) {
  const { columns, rows } = shown;
  const { unit, rate } = useRates();
  return columns.length === 1 ? (
    <OneDrillTable shown={shown} question={question} onSort={onSort} onOpen={onOpen} />
  ) : (
    <div className="overflow-x-auto">
      <table className="w-full">
        <caption className="mb-1 text-left text-[13px] text-secondary">
          Medians in {unit}; below each its share {shareHead(question.against)}, and half the spread
          of its repeats. A figure opens its runs.
        </caption>
        <thead>
          <tr>
            <Sorted words="rig" sort="letter" now={question.sort} onSort={onSort} left />
            {columns.map((column, i) => (
              <DrillHead key={i} column={column} />
            ))}
          </tr>
        </thead>
        <tbody>
          <GroupedRows rows={rows} question={question} columns={columns.length + 1}>
            {(row) => (
              <tr>
                <RigHead
                  row={row}
                  question={question}
                  baseline={shown.baseline?.rigId === row.rigId}
                />
                {row.cells.map((cell, i) => (
                  <td key={i} className={`${FIGURE} p-0`}>
                    {cell ? (
                      <BriefCell
                        cell={cell}
                        plain={shown.origin !== null}
                        question={question}
                        label={`${row.letter}, ${columns[i]!.title}, ${DOING[columns[i]!.direction]}`}
                        onOpen={() => onOpen(row, i)}
                      />
                    ) : (
                      <Absent />
                    )}
                  </td>
                ))}
              </tr>
            )}
          </GroupedRows>
          {shown.references.map((reference) => (
            <tr key={reference.name}>
              <ReferenceHead reference={reference} />
              {columns.map(({ block }, i) => (
                <td key={i} className={FIGURE}>
                  {isSmall(block) ? <Absent /> : rate(reference.mbps)}
                </td>
              ))}
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  );
}

function BriefCell({
  cell,
  plain,
  question,
  label,
  onOpen,
}: {
  cell: ShownCell;
  /** Whether all cells come from the same, which is said once. */
  plain: boolean;
  question: Question;
  label: string;
  onOpen: () => void;
}) {
  const { rate } = useRates();
  return (
    <button
      type="button"
      data-runs={label}
      className="w-full text-right hover:underline"
      onClick={onOpen}
    >
      <span className="sr-only">The runs of {label}: </span>
      <span className="font-semibold">{rate(cell.repeats.median)}</span>{" "}
      <BaselineMark mark={cell.mark} />
      <span className="block text-[12px] text-secondary">
        {shareWords(shareOf(cell, question))}
        {cell.repeats.n > 1 ? ` ±${formatPercent(cell.repeats.spread / 2)}` : ", 1 run"}
        {!plain && `, ${cell.origin}`}
        {cell.doubtful && " ⚠"}
      </span>
    </button>
  );
}
