"use client";

import type { Question, Sort } from "@/core/compare/question";
import type { ShownComparison, ShownRow } from "@/core/compare/shown";
import { formatMicroseconds, formatNumber, formatPercent } from "@/core/units/number";
import { DOING } from "@/core/units/rate";
import { CELL, FIGURE, HEAD, HEAD_RIGHT } from "../controls/table";
import { useRates } from "../frame/unit";
import { Absent, BaselineMark, isSmall, shareWords } from "./cell-words";
import { GroupedRows, ReferenceHead, RigHead, Sorted } from "./table-heads";

/** Everything that is known of one drill, a row for each rig. */
export function OneDrillTable({
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
  const column = shown.columns[0]!;
  const small = isSmall(column.block);
  const based = shown.baseline !== null;
  const warm = shown.rows.some(({ cells: [cell] }) => (cell?.hottest ?? null) !== null);
  const more = Number(small) + Number(based) + Number(warm);
  const sorted = (words: string, sort: Sort) => (
    <Sorted words={words} sort={sort} now={question.sort} onSort={onSort} />
  );
  return (
    <div className="overflow-x-auto">
      <table className="w-full">
        <caption className="mb-1 text-left text-[13px] text-secondary">
          {column.title}, {DOING[column.direction]}: {column.what}. Medians in {unit}; a figure
          opens its runs.
        </caption>
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
            {warm && <th className={HEAD_RIGHT}>hottest</th>}
            <th className={HEAD}>origin</th>
          </tr>
        </thead>
        <tbody>
          <GroupedRows rows={shown.rows} question={question} columns={10 + more}>
            {(row) => {
              const cell = row.cells[0];
              const interval = cell?.repeats.interval;
              return (
                <tr>
                  <RigHead
                    row={row}
                    question={question}
                    baseline={shown.baseline?.rigId === row.rigId}
                  />
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
                      {warm && (
                        <td className={FIGURE}>
                          {cell.hottest === null ? <Absent /> : `${formatNumber(cell.hottest)} °C`}
                        </td>
                      )}
                      <td className={CELL}>
                        {cell.origin}
                        {cell.doubtful && " ⚠"}
                      </td>
                    </>
                  ) : (
                    <>
                      <td className={FIGURE}>
                        <Absent />
                      </td>
                      <td className={CELL} colSpan={8 + more} />
                    </>
                  )}
                </tr>
              );
            }}
          </GroupedRows>
          {!small &&
            shown.references.map((reference) => (
              <tr key={reference.name}>
                <ReferenceHead reference={reference} />
                <td className={`${FIGURE} font-semibold`}>{rate(reference.mbps)}</td>
                <td className={CELL} colSpan={8 + more} />
              </tr>
            ))}
        </tbody>
      </table>
    </div>
  );
}
