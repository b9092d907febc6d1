"use client";

import type { ComponentProps } from "react";
import type { SeenDrive } from "@/core/system/drive";
import { Input } from "../controls/form";
import { DrivePicker } from "./drive-picker";

/** Where to measure: picked out of what is plugged in, or typed. */
export function TargetInput({
  drives,
  onPick,
  ...input
}: Omit<ComponentProps<"input">, "onChange"> & {
  drives: readonly SeenDrive[] | null;
  onPick: (path: string) => void;
  onChange: (event: { target: { value: string } }) => void;
}) {
  return (
    <span className="flex gap-2">
      <Input spellCheck={false} className="min-w-0" {...input} />
      <DrivePicker
        label="Plugged in"
        name={`plugged-${input.name}`}
        drives={drives}
        onPick={onPick}
        className="!w-auto shrink-0"
      />
    </span>
  );
}
