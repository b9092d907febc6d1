"use client";

import { useState } from "react";
import type { Rig } from "@/core/chain/rig";
import type { Drill } from "@/core/drills/drill";
import { drillNamed } from "@/core/drills/catalogue";
import type { DrillDirection } from "@/core/drills/kind";
import {
  commandFor,
  PLACES,
  SYSTEM_NAMES,
  SYSTEM_NOTES,
  type System,
} from "@/core/elsewhere/machines";
import {
  drillElsewhere,
  DRILLS_ELSEWHERE,
  orderFile,
  orderNeeds,
} from "@/core/exchange/order-file";
import { wearOf, wearWords } from "@/core/plan/wear";
import { formatAbout } from "@/core/units/number";
import { formatSize, sizeIn } from "@/core/units/size";
import { Checkbox } from "../controls/checkbox";
import { Dialog } from "../controls/dialog";
import { Button, Field, Input } from "../controls/form";
import { Select } from "../controls/select";
import { Toggle } from "../controls/toggle";
import { WAYS } from "../measure/form/ways";
import { saveFile } from "../out/save";
import { Copyable } from "./copyable";
import { ProgramLink } from "./program-link";

/** Every drill of the program, each way that it goes. */
const CHOICES = DRILLS_ELSEWHERE.flatMap((name) =>
  drillNamed(name)
    .directions.filter((direction) => direction !== "mixed")
    .map((direction) => ({ key: `${name} ${direction}`, name, direction })),
);
const USUAL = ["haul read", "haul write", "scatter read"];
const ORDER = "nerrit-order.json";

/** Plans a measurement on a machine without Nerrit, and says what to do there. */
export function MeasureElsewhere({ rigs }: { rigs: readonly Rig[] }) {
  const [open, setOpen] = useState(false);
  const [system, setSystem] = useState<System>("windows");
  const [rigId, setRigId] = useState("");
  const [chosen, setChosen] = useState<readonly string[]>(USUAL);
  const [free, setFree] = useState("");
  const [target, setTarget] = useState("");
  const rig = rigs.find(({ id }) => id === rigId) ?? rigs[0];
  const room = free.trim() === "" ? null : sizeIn(free.trim());
  const asked = CHOICES.filter(({ key }) => chosen.includes(key));
  const drills = drillsOf(asked, room);
  const needs = orderNeeds({ drills });
  return (
    <>
      <Button disabled={rigs.length === 0} onClick={() => setOpen(true)}>
        Measure elsewhere
      </Button>
      <Dialog title="Measure on another machine" wide open={open} onOpenChange={setOpen}>
        <p className="mb-3">
          A small program measures where the drive is plugged in. Save the program and the order,
          type one command there, and drop the run file here.
        </p>
        <div className="grid gap-3 md:grid-cols-2">
          <Field label="System of that machine">
            <Toggle
              label="System of that machine"
              value={system}
              options={(["windows", "macos", "linux"] as const).map((value) => ({
                value,
                text: SYSTEM_NAMES[value],
              }))}
              onChange={setSystem}
            />
          </Field>
          <Field label="Rig">
            <Select
              name="elsewhere-rig"
              value={rig?.id ?? ""}
              options={rigs.map(({ id, name }) => ({ value: id, text: name }))}
              onChange={(next) => setRigId(next)}
            />
          </Field>
          <Field label="Folder on the drive there">
            <Input
              name="elsewhere-target"
              value={target}
              placeholder={PLACES[system]}
              onChange={(event) => setTarget(event.target.value)}
            />
          </Field>
          <Field label="Free space there, where known">
            <Input
              name="elsewhere-free"
              value={free}
              placeholder="500 GB"
              onChange={(event) => setFree(event.target.value)}
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
                  setChosen(isOn ? [...chosen, key] : chosen.filter((one) => one !== key))
                }
              >
                {drillNamed(name).title}, {WAYS[direction]}
              </Checkbox>
            ))}
          </div>
        </fieldset>
        <p className="mt-3 border-l-2 border-flow pl-3">
          {drills.length === 0
            ? "Choose a drill."
            : sentences(needs, rig ? wearWords(wearOf([rig], repeated(drills), 1)) : "")}
          {room === null && free.trim() !== "" && " The free space is no size, for example 500 GB."}
        </p>
        <ol className="mt-3 list-decimal space-y-2 pl-5">
          <li>
            <ProgramLink system={system} />
          </li>
          <li>
            <Button
              disabled={drills.length === 0 || !rig}
              onClick={() =>
                saveFile(
                  ORDER,
                  new Blob([orderFile({ rig: rig!.name, drills })], { type: "application/json" }),
                )
              }
            >
              Save the order
            </Button>{" "}
            into the same folder: {ORDER}
          </li>
          <li>
            Open a terminal in that folder, and paste this command.
            <Copyable text={commandFor(system, ORDER, target)} />
          </li>
          <li>
            Drop the run file on any page of this study. It is called nerrit-run, with the time of
            the run.
          </li>
        </ol>
        <p className="mt-3 text-sm text-secondary">{SYSTEM_NOTES[system]}</p>
      </Dialog>
    </>
  );
}

/** What is asked for, as far as it can be done with so much room. */
function drillsOf(
  asked: readonly { name: string; direction: DrillDirection }[],
  room: number | null,
) {
  return asked.map(({ name, direction }) => {
    try {
      return drillElsewhere({ name, direction }, room);
    } catch {
      return drillElsewhere({ name, direction }, null);
    }
  });
}

/** Each drill as often as it is done. */
const repeated = (drills: readonly Drill[]): Drill[] =>
  drills.flatMap((drill) => Array.from({ length: drill.repeats }, () => drill));

/** What the order does to the drive. */
const sentences = ({ seconds, bytes }: { seconds: number; bytes: number }, wear: string) =>
  `Takes ${formatAbout(seconds)} or more. Makes a scratch file of ${formatSize(bytes)} in that folder and removes the file at the end${wear ? `; ${wear}` : ""}. No other file is read or written, and no device.`;
