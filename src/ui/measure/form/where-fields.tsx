"use client";

import type { DrillKind } from "@/core/drills/kind";
import type { SeenDrive } from "@/core/system/drive";
import { Field } from "../../controls/form";
import { DrivePicker } from "../../plugged/drive-picker";
import { TargetInput } from "../../plugged/target-input";
import type { Typed } from "./typed-request";

/** Where a drill goes: the drive, and where it needs them the other end or further drives. */
export function WhereFields({
  kind,
  typed,
  drives,
  errors,
  onChange,
}: {
  kind: DrillKind;
  typed: Typed;
  drives: readonly SeenDrive[] | null;
  errors: Record<string, string>;
  onChange: (part: Partial<Typed>) => void;
}) {
  const text = (name: "target" | "other") => ({
    name,
    value: typed[name],
    onChange: (event: { target: { value: string } }) => onChange({ [name]: event.target.value }),
    onPick: (path: string) => onChange({ [name]: path }),
    "aria-invalid": errors[name] ? true : undefined,
  });
  const writing = typed.direction === "write";
  const copies = kind.source;
  return (
    <div className={`grid gap-3 ${copies || kind.targets === "several" ? "grid-cols-2" : ""}`}>
      <Field
        label={
          copies
            ? writing
              ? "Copied to: directory on the drive"
              : "Read from: directory on the drive"
            : "Directory on the drive, or block device"
        }
        hint={
          copies
            ? writing
              ? "The copy lands in a folder of its own there, which is removed at the end."
              : "It is only read. Files that are made up lie in a folder that is removed at the end."
            : "A nameless scratch file is made there and vanishes by itself. Devices are only read. On another host: lab2:/media/drive."
        }
        error={errors.target}
      >
        <TargetInput placeholder="/media/you/drive" drives={drives} {...text("target")} />
      </Field>
      {copies && (
        <Field
          label={writing ? "Copied from: the folder" : "Copied to, if anywhere"}
          hint={
            writing
              ? "It is only read. Empty: files are made up and written."
              : "The copy lands in a folder of its own there, which is removed at the end. Empty: the folder is read, and nothing is written."
          }
          error={errors.other}
        >
          <TargetInput placeholder="/home/you/pictures" drives={drives} {...text("other")} />
        </Field>
      )}
      {kind.targets === "several" && (
        <Field label="Further drives, a line each" error={errors.more}>
          <DrivePicker
            label="Add one that is plugged in"
            drives={drives}
            onPick={(place) =>
              onChange({ more: [...typed.more.split("\n").filter(Boolean), place].join("\n") })
            }
          />
          <textarea
            name="more"
            rows={2}
            spellCheck={false}
            placeholder={"/media/you/second\nlab2:/media/third"}
            value={typed.more}
            onChange={(event) => onChange({ more: event.target.value })}
            className="w-full rounded-sm border border-line bg-paper px-2 py-1"
          />
        </Field>
      )}
    </div>
  );
}
