"use client";

import Link from "next/link";
import { useState } from "react";
import { letterOf } from "@/core/answer/study";
import type { Rig } from "@/core/chain/rig";
import { HAUL } from "@/core/drills/drill";
import type { Direction } from "@/core/units/rate";
import { formatSize, parseSize } from "@/core/units/size";
import { Checkbox } from "../controls/checkbox";
import { Consent } from "../controls/consent";
import { Fold } from "../controls/fold";
import { Button, Field, Form, Input, Trouble } from "../controls/form";
import { DIRECTIONS, Select } from "../controls/select";
import { send } from "../controls/send";

/** What is typed into the form, as text. */
interface Typed {
  rigId: string;
  direction: Direction;
  target: string;
  seconds: string;
  repeats: string;
  block: string;
  depth: string;
  span: string;
  reserve: string;
  buffered: boolean;
  besideOwnData: boolean;
}

const size = (text: string) => {
  try {
    return parseSize(text);
  } catch {
    return NaN;
  }
};

/** Asks for a measurement and starts it. A refusal says why, and nothing typed is lost. */
export function MeasureForm({
  rigs,
  rigId,
  direction,
  target,
  onStarted,
}: {
  rigs: Rig[];
  rigId: string | null;
  direction: Direction;
  /** Where the rig was measured last. */
  target: string;
  onStarted: (measurementId: string) => void;
}) {
  const [typed, setTyped] = useState<Typed>({
    rigId: rigId ?? rigs[0]?.id ?? "",
    direction,
    target,
    seconds: String(HAUL.seconds),
    repeats: String(HAUL.repeats),
    block: formatSize(HAUL.block),
    depth: String(HAUL.depth),
    span: formatSize(HAUL.span),
    reserve: "",
    buffered: false,
    besideOwnData: false,
  });
  const [errors, setErrors] = useState<Record<string, string>>({});
  const [trouble, setTrouble] = useState<{ message: string; code: string | null } | null>(null);
  const [busy, setBusy] = useState(false);
  const change = (part: Partial<Typed>) => setTyped((was) => ({ ...was, ...part }));
  const bind = (
    name: "target" | "seconds" | "repeats" | "block" | "depth" | "span" | "reserve",
  ) => ({
    name,
    value: typed[name],
    onChange: (event: { target: { value: string } }) => change({ [name]: event.target.value }),
    "aria-invalid": errors[name] ? true : undefined,
  });

  async function start(override: Partial<Typed> = {}) {
    const asked = { ...typed, ...override };
    change(override);
    setBusy(true);
    setTrouble(null);
    setErrors({});
    const sent = await send<{ id: string }>("POST", `/api/rigs/${asked.rigId}/measurements`, {
      target: asked.target,
      direction: asked.direction,
      seconds: Number(asked.seconds),
      repeats: Number(asked.repeats),
      block: size(asked.block),
      depth: Number(asked.depth),
      span: size(asked.span),
      // Text that is no size goes out as such, so that the route refuses it.
      reserve: asked.reserve.trim() === "" ? null : size(asked.reserve) || asked.reserve,
      io: asked.buffered ? "buffered" : "direct",
      besideOwnData: asked.besideOwnData,
    });
    setBusy(false);
    if (sent.ok) return onStarted(sent.data.id);
    setErrors(Object.fromEntries(sent.error.fields.map(({ path, message }) => [path, message])));
    setTrouble(sent.error);
  }

  return (
    <Form onSend={start} className="space-y-3 border border-line bg-sheet p-4">
      <div className="grid grid-cols-[1.4fr_1fr_2fr] gap-3">
        <Field label="Rig" error={errors.rigId}>
          <Select
            name="rig"
            value={typed.rigId}
            options={rigs.map(({ id, name }, i) => ({
              value: id,
              text: `${letterOf(i)} · ${name}`,
            }))}
            onChange={(next) => change({ rigId: next })}
          />
        </Field>
        <Field label="Direction">
          <Select
            name="direction"
            value={typed.direction}
            options={DIRECTIONS}
            onChange={(next) => next && change({ direction: next })}
          />
        </Field>
        <Field
          label="Directory on the drive, or block device"
          hint="A nameless scratch file is made there and vanishes by itself. Devices are only read."
          error={errors.target}
        >
          <Input placeholder="/media/you/drive" spellCheck={false} {...bind("target")} />
        </Field>
      </div>
      <Fold
        summary={
          <span className="text-secondary">
            {`Haul: sequential, ${typed.block} blocks, ${typed.depth} in flight, ${typed.repeats} ${typed.repeats.trim() === "1" ? "repeat" : "repeats"} of ${typed.seconds} s over ${typed.span}`}
          </span>
        }
      >
        <div className="mt-2 grid grid-cols-6 gap-3">
          <Field label="Block" error={errors.block}>
            <Input {...bind("block")} />
          </Field>
          <Field label="In flight" error={errors.depth}>
            <Input {...bind("depth")} />
          </Field>
          <Field label="Seconds" error={errors.seconds}>
            <Input {...bind("seconds")} />
          </Field>
          <Field label="Repeats" error={errors.repeats}>
            <Input {...bind("repeats")} />
          </Field>
          <Field label="Span" hint="walked over" error={errors.span}>
            <Input {...bind("span")} />
          </Field>
          <Field label="Reserve" hint="left free" error={errors.reserve}>
            <Input placeholder="2 %, 1 GiB" {...bind("reserve")} />
          </Field>
        </div>
        <p className="mt-1 text-[13px] text-secondary">
          512 KiB is where hosts commonly cap one USB storage transfer, so the system splits no
          request; 8 MiB in flight covers the delay of any link.
        </p>
        <Checkbox
          className="mt-1"
          checked={typed.buffered}
          onChange={(buffered) => change({ buffered })}
        >
          Measure buffered, through the page cache (flagged on the run)
        </Checkbox>
      </Fold>
      {trouble && trouble.code !== "own-database" && (
        <div className="space-y-2">
          <Trouble>{trouble.message}</Trouble>
          {trouble.code === "no-direct-io" && (
            <Button disabled={busy} onClick={() => void start({ buffered: true })}>
              Measure buffered; flag the run
            </Button>
          )}
        </div>
      )}
      <Consent
        title="Measure Nerrit’s own drive?"
        act="Measure it all the same"
        open={trouble?.code === "own-database" && !busy}
        onAnswer={(yes) => {
          setTrouble(null);
          if (yes) void start({ besideOwnData: true });
        }}
      >
        {trouble?.message}
      </Consent>
      <div className="flex items-center justify-end gap-4">
        {rigs.length === 0 && (
          <span>
            There is no rig yet.{" "}
            <Link href="rigs" className="underline">
              Describe one
            </Link>{" "}
            first.
          </span>
        )}
        <Button main type="submit" disabled={busy || rigs.length === 0}>
          {busy ? "Asking the system ..." : "Measure"}
        </Button>
      </div>
    </Form>
  );
}
