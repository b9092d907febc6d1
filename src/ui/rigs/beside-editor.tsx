"use client";

import { X } from "lucide-react";
import { boxOf, Layout, LAYOUT_BY_NAMES, LAYOUT_NAMES, LayoutBy, type Rig } from "@/core/chain/rig";
import { Fold } from "../controls/fold";
import { Input } from "../controls/form";
import { Select } from "../controls/select";
import { Small } from "./chain-editor";
import { PartPicker } from "./part-picker";

/** Further drives in the same box as the last one, and how they work together. */
export function BesideEditor({
  rig,
  onChange,
}: {
  rig: Rig;
  onChange: (change: Pick<Partial<Rig>, "beside" | "layout" | "layoutBy" | "bay">) => void;
}) {
  const { parts, beside, layout, layoutBy, bay } = rig;
  const [box, last] = [boxOf(parts), parts.at(-1)];
  if (last?.kind !== "drive" || parts.length < 3 || !box) return null;
  const hasBays = box.kind === "enclosure" || box.kind === "network-box";
  const what = hasBays
    ? `Several drives, or a bay, in ${box.name}`
    : `Several drives on ${box.name}`;
  return (
    <Fold
      open={beside.length > 0 || Boolean(bay)}
      className="text-sm"
      summary={`${what}${beside.length > 0 ? ` (${beside.length + 1})` : ""}`}
    >
      {beside.length === 0 && (hasBays || bay) && (
        <label className="mt-1 flex items-center gap-2">
          Bay of {last.name}, as printed on the box
          <Input
            name="bay"
            className="!w-24"
            placeholder="3"
            value={bay || ""}
            onChange={(event) => onChange({ bay: event.target.value })}
          />
        </label>
      )}
      <div className="mt-1 flex flex-wrap items-center gap-2">
        {beside.map((drive) => (
          <span key={drive.id} className="flex items-center gap-1 border border-line px-1.5">
            {drive.name}
            <Small
              label={`Remove ${drive.name} from the box`}
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
            label="How the drives work together"
            className="!w-auto"
            value={layout}
            options={Layout.options.map((value) => ({ value, text: LAYOUT_NAMES[value] }))}
            onChange={(next) => next && onChange({ layout: next })}
          />
        )}
        {beside.length > 0 && layout !== "apart" && (
          <Select
            label="What adds copies and parity"
            className="!w-auto"
            value={layoutBy}
            options={LayoutBy.options.map((value) => ({ value, text: LAYOUT_BY_NAMES[value] }))}
            onChange={(next) => next && onChange({ layoutBy: next })}
          />
        )}
      </div>
    </Fold>
  );
}
