"use client";

import { useState } from "react";
import type { Rig } from "@/core/chain/rig";
import type { Drill } from "@/core/drills/drill";
import { commandFor, SYSTEM_NOTES } from "@/core/elsewhere/machines";
import { mixBytes, mixFiles, USUAL_MIX } from "@/core/drills/kinds/ferry";
import { drillElsewhere, orderFile, orderNeeds } from "@/core/exchange/order-file";
import { wearOf, wearWords } from "@/core/plan/wear";
import { counted } from "@/core/units/counted";
import { formatAbout } from "@/core/units/number";
import { formatSize, sizeIn } from "@/core/units/size";
import { Dialog } from "../controls/dialog";
import { Button } from "../controls/form";
import { saveFile } from "../out/save";
import { Copyable } from "./copyable";
import { CHOICES, FIRST_ORDER, OrderForm, otherEndOf, type TypedOrder } from "./order-form";
import { OwnMonitors } from "./own-monitors";
import { ProgramLink } from "./program-link";

const ORDER = "nerrit-order.json";

/** Plans a measurement on a machine without Nerrit, and says what to do there. */
export function MeasureElsewhere({ rigs }: { rigs: readonly Rig[] }) {
  const [open, setOpen] = useState(false);
  const [typed, setTyped] = useState(FIRST_ORDER);
  const rig = rigs.find(({ id }) => id === typed.rigId) ?? rigs[0];
  const drills = drillsOf(typed);
  const other = otherEndOf(typed);
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
        <OrderForm
          typed={typed}
          rigs={rigs}
          rig={rig}
          onChange={(part) => setTyped((was) => ({ ...was, ...part }))}
        />
        <p className="mt-3 border-l-2 border-flow pl-3">
          {drills.length === 0 ? "Choose a drill." : effects({ drills, other }, rig)}
        </p>
        <WhatToDo typed={typed} rig={rig} drills={drills} other={other} />
        <p className="mt-3 text-sm text-secondary">{SYSTEM_NOTES[typed.system]}</p>
        <OwnMonitors system={typed.system} />
      </Dialog>
    </>
  );
}

/** What to do, step by step: the program, the order, the command, the run file. */
function WhatToDo({
  typed: { system, target },
  rig,
  drills,
  other,
}: {
  typed: TypedOrder;
  rig: Rig | undefined;
  drills: readonly Drill[];
  other: ReturnType<typeof otherEndOf>;
}) {
  const save = ({ name }: Rig) => {
    const text = orderFile({ rig: name, drills, other: other?.way ?? null });
    return saveFile(ORDER, new Blob([text], { type: "application/json" }));
  };
  return (
    <ol className="mt-3 list-decimal space-y-2 pl-5">
      <li>
        <ProgramLink system={system} />
      </li>
      <li>
        <Button disabled={drills.length === 0 || !rig} onClick={() => rig && save(rig)}>
          Save the order
        </Button>{" "}
        into the same folder: {ORDER}
      </li>
      <li>
        Open a terminal in that folder, and paste this command.
        <Copyable text={commandFor(system, ORDER, { target, other })} />
      </li>
      <li>
        Drop the run file on any page of this study. Its name begins with nerrit-run and has the
        time of the run.
      </li>
    </ol>
  );
}

/** What is asked for, as far as it can be done with so much room. */
function drillsOf({ chosen, free }: TypedOrder): Drill[] {
  const room = free.trim() === "" ? null : sizeIn(free.trim());
  return CHOICES.filter(({ key }) => chosen.includes(key)).map(({ name, direction }) => {
    try {
      return drillElsewhere({ name, direction }, room);
    } catch {
      return drillElsewhere({ name, direction }, null);
    }
  });
}

/** What the order does to the drive, and how long that takes. */
function effects(
  { drills, other }: { drills: readonly Drill[]; other: ReturnType<typeof otherEndOf> },
  rig: Rig | undefined,
): string {
  const { seconds, bytes } = orderNeeds({ drills, other: other?.way ?? null });
  const [copies, others] = [true, false].map((is) =>
    drills.filter(({ name }) => (name === "ferry") === is),
  ) as [Drill[], Drill[]];
  const each = others.flatMap((drill) => Array.from({ length: drill.repeats }, () => drill));
  const wear = rig ? wearWords(wearOf([rig], each, 1)) : "";
  const scratch =
    bytes > 0
      ? `Makes a scratch file of ${formatSize(bytes)} in that folder and removes the file at the end${wear ? `; ${wear}` : ""}.`
      : "";
  const copied = copies.map(({ direction }) => copyWords(direction === "write", other));
  const last =
    copies.length > 0
      ? "Nothing else is read or written, and no device."
      : "No other file is read or written, and no device.";
  return [seconds > 0 ? `Takes ${formatAbout(seconds)} or more.` : "", scratch, ...copied, last]
    .filter(Boolean)
    .join(" ");
}

/** What a copy does there. */
function copyWords(writes: boolean, other: ReturnType<typeof otherEndOf>): string {
  if (writes)
    return other
      ? `Copies ${other.folder} to a folder of its own on the drive, and removes the copy at the end.`
      : `Makes up ${counted(mixFiles(USUAL_MIX), "file")}, ${formatSize(mixBytes(USUAL_MIX), 1000)} in all, in a folder of its own there, and removes them at the end.`;
  return other?.way === "to"
    ? `Copies the files of the drive’s folder to a folder of its own in ${other.folder}, and removes the copy at the end.`
    : "Reads the files of the drive’s folder.";
}
