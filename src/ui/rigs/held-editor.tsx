"use client";

import { useState } from "react";
import { allLinks } from "@/core/chain/link";
import type { Held, Rig } from "@/core/chain/rig";
import { streamRate } from "@/core/study/demand";
import { formatRate } from "@/core/units/number";
import { Fold } from "../controls/fold";
import { Button, Input } from "../controls/form";
import { Select } from "../controls/select";
import { Tip } from "../controls/tip";

/** What others hold of a rig's links: a busy neighbour, or a display behind the same dock. */
export function HeldEditor({ rig, onChange }: { rig: Rig; onChange: (held: Held[]) => void }) {
  const lowers = new Map(allLinks(rig).map(({ lower }) => [lower.id, lower]));
  const [display, setDisplay] = useState(DISPLAY);
  if (lowers.size === 0) return null;
  const { held } = rig;
  const change = (i: number, part: Partial<Held>) =>
    onChange(held.with(i, { ...held[i]!, ...part }));
  const add = (what: string, write: number) =>
    onChange([...held, { partId: [...lowers.keys()][0]!, what, read: 0, write }]);
  const [width = NaN, height = NaN, perSecond = NaN, bits = NaN] = display.map(Number);
  const stream = streamRate({
    what: "display",
    direction: "write",
    width,
    height,
    perSecond,
    bits,
    streams: 1,
    compression: 1,
  });
  return (
    <Fold
      open={held.length > 0}
      className="text-sm"
      summary={`Bandwidth used by other devices on a link${held.length > 0 ? ` (${held.length})` : ""}`}
    >
      <ul className="my-1 space-y-1">
        {held.map(({ partId, what, read, write }, i) => (
          <li key={`${held.length}-${i}`} className="flex flex-wrap items-center gap-2">
            <Input
              aria-label="Device that uses it"
              className="!w-40"
              value={what}
              onChange={(event) => change(i, { what: event.target.value })}
            />
            on the link to
            <Select
              label="Which link"
              className="!w-auto"
              value={partId}
              options={[...lowers.values()].map(({ id, name }) => ({ value: id, text: name }))}
              onChange={(next) => change(i, { partId: next })}
            />
            <Rate label="reading" value={read} onChange={(next) => change(i, { read: next })} />
            <Rate label="writing" value={write} onChange={(next) => change(i, { write: next })} />
            MB/s
            <Button
              aria-label={`Remove ${what}`}
              className="!px-1.5 !py-0"
              onClick={() => onChange(held.toSpliced(i, 1))}
            >
              ✕
            </Button>
          </li>
        ))}
      </ul>
      <div className="flex flex-wrap items-center gap-2">
        <Button className="!py-0 text-sm" onClick={() => add("busy neighbour", 0)}>
          Add a device
        </Button>
        <span className="ml-2">or a display of</span>
        {["pixels wide", "pixels high", "pictures a second", "bits a pixel"].map((label, i) => (
          <Tip key={label} text={label}>
            <Input
              aria-label={label}
              inputMode="decimal"
              className="figure !w-16"
              value={display[i]}
              onChange={(event) => setDisplay(display.with(i, event.target.value))}
            />
          </Tip>
        ))}
        <Button
          className="!py-0 text-sm"
          disabled={!(stream > 0)}
          onClick={() =>
            add(`display ${width}×${height} at ${perSecond}`, Number(stream.toPrecision(4)))
          }
        >
          Add {stream > 0 ? `${formatRate(stream)} MB/s` : "it"}
        </Button>
      </div>
    </Fold>
  );
}

/** Width, height, pictures a second and bits a pixel of a common display. */
const DISPLAY = ["3840", "2160", "60", "24"];

function Rate({
  label,
  value,
  onChange,
}: {
  label: string;
  value: number;
  onChange: (mbps: number) => void;
}) {
  const [typed, setTyped] = useState(String(value));
  return (
    <label className="flex items-center gap-1">
      {label}
      <Input
        inputMode="decimal"
        className="figure !w-20"
        value={typed}
        aria-invalid={!(Number(typed) >= 0)}
        onChange={(event) => {
          setTyped(event.target.value);
          const mbps = Number(event.target.value);
          if (event.target.value.trim() !== "" && mbps >= 0) onChange(mbps);
        }}
      />
    </label>
  );
}
