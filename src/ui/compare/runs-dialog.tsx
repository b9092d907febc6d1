"use client";

import { Link } from "../controls/link";
import { useRouter } from "next/navigation";
import type { ShownCell, ShownRow } from "@/core/compare/shown";
import { Dialog } from "../controls/dialog";
import { CELL, FIGURE, HEAD, HEAD_RIGHT } from "../controls/table";
import { useRates } from "../frame/unit";
import { LeaveOut } from "../trace/leave-out";

/** The runs behind a cell; each can be looked into, and left out with a reason. */
export function RunsDialog({
  row,
  cell,
  title,
  onClose,
}: {
  row: ShownRow;
  cell: ShownCell;
  title: string;
  onClose: () => void;
}) {
  const router = useRouter();
  const { unit, rate } = useRates();
  const [first, ...others] = cell.runs.map(({ id }) => encodeURIComponent(id)).slice(0, 6);
  return (
    <Dialog wide open title={`${row.letter}, ${row.name}: ${title}`} onOpenChange={onClose}>
      <table className="w-full">
        <thead>
          <tr>
            <th className={HEAD}>run</th>
            <th className={HEAD_RIGHT}>{unit}</th>
            <th className={HEAD}>what happened</th>
            <th className={HEAD}>whether it counts</th>
          </tr>
        </thead>
        <tbody>
          {cell.runs.map(({ id, mbps, leftOut }, i) => (
            <tr key={id}>
              <td className={`${CELL} figure`}>{i + 1}</td>
              <td className={`${FIGURE} ${leftOut === null ? "font-semibold" : "line-through"}`}>
                {rate(mbps)}
              </td>
              <td className={CELL}>
                <Link className="underline" href={`/runs/${encodeURIComponent(id)}`}>
                  Its trace
                </Link>
              </td>
              <td className={CELL}>
                <LeaveOut runId={id} leftOut={leftOut} onChanged={() => router.refresh()} />
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      {cell.cautions.map((caution) => (
        <p key={caution} className="mt-1 text-sm">
          ⚠ {caution}
        </p>
      ))}
      {others.length > 0 && (
        <p className="mt-3">
          <Link
            className="underline"
            href={`/runs/${first}?${others.map((id) => `run=${id}`).join("&")}`}
          >
            All of them over each other
          </Link>
        </p>
      )}
    </Dialog>
  );
}
