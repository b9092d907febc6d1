"use client";

import type { LogColumns } from "@/core/elsewhere/preview";
import { COLUMN_ROLES, type ColumnRole, type LogColumn } from "@/core/elsewhere/log";
import { formatNumber } from "@/core/units/number";
import { Checkbox } from "../controls/checkbox";
import { Trouble } from "../controls/form";
import { Select } from "../controls/select";
import { CELL, HEAD } from "../controls/table";
import { scaleOptions } from "./scales";

/** What the columns of a log are taken for, to be said otherwise. */
export function Columns({
  preview,
  onChange,
}: {
  preview: LogColumns;
  onChange: (column: number, next: Partial<LogColumn>) => void;
}) {
  const roles = Object.entries(COLUMN_ROLES).map(([value, text]) => ({
    value: value as ColumnRole,
    text,
  }));
  return (
    <div className="max-h-60 overflow-auto">
      <table className="w-full">
        <thead>
          <tr>
            <th className={HEAD}>column</th>
            <th className={HEAD}>its first values</th>
            <th className={HEAD}>is</th>
            <th className={HEAD}>in</th>
          </tr>
        </thead>
        <tbody>
          {preview.columns.map(({ column, head, role, scale }) => {
            const scales = scaleOptions(role, scale);
            return (
              <tr key={column}>
                <td className={CELL}>
                  {column}
                  {head && ` · ${head}`}
                </td>
                <td className={`${CELL} figure text-[13px]`}>
                  {preview.head
                    .slice(0, 3)
                    .map((cells) => cells[column - 1] ?? "")
                    .join(", ")}
                </td>
                <td className={CELL}>
                  <Select
                    label={`What column ${column} is`}
                    name={`log-role-${column}`}
                    value={role}
                    options={roles}
                    onChange={(next) =>
                      next !== "" && onChange(column, { role: next, scale: scale ?? 1 })
                    }
                  />
                </td>
                <td className={CELL}>
                  {scales.length > 0 && (
                    <Select
                      label={`The unit of column ${column}`}
                      name={`log-scale-${column}`}
                      value={String(scale)}
                      options={scales}
                      onChange={(next) =>
                        onChange(column, { scale: next === "null" ? null : Number(next) })
                      }
                    />
                  )}
                </td>
              </tr>
            );
          })}
        </tbody>
      </table>
    </div>
  );
}

/** The lines of a log that make no sense, and whether they are left out. */
export function LogProblems({
  preview,
  leaveOut,
  onLeaveOut,
}: {
  preview: LogColumns;
  leaveOut: boolean;
  /** Null where nothing is left without them. */
  onLeaveOut: ((leaveOut: boolean) => void) | null;
}) {
  if (preview.problems.length === 0) return null;
  return (
    <>
      <Trouble>
        {preview.problems.slice(0, 5).map(({ line, column, problem }) => (
          <span key={`${line} ${column}`} className="block">
            Line {line}, column {column}: {problem}.
          </span>
        ))}
        {preview.problemCount > 5 && `and ${formatNumber(preview.problemCount - 5)} more.`}
      </Trouble>
      {onLeaveOut && (
        <Checkbox checked={leaveOut} onChange={onLeaveOut}>
          Leave these lines out, as gaps
        </Checkbox>
      )}
    </>
  );
}
