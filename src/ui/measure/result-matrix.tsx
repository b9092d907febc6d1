"use client";

import { Link } from "../controls/link";
import type { MatrixCell, ResultMatrix } from "@/core/answer/result-matrix";
import { formatNumber, formatPercent } from "@/core/units/number";
import { CELL, HEAD, HEAD_RIGHT } from "../controls/table";
import { Tip } from "../controls/tip";
import { useRates } from "../frame/unit";
import { WAYS } from "./form/ways";

/** What was measured so far, rigs by drills: medians, their share of the ceiling, and what is doubtful. */
export function ResultMatrixTable({ matrix, studyId }: { matrix: ResultMatrix; studyId: string }) {
  const { unit, rate } = useRates();
  const { columns, rows } = matrix;
  const written = (cell: MatrixCell, isCounted: boolean) =>
    isCounted ? `${formatNumber(cell.median)}/s` : rate(cell.median);
  return (
    <div className="overflow-x-auto" tabIndex={0} role="group" aria-label="Results, rigs by drills">
      <table className="w-full" data-matrix>
        <thead>
          <tr>
            <th className={`${HEAD} sticky left-0 bg-sheet`}>rig</th>
            {columns.map(({ drill, direction, title, what, counted: isCounted }) => (
              <th key={`${drill} ${direction}`} className={HEAD_RIGHT}>
                <Tip text={what}>
                  <span tabIndex={0}>
                    {title}, {WAYS[direction]}
                    <span className="block font-normal text-secondary">
                      {isCounted ? "requests a second" : unit}
                    </span>
                  </span>
                </Tip>
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {rows.map(({ rigId, letter, name, cells }) => (
            <tr key={rigId}>
              <th
                className={`${CELL} sticky left-0 max-w-56 bg-sheet text-left font-medium [overflow-wrap:anywhere]`}
              >
                <span className="font-serif italic">{letter}</span>&ensp;{name}
              </th>
              {cells.map((cell, i) => (
                <td key={i} className={`${CELL} text-right whitespace-nowrap`}>
                  {cell ? (
                    <>
                      <Link
                        href={`/studies/${studyId}/measure?m=${cell.measurementId}`}
                        className="figure font-semibold hover:underline"
                      >
                        {written(cell, columns[i]!.counted)}
                      </Link>
                      {cell.cautions.length > 0 && (
                        <Tip text={cell.cautions.join("; ")}>
                          <span
                            tabIndex={0}
                            className="ml-1"
                            aria-label={`Warning: ${cell.cautions.join("; ")}`}
                          >
                            ⚠
                          </span>
                        </Tip>
                      )}
                      <span className="block text-[12px] text-secondary">{besides(cell)}</span>
                    </>
                  ) : (
                    <span className="text-secondary">–</span>
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

/** "92 %, spread 0.8 %": the share of the ceiling and the spread; of a single run that it is one. */
function besides({ share, spread }: MatrixCell): string {
  const parts = [
    share === null ? "" : formatPercent(share),
    spread === null ? "one run" : `spread ${formatPercent(spread)}`,
  ];
  return parts.filter(Boolean).join(", ");
}
