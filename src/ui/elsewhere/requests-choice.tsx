"use client";

import type { DrillDirection } from "@/core/drills/kind";
import { drillNamed } from "@/core/drills/catalogue";
import { shapeOf, usualDrill } from "@/core/drills/shape";
import { formatSize, sizeIn } from "@/core/units/size";
import { Field, Input } from "../controls/form";

/** The requests of what was measured elsewhere, as typed; empty for as usual. */
export interface TypedRequests {
  block: string;
  depth: string;
}

export const NO_REQUESTS: TypedRequests = { block: "", depth: "" };

/** What the typed texts say, for a route; what is no number is sent as one that is refused. */
export const requestsFrom = ({ block, depth }: TypedRequests) => ({
  block: block.trim() === "" ? null : (sizeIn(block) ?? -1),
  depth: depth.trim() === "" ? null : countIn(depth),
});

/** A whole number as typed; what is none becomes one that no schema takes. */
export const countIn = (text: string): number => (/^\s*\d+\s*$/.test(text) ? Number(text) : -1);

/** Size of the requests and how many were in flight, where a drill has either. */
export function RequestsChoice({
  drill,
  direction,
  value,
  onChange,
}: {
  drill: string;
  direction: DrillDirection;
  value: TypedRequests;
  onChange: (value: TypedRequests) => void;
}) {
  const { parameters } = drillNamed(drill);
  const usual = shapeOf(usualDrill(drill, direction));
  if (!usual || !("block" in parameters || "depth" in parameters)) return null;
  return (
    <div className="grid grid-cols-2 gap-3 sm:max-w-80">
      {"block" in parameters && (
        <Field label="Block" hint="of one request">
          <Input
            name="of-block"
            className="figure"
            value={value.block}
            placeholder={formatSize(usual.block)}
            onChange={(event) => onChange({ ...value, block: event.target.value })}
          />
        </Field>
      )}
      {"depth" in parameters && (
        <Field label="In flight" hint="at a time">
          <Input
            name="of-depth"
            className="figure"
            inputMode="numeric"
            value={value.depth}
            placeholder={String(usual.depth)}
            onChange={(event) => onChange({ ...value, depth: event.target.value })}
          />
        </Field>
      )}
    </div>
  );
}
