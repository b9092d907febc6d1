"use client";

import type { ArchiveView as View } from "@/core/archive/view";
import { Trouble } from "../controls/form";
import { ArchiveSettingsForm } from "./archive-settings";
import { AskForm } from "./ask-form";
import { OwnArchive } from "./own-archive";
import { useArchive } from "./use-archive";

/** Questions over everything that was ever measured, and the archive that answers them. */
export function ArchiveView({ first }: { first: View }) {
  const { data: view, isFetching } = useArchive(first);
  const { settings, trouble } = view;
  const isThere = settings.folder !== null || settings.others.length > 0;
  return (
    <>
      <h1 className="mt-4 mb-3 font-serif text-[28px]">Archive</h1>
      <div className="max-w-5xl space-y-6">
        {!isThere && (
          <p className="max-w-2xl text-lg">
            An archive keeps every run as Parquet files, for years and for several benches. Nerrit
            answers questions over all of them, and so does any other program that reads Parquet.
          </p>
        )}
        {isThere && <AskForm />}
        {settings.folder !== null && <OwnArchive view={view} isLooking={isFetching} />}
        {trouble && <Trouble>{trouble}</Trouble>}
        <ArchiveSettingsForm
          key={JSON.stringify(settings)}
          settings={settings}
          isOpen={settings.folder === null}
        />
      </div>
    </>
  );
}
