"use client";

import { useState } from "react";
import type { BackupsView as View } from "@/core/backup/backup";
import { REMOVED_DAYS } from "@/core/study/removed";
import { formatMoment } from "@/core/units/day";
import { formatSize } from "@/core/units/size";
import { Button, Trouble } from "../controls/form";
import { Link } from "../controls/link";
import { sayFailed, saySaved } from "../controls/toast";
import { BackupList } from "./backup-list";
import { BackupSettingsForm } from "./backup-settings";
import { RestoreDialog } from "./restore-dialog";
import { useBackupChanges, useBackups } from "./use-backups";
import { holds } from "./words";

/** What keeps years of runs from being lost: the latest backup, all others, and the way back. */
export function BackupsView({ first }: { first: View }) {
  const view = useBackups(first);
  const { make } = useBackupChanges();
  const [restoring, setRestoring] = useState<string | null>(null);
  const isMaking = view.isMaking || make.isPending;
  const [latest] = view.backups;
  return (
    <>
      <h1 className="mt-4 mb-3 font-serif text-[28px]">Backups</h1>
      <div className="max-w-4xl space-y-5">
        <section className="border border-line bg-sheet p-4" data-latest>
          <div className="flex flex-wrap items-center justify-between gap-3">
            <div>
              <p className="text-lg font-semibold">
                {latest ? `The latest is of ${formatMoment(latest.at)}.` : "There is none yet."}
              </p>
              <p className="text-secondary">
                {latest?.contents
                  ? `${holds(latest.contents)}; ${formatSize(latest.bytes, 1000)}. It was read through and is whole.`
                  : "A backup holds all studies, parts, runs and recordings."}
              </p>
              <p className="text-secondary">{nextText(view)}</p>
            </div>
            <Button
              main
              disabled={isMaking}
              onClick={() =>
                make.mutate(undefined, {
                  onSuccess: ({ contents }) =>
                    saySaved(`A backup is made: ${contents ? holds(contents) : "whole"}.`),
                  onError: ({ message }) => sayFailed(message),
                })
              }
            >
              {isMaking ? "Backing up ..." : "Back up now"}
            </Button>
          </div>
          {view.trouble && (
            <div className="mt-3">
              <Trouble>The daily backup could not be made: {view.trouble}</Trouble>
            </div>
          )}
        </section>
        {view.backups.length > 0 && <BackupList backups={view.backups} onRestore={setRestoring} />}
        <p className="text-sm text-secondary [overflow-wrap:anywhere]">
          They lie in {view.folder}. Each is one file that any SQLite program reads. On another
          machine: <code>nerrit restore FILE</code>.
        </p>
        <p>
          To get back a single study, rig or run that was removed in the last {REMOVED_DAYS} days,
          see{" "}
          <Link href="/removed" className="underline">
            Removed
          </Link>
          .
        </p>
        <BackupSettingsForm key={JSON.stringify(view.settings)} settings={view.settings} />
      </div>
      <RestoreDialog name={restoring} onClose={() => setRestoring(null)} />
    </>
  );
}

function nextText({ next, settings }: View): string {
  if (!settings.daily || next === null) return "None is made by itself.";
  return Date.parse(next) <= Date.now()
    ? "The next one is made within a minute, once nothing is measured."
    : `The next one is made by itself on ${formatMoment(next)}; while something is measured it waits.`;
}
