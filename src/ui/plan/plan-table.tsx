"use client";

import { Link } from "../controls/link";
import { letterOf } from "@/core/answer/lettered-rig";
import type { Rig } from "@/core/chain/rig";
import { kindOf, titleOf } from "@/core/drills/drill";
import { levelWords } from "@/core/plan/fill-levels";
import { isOver } from "@/core/plan/plan";
import type { PlanCell } from "@/core/plan/table";
import type { PlanView } from "@/core/plan/view";
import { counted } from "@/core/units/counted";
import { formatNumber, formatPercent } from "@/core/units/number";
import { CELL, HEAD, HEAD_RIGHT } from "../controls/table";
import { useRates } from "../frame/unit";
import { WAYS } from "../measure/form/ways";

/** A plan's runs, rigs by drills: medians as they come, and how far each is. */
export function PlanTable({
  view: { plan, table, studyId, state },
  rigs,
}: {
  view: PlanView;
  rigs: readonly Rig[];
}) {
  const { unit } = useRates();
  return (
    <div className="overflow-x-auto">
      <table className="w-full" data-plan-table>
        <thead>
          <tr>
            <th className={`${HEAD} sticky left-0 bg-sheet`}>rig</th>
            {plan.drills.map((drill, i) => (
              <th key={i} className={HEAD_RIGHT}>
                {titleOf(drill)}, {WAYS[drill.direction]}
                {levelWords(plan, i)}
                <span className="block text-[12px] font-normal">
                  {kindOf(drill).shows.includes("iops") ? "requests a second" : unit}
                </span>
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {table.rows.map(({ rigId, cells }) => {
            const at = rigs.findIndex(({ id }) => id === rigId);
            return (
              <tr key={rigId}>
                <th
                  className={`${CELL} sticky left-0 max-w-56 bg-sheet text-left font-medium [overflow-wrap:anywhere]`}
                >
                  <span className="font-serif italic">{at < 0 ? "–" : letterOf(at)}</span>&ensp;
                  {rigs[at]?.name ?? "no rig of this study any more"}
                </th>
                {cells.map((cell, i) => (
                  <td key={i} className={`${CELL} text-right whitespace-nowrap`}>
                    <Cell cell={cell} studyId={studyId} over={isOver(state)} />
                  </td>
                ))}
              </tr>
            );
          })}
        </tbody>
      </table>
    </div>
  );
}

function Cell({ cell, studyId, over }: { cell: PlanCell; studyId: string; over: boolean }) {
  const { rate } = useRates();
  const { median, measurementId } = cell;
  return (
    <>
      {median === null || measurementId === null ? (
        <span className="text-secondary">–</span>
      ) : (
        <Link
          href={`/studies/${studyId}/measure?m=${measurementId}`}
          className="figure font-semibold hover:underline"
        >
          {cell.counted ? formatNumber(median) : rate(median)}
        </Link>
      )}
      {cell.doubtful && (
        <span className="ml-1" aria-label="Warning: memory may have answered">
          ⚠
        </span>
      )}
      <span className="block text-[12px] text-secondary">{besides(cell, over)}</span>
    </>
  );
}

/** "92 %, spread 0.8 %, 2 of 3 done": what stands below a median. */
function besides({ share, spread, done, of, isRunning, failed }: PlanCell, over: boolean): string {
  const parts = [
    share === null ? "" : formatPercent(share),
    spread === null ? (done === 1 ? "one run" : "") : `spread ${formatPercent(spread)}`,
    isRunning ? "measuring" : "",
    done < of && (done > 0 || isRunning || over) ? `${done} of ${of} done` : "",
    of === 0 ? "left out" : done === 0 && !isRunning && !over ? "waiting" : "",
    failed > 0 ? counted(failed, "failed run") : "",
  ];
  return parts.filter(Boolean).join(", ");
}
