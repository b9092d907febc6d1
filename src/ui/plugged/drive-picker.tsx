"use client";

import type { SeenDrive } from "@/core/system/drive";
import { Combobox, type Choices } from "../controls/combobox";
import { driveHint, driveTitle } from "./drive-words";

/** Picks a place to measure out of what is plugged in: where a drive is mounted, or its device. */
export function DrivePicker({
  label,
  name = "plugged",
  drives,
  onPick,
  className,
}: {
  label: string;
  name?: string;
  drives: readonly SeenDrive[] | null;
  onPick: (path: string) => void;
  className?: string;
}) {
  const groups = (drives ?? []).map((drive): Choices => {
    const hint = driveHint(drive);
    return {
      heading: hint ? `${driveTitle(drive)} · ${hint}` : driveTitle(drive),
      items: drive.places.map(({ device, point, fileSystem, readOnly }) => ({
        id: point ?? device,
        text: point ?? device,
        hint: point
          ? `${fileSystem} on ${device}${readOnly ? ", mounted read only" : ""}`
          : "the whole device, which is only read",
      })),
    };
  });
  return (
    <Combobox
      label={label}
      name={name}
      shown={label}
      className={className}
      groups={groups}
      note={
        drives === null
          ? "Detecting ..."
          : drives.length === 0
            ? "The system lists no drive."
            : "The list follows plugging in and taking out."
      }
      onPick={onPick}
    />
  );
}
