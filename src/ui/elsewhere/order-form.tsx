"use client";

import type { Rig } from "@/core/chain/rig";
import { drillNamed } from "@/core/drills/catalogue";
import { OWN_PLACES, PLACES, SYSTEM_NAMES, type System } from "@/core/elsewhere/machines";
import { DRILLS_ELSEWHERE, type OtherEnd } from "@/core/exchange/order-file";
import { sizeIn } from "@/core/units/size";
import { Checkbox } from "../controls/checkbox";
import { Field, Input } from "../controls/form";
import { Select } from "../controls/select";
import { Toggle } from "../controls/toggle";
import { WAYS } from "../measure/form/ways";

/** What is typed of a measurement on another machine. */
export interface TypedOrder {
  system: System;
  rigId: string;
  /** Drills with their ways, by CHOICES' keys. */
  chosen: readonly string[];
  free: string;
  target: string;
  /** The other end of a copy. */
  other: string;
}

/** The other end of a copy, where one was named: what is written comes from there, what is read goes there. */
export function otherEndOf({
  chosen,
  other,
}: TypedOrder): { way: OtherEnd; folder: string } | null {
  const folder = other.trim();
  if (folder === "") return null;
  if (chosen.includes("ferry write")) return { way: "from", folder };
  return chosen.includes("ferry read") ? { way: "to", folder } : null;
}

export const FIRST_ORDER: TypedOrder = {
  system: "windows",
  rigId: "",
  chosen: ["haul read", "haul write", "scatter read"],
  free: "",
  target: "",
  other: "",
};

/** Every drill of the program, each way that it goes. */
export const CHOICES = DRILLS_ELSEWHERE.flatMap((name) =>
  drillNamed(name)
    .directions.filter((direction) => direction !== "mixed")
    .map((direction) => ({ key: `${name} ${direction}`, name, direction })),
);

const SYSTEMS = (Object.keys(SYSTEM_NAMES) as System[]).map((value) => ({
  value,
  text: SYSTEM_NAMES[value],
}));

/** The fields: which system, which rig, where, and which drills. */
export function OrderForm({
  typed,
  rigs,
  rig,
  onChange,
}: {
  typed: TypedOrder;
  rigs: readonly Rig[];
  rig: Rig | undefined;
  onChange: (part: Partial<TypedOrder>) => void;
}) {
  const { system, chosen, free, target, other } = typed;
  const isWrong = free.trim() !== "" && sizeIn(free.trim()) === null;
  return (
    <>
      <div className="grid gap-3 md:grid-cols-2">
        <Field label="System of that machine">
          <Toggle
            label="System of that machine"
            value={system}
            options={SYSTEMS}
            onChange={(next) => onChange({ system: next })}
          />
        </Field>
        <Field label="Rig">
          <Select
            name="elsewhere-rig"
            value={rig?.id ?? ""}
            options={rigs.map(({ id, name }) => ({ value: id, text: name }))}
            onChange={(next) => onChange({ rigId: next })}
          />
        </Field>
        <Field label="Folder on the drive there">
          <Input
            name="elsewhere-target"
            value={target}
            placeholder={PLACES[system]}
            onChange={(event) => onChange({ target: event.target.value })}
          />
        </Field>
        <Field
          label="Free space there, where known"
          error={isWrong ? "must be a size, for example 500 GB" : undefined}
        >
          <Input
            name="elsewhere-free"
            value={free}
            placeholder="500 GB"
            onChange={(event) => onChange({ free: event.target.value })}
          />
        </Field>
      </div>
      <fieldset className="mt-3">
        <legend className="font-semibold">Drills, with their usual settings</legend>
        <div className="mt-1 grid gap-x-4 gap-y-1 md:grid-cols-3">
          {CHOICES.map(({ key, name, direction }) => (
            <Checkbox
              key={key}
              checked={chosen.includes(key)}
              onChange={(isOn) =>
                onChange({
                  chosen: isOn ? [...chosen, key] : chosen.filter((one) => one !== key),
                })
              }
            >
              {drillNamed(name).title}, {WAYS[direction]}
            </Checkbox>
          ))}
        </div>
      </fieldset>
      {chosen.some((key) => key.startsWith("ferry")) && (
        <div className="mt-3">
          <Field
            label={
              chosen.includes("ferry write")
                ? "Folder to copy to the drive; without one, files are made up"
                : "Folder to copy the drive’s files to; without one, they are only read"
            }
          >
            <Input
              name="elsewhere-other"
              value={other}
              placeholder={OWN_PLACES[system]}
              onChange={(event) => onChange({ other: event.target.value })}
            />
          </Field>
        </div>
      )}
    </>
  );
}
