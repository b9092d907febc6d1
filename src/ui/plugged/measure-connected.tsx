"use client";

import type { SeenDrive } from "@/core/system/drive";
import { saySaved } from "../controls/toast";
import { useGoOn } from "../frame/go-on";
import { SystemDialog } from "../system/system-dialog";

/** Makes a study with a rig of a connected drive, and goes on to measure it. */
export function MeasureConnected({
  path,
  drives,
  onClose,
}: {
  /** Where the drive is; null for none. */
  path: string | null;
  drives: readonly SeenDrive[] | null;
  onClose: () => void;
}) {
  const goOn = useGoOn();
  return (
    <SystemDialog
      asking={path === null ? null : { rig: null, path }}
      studyId={null}
      drives={drives}
      onClose={onClose}
      onRig={onClose}
      onMade={(studyId, rigId, at) => {
        saySaved("The study and its rig are made. Now measure the drive.");
        const query = new URLSearchParams(at ? { rig: rigId, target: at } : { rig: rigId });
        goOn(`/studies/${studyId}/measure?${query}`);
      }}
    />
  );
}
