"use client";

import { X } from "lucide-react";
import { Layout, LAYOUT_NAMES, type Rig } from "@/core/chain/rig";
import { Select } from "../controls/form";
import { Small } from "./chain-editor";
import { PartPicker } from "./part-picker";

/** Further drives in the same box as the last one, and how they work together. */
export function BesideEditor({
  rig,
  onChange,
}: {
  rig: Rig;
  onChange: (change: Pick<Partial<Rig>, "beside" | "layout">) => void;
}) {
  const { parts, beside, layout } = rig;
  if (parts.at(-1)?.kind !== "drive" || parts.length < 3) return null;
  return (
    <details open={beside.length > 0} className="text-sm">
      <summary>
        Several drives in {parts.at(-2)!.name}
        {beside.length > 0 && ` (${beside.length + 1})`}
      </summary>
      <div className="mt-1 flex flex-wrap items-center gap-2">
        {beside.map((drive) => (
          <span key={drive.id} className="flex items-center gap-1 border border-line px-1.5">
            {drive.name}
            <Small
              label={`Take ${drive.name} out of the box`}
              onClick={() => onChange({ beside: beside.filter(({ id }) => id !== drive.id) })}
            >
              <X size={12} aria-hidden />
            </Small>
          </span>
        ))}
        <PartPicker
          label="Another drive in the box"
          name="next-drive"
          shown="Add a drive beside the last one ..."
          className="!w-64 text-secondary"
          kinds={["drive"]}
          before={[...parts.slice(0, -1)]}
          after={[]}
          onPick={(drive) => {
            const there = [...parts, ...beside].some(({ id }) => id === drive.id);
            if (!there) onChange({ beside: [...beside, drive] });
          }}
        />
        {beside.length > 0 && (
          <Select
            aria-label="How the drives work together"
            className="!w-auto"
            value={layout}
            onChange={(event) => onChange({ layout: event.target.value as Layout })}
          >
            {Layout.options.map((option) => (
              <option key={option} value={option}>
                {LAYOUT_NAMES[option]}
              </option>
            ))}
          </Select>
        )}
      </div>
    </details>
  );
}
