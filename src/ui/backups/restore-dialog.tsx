"use client";

import { useRouter } from "next/navigation";
import type { Contents, Replacement } from "@/core/backup/backup";
import { formatMoment } from "@/core/units/day";
import { formatNumber } from "@/core/units/number";
import { Dialog } from "../controls/dialog";
import { Button, Trouble } from "../controls/form";
import { CELL, FIGURE, HEAD, HEAD_RIGHT } from "../controls/table";
import { saySaved } from "../controls/toast";
import { useBackupChanges, useReplacement } from "./use-backups";

/** What a backup would replace, before it does. @param name null: none is asked for */
export function RestoreDialog({ name, onClose }: { name: string | null; onClose: () => void }) {
  const router = useRouter();
  const { data, error, isFetching } = useReplacement(name);
  const { restore } = useBackupChanges();
  const go = () =>
    restore.mutate(name!, {
      onSuccess: ({ backup }) => {
        onClose();
        saySaved(`The backup of ${formatMoment(backup.at)} is restored.`);
        router.refresh();
      },
    });
  const close = () => {
    restore.reset();
    onClose();
  };
  return (
    <Dialog
      title="Restore a backup"
      open={name !== null}
      onOpenChange={(open) => !open && !restore.isPending && close()}
    >
      <div className="space-y-3">
        {isFetching && <p className="text-secondary">The backup is read through ...</p>}
        {error && <Trouble>{error.message}</Trouble>}
        {data && !isFetching && <Replaced {...data} />}
        {restore.error && <Trouble>{restore.error.message}</Trouble>}
        <div className="flex justify-end gap-3">
          <Button onClick={close} disabled={restore.isPending}>
            Cancel
          </Button>
          <Button main disabled={!data || isFetching || restore.isPending} onClick={go}>
            {restore.isPending ? "Restoring ..." : "Restore"}
          </Button>
        </div>
      </div>
    </Dialog>
  );
}

const ROWS: [keyof Omit<Contents, "latestRun">, string][] = [
  ["studies", "studies"],
  ["rigs", "rigs"],
  ["parts", "parts"],
  ["runs", "runs"],
];

function Replaced({ now, then, backup }: Replacement) {
  const lost = now.runs - then.runs;
  return (
    <>
      <p className="text-lg font-semibold">
        {lost > 0
          ? `Everything becomes as it was on ${formatMoment(backup.at)}: ${formatNumber(lost)} runs fewer than now.`
          : `Everything becomes as it was on ${formatMoment(backup.at)}.`}
      </p>
      <p className="text-secondary">
        What there is now is backed up before, so that this can be undone in the same way.
      </p>
      <table className="w-full">
        <thead>
          <tr>
            <th className={HEAD}>
              <span className="sr-only">of what</span>
            </th>
            <th className={HEAD_RIGHT}>now</th>
            <th className={HEAD_RIGHT}>in the backup</th>
          </tr>
        </thead>
        <tbody>
          {ROWS.map(([key, name]) => (
            <tr key={key}>
              <td className={CELL}>{name}</td>
              <td className={FIGURE}>{formatNumber(now[key])}</td>
              <td className={FIGURE}>{formatNumber(then[key])}</td>
            </tr>
          ))}
          <tr>
            <td className={CELL}>latest run</td>
            <td className={FIGURE}>{moment(now.latestRun)}</td>
            <td className={FIGURE}>{moment(then.latestRun)}</td>
          </tr>
        </tbody>
      </table>
    </>
  );
}

const moment = (at: string | null): string =>
  at && !Number.isNaN(Date.parse(at)) ? formatMoment(at) : "none";
