"use client";

import { useState } from "react";
import type { Rig } from "@/core/chain/rig";
import type { Drill } from "@/core/drills/drill";
import { commandFor, SYSTEM_NOTES } from "@/core/elsewhere/machines";
import { drillElsewhere, orderFile, orderNeeds } from "@/core/exchange/order-file";
import { wearOf, wearWords } from "@/core/plan/wear";
import { formatAbout } from "@/core/units/number";
import { formatSize, sizeIn } from "@/core/units/size";
import { Dialog } from "../controls/dialog";
import { Button } from "../controls/form";
import { saveFile } from "../out/save";
import { Copyable } from "./copyable";
import { CHOICES, FIRST_ORDER, OrderForm, type TypedOrder } from "./order-form";
import { OwnMonitors } from "./own-monitors";
import { ProgramLink } from "./program-link";

const ORDER = "nerrit-order.json";

/** Plans a measurement on a machine without Nerrit, and says what to do there. */
export function MeasureElsewhere({ rigs }: { rigs: readonly Rig[] }) {
  const [open, setOpen] = useState(false);
  const [typed, setTyped] = useState(FIRST_ORDER);
  const rig = rigs.find(({ id }) => id === typed.rigId) ?? rigs[0];
  const drills = drillsOf(typed);
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
          {drills.length === 0 ? "Choose a drill." : effects(drills, rig)}
        </p>
        <WhatToDo typed={typed} rig={rig} drills={drills} />
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
}: {
  typed: TypedOrder;
  rig: Rig | undefined;
  drills: readonly Drill[];
}) {
  const save = (of: Rig) =>
    saveFile(ORDER, new Blob([orderFile({ rig: of.name, drills })], { type: "application/json" }));
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
        <Copyable text={commandFor(system, ORDER, target)} />
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
function effects(drills: readonly Drill[], rig: Rig | undefined): string {
  const { seconds, bytes } = orderNeeds({ drills });
  const each = drills.flatMap((drill) => Array.from({ length: drill.repeats }, () => drill));
  const wear = rig ? wearWords(wearOf([rig], each, 1)) : "";
  return `Takes ${formatAbout(seconds)} or more. Makes a scratch file of ${formatSize(bytes)} in that folder and removes the file at the end${wear ? `; ${wear}` : ""}. No other file is read or written, and no device.`;
}
