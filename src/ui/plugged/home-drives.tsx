"use client";

import { useRouter } from "next/navigation";
import { useState } from "react";
import { pathsOf } from "@/core/system/drive";
import { Button } from "../controls/form";
import { saySaved } from "../controls/toast";
import { SystemDialog, type Asking } from "../system/system-dialog";
import { driveHint, driveTitle } from "./drive-words";
import { useDrives } from "./use-drives";

/** The drives that are connected now, each to be measured: a study, a rig and its parts come with the first press. */
export function HomeDrives() {
  const router = useRouter();
  const drives = useDrives();
  const [asking, setAsking] = useState<Asking | null>(null);
  const there = (drives ?? []).flatMap((drive) => {
    const [path] = pathsOf(drive);
    return path ? [{ drive, path }] : [];
  });
  return (
    <section className="border border-line bg-sheet p-4">
      <h2 className="font-serif text-xl">Connected drives</h2>
      {drives !== null && there.length === 0 && (
        <p className="text-secondary">
          The system lists no drive. Connect the drive, and it appears here.
        </p>
      )}
      <ul className="divide-y divide-line">
        {there.map(({ drive, path }) => (
          <li key={drive.id} data-drive={drive.id} className="py-2">
            <span className="block font-medium [overflow-wrap:anywhere]">{driveTitle(drive)}</span>
            <span className="block text-sm text-secondary [overflow-wrap:anywhere]">
              {[path, driveHint(drive)].filter(Boolean).join(" · ")}
            </span>
            <Button className="mt-1" onClick={() => setAsking({ rig: null, path })}>
              Measure this drive
            </Button>
          </li>
        ))}
      </ul>
      <SystemDialog
        asking={asking}
        studyId={null}
        drives={drives}
        onClose={() => setAsking(null)}
        onRig={() => setAsking(null)}
        onMade={(studyId, rigId, path) => {
          saySaved("The study and its rig are made. Now measure the drive.");
          const query = new URLSearchParams(path ? { rig: rigId, target: path } : { rig: rigId });
          router.push(`/studies/${studyId}/measure?${query}`);
        }}
      />
    </section>
  );
}
