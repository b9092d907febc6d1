"use client";

import type { Backup } from "@/core/backup/backup";
import { formatMoment } from "@/core/units/day";
import { formatSize } from "@/core/units/size";
import { Button } from "../controls/form";
import { CELL, FIGURE, HEAD, HEAD_RIGHT } from "../controls/table";
import { sayFailed, saySaved } from "../controls/toast";
import { useBackupChanges } from "./use-backups";
import { holds, WHY } from "./words";

/** Every backup with what it holds, to be restored or removed. */
export function BackupList({
  backups,
  onRestore,
}: {
  backups: readonly Backup[];
  onRestore: (name: string) => void;
}) {
  const { remove } = useBackupChanges();
  return (
    <div className="overflow-x-auto">
      <table className="w-full">
        <thead>
          <tr>
            <th className={HEAD}>made</th>
            <th className={HEAD}>why</th>
            <th className={HEAD}>holds</th>
            <th className={HEAD_RIGHT}>size</th>
            <th className={HEAD}>
              <span className="sr-only">what can be done</span>
            </th>
          </tr>
        </thead>
        <tbody>
          {backups.map(({ name, kind, at, bytes, contents }) => (
            <tr key={name} data-backup={name}>
              <td className={`${CELL} figure whitespace-nowrap`}>{formatMoment(at)}</td>
              <td className={`${CELL} min-w-24`}>{WHY[kind]}</td>
              <td className={`${CELL} min-w-28`}>{contents ? holds(contents) : "not known"}</td>
              <td className={FIGURE}>{formatSize(bytes, 1000)}</td>
              <td className={`${CELL} whitespace-nowrap text-right`}>
                <Button className="text-sm" onClick={() => onRestore(name)}>
                  Restore ...
                </Button>
                <button
                  type="button"
                  className="ml-3 text-[13px] text-secondary underline hover:text-ink"
                  onClick={() =>
                    remove.mutate(name, {
                      onSuccess: () => saySaved(`The backup of ${formatMoment(at)} is removed.`),
                      onError: ({ message }) => sayFailed(message),
                    })
                  }
                >
                  Remove<span className="sr-only"> the backup of {formatMoment(at)}</span>
                </button>
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  );
}
