"use client";

import type { Question, Sort } from "@/core/compare/question";
import type { ShownCell, ShownComparison, ShownRow } from "@/core/compare/shown";
import { DOING } from "@/core/units/rate";
import { formatMicroseconds, formatNumber, formatPercent } from "@/core/units/number";
import { CELL, FIGURE, HEAD, HEAD_RIGHT } from "../controls/table";
import { useRates, useUnit } from "../frame/unit";
import { BaselineMark, shareOf, shareWords } from "./cell-words";

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
  const unit = useUnit();
  return columns.length === 1 ? (
    <OneDrill shown={shown} question={question} onSort={onSort} onOpen={onOpen} />
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
              <th key={i} className={HEAD_RIGHT}>
                {column.title}, {DOING[column.direction]}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {rows.map((row) => (
            <tr key={row.rigId}>
              <RigHead row={row} baseline={shown.baseline?.rigId === row.rigId} />
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
                    <span className="font-sans text-[13px] text-secondary">not measured</span>
                  )}
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

function RigHead({ row, baseline }: { row: ShownRow; baseline: boolean }) {
  return (
    <th className={`${CELL} max-w-72 text-left font-medium [overflow-wrap:anywhere]`}>
      <span className="font-serif italic">{row.letter}</span>&ensp;{row.name}
      {baseline && <span className="ml-2 text-[13px] font-semibold">baseline</span>}
      {row.fileSystem && (
        <span className="ml-2 text-[13px] font-normal text-secondary">{row.fileSystem}</span>
      )}
    </th>
  );
}

function OneDrill({
  shown,
  question,
  onSort,
  onOpen,
}: {
  shown: ShownComparison;
  question: Question;
  onSort: (sort: Sort) => void;
  onOpen: (row: ShownRow, column: number) => void;
}) {
  const { unit, rate } = useRates();
  const small = shown.columns[0]?.block !== null && shown.columns[0]!.block <= 64 * 1024;
  const based = shown.baseline !== null;
  const sorted = (words: string, sort: Sort) => (
    <Sorted words={words} sort={sort} now={question.sort} onSort={onSort} />
  );
  return (
    <div className="overflow-x-auto">
      <table className="w-full">
        <thead>
          <tr>
            <Sorted words="rig" sort="letter" now={question.sort} onSort={onSort} left />
            {sorted(unit, "rate")}
            {small && <th className={HEAD_RIGHT}>requests a second</th>}
            <th className={HEAD_RIGHT}>ceiling</th>
            {sorted("of the ceiling", "efficiency")}
            <th className={HEAD_RIGHT}>claimed</th>
            {based && sorted("of the baseline", "retention")}
            {sorted("spread", "spread")}
            <th className={HEAD_RIGHT}>95 % interval</th>
            <th className={HEAD_RIGHT}>n</th>
            <th className={HEAD_RIGHT}>p50 / p99</th>
            <th className={HEAD}>origin</th>
          </tr>
        </thead>
        <tbody>
          {shown.rows.map((row) => {
            const cell = row.cells[0];
            const interval = cell?.repeats.interval;
            return (
              <tr key={row.rigId}>
                <RigHead row={row} baseline={shown.baseline?.rigId === row.rigId} />
                {cell ? (
                  <>
                    <td className={`${FIGURE} font-semibold`}>
                      <button
                        type="button"
                        className="hover:underline"
                        data-runs={row.letter}
                        onClick={() => onOpen(row, 0)}
                      >
                        <span className="sr-only">The runs of {row.letter}: </span>
                        {rate(cell.repeats.median)}
                      </button>{" "}
                      <BaselineMark mark={cell.mark} />
                    </td>
                    {small && <td className={FIGURE}>{formatNumber(cell.iops)}</td>}
                    <td className={FIGURE}>{cell.ceiling === null ? "—" : rate(cell.ceiling)}</td>
                    <td className={FIGURE}>
                      {shareWords(cell.efficiency)}
                      {(cell.efficiency ?? 0) > 1 && " ⚠"}
                    </td>
                    <td className={FIGURE}>{cell.claim ? rate(cell.claim.mbps) : "—"}</td>
                    {based && <td className={FIGURE}>{shareWords(cell.retention)}</td>}
                    <td className={FIGURE}>
                      {cell.repeats.n > 1 ? formatPercent(cell.repeats.spread) : "—"}
                    </td>
                    <td className={FIGURE}>
                      {interval
                        ? `${rate(interval.low)} – ${rate(interval.high)}`
                        : "one run: none"}
                    </td>
                    <td className={FIGURE}>{cell.repeats.n}</td>
                    <td className={FIGURE}>
                      {cell.p50Us !== null && cell.p99Us !== null
                        ? `${formatMicroseconds(cell.p50Us)} / ${formatMicroseconds(cell.p99Us)}`
                        : "—"}
                    </td>
                    <td className={CELL}>
                      {cell.origin}
                      {cell.doubtful && " ⚠"}
                    </td>
                  </>
                ) : (
                  <td
                    className={`${CELL} text-secondary`}
                    colSpan={(small ? 1 : 0) + (based ? 10 : 9)}
                  >
                    not measured
                  </td>
                )}
              </tr>
            );
          })}
        </tbody>
      </table>
    </div>
  );
}

function Sorted({
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
