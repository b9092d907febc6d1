"use client";

import type { ArchiveLook } from "@/core/archive/look";
import type { ArchiveView } from "@/core/archive/view";
import { counted } from "@/core/units/counted";
import { formatNumber } from "@/core/units/number";
import { formatSize } from "@/core/units/size";
import { Button } from "../controls/form";
import { Progress } from "../controls/progress";
import { sayFailed } from "../controls/toast";
import { useArchiveChanges } from "./use-archive";

/** What this bench's archive holds, and the way to add what it lacks. */
export function OwnArchive({ view, isLooking }: { view: ArchiveView; isLooking: boolean }) {
  const { start, stop } = useArchiveChanges();
  const { look, progress, settings } = view;
  const fail = { onError: ({ message }: Error) => sayFailed(message) };
  return (
    <section className="border border-line bg-sheet p-4" data-own-archive>
      <div className="flex flex-wrap items-center justify-between gap-3">
        <div className="min-w-0">
          <h2 className="text-lg font-semibold">
            {progress ? "Runs are being added" : look ? heading(look) : "This bench's archive"}
          </h2>
          <p className="text-secondary [overflow-wrap:anywhere]">
            {look && !progress
              ? details(look)
              : progress
                ? progress.of > 0
                  ? `${formatNumber(progress.done)} of ${counted(progress.of, "run")} looked at, ${formatNumber(progress.added)} new`
                  : "The archive is read"
                : isLooking
                  ? "The folder is read ..."
                  : "Nothing was added yet."}
          </p>
          <p className="text-sm text-secondary [overflow-wrap:anywhere]">{settings.folder}</p>
        </div>
        {progress ? (
          <Button onClick={() => stop.mutate(undefined, fail)}>Stop</Button>
        ) : (
          <Button main disabled={start.isPending} onClick={() => start.mutate(undefined, fail)}>
            Add missing runs
          </Button>
        )}
      </div>
      {progress && (
        <div className="mt-3">
          <Progress label="runs added" value={progress.done} most={progress.of} />
        </div>
      )}
    </section>
  );
}

const heading = ({ runs, hosts }: ArchiveLook) =>
  `The archive holds ${counted(runs, "run")} of ${counted(hosts.length, "host")}`;

const details = ({ samples, parts, from, until, bytes }: ArchiveLook) =>
  [
    counted(samples, "sample"),
    counted(parts, "part"),
    formatSize(bytes, 1000),
    ...(from && until ? [`from ${from.slice(0, 10)} to ${until.slice(0, 10)}`] : []),
  ].join(", ");
