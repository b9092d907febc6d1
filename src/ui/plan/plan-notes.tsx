"use client";

import { rigsCalled } from "@/core/answer/figures";
import { letterOf } from "@/core/answer/lettered-rig";
import type { Rig } from "@/core/chain/rig";
import type { PlanTable } from "@/core/plan/table";
import { counted } from "@/core/units/counted";
import { Fold } from "../controls/fold";

/** What a plan's runs were warned of: counted, and opened where somebody wants to know. */
export function PlanNotes({ notes, rigs }: { notes: PlanTable["notes"]; rigs: readonly Rig[] }) {
  if (notes.length === 0) return null;
  const called = (ids: readonly string[]) => {
    const found = ids
      .map((id) => rigs.findIndex((rig) => rig.id === id))
      .filter((at) => at >= 0)
      .toSorted((a, b) => a - b)
      .map((at) => ({ letter: letterOf(at) }));
    return found.length === 0 ? "" : `, ${rigsCalled(found)}`;
  };
  return (
    <Fold summary={<span>{counted(notes.length, "remark")} on its runs</span>}>
      <ul className="list-disc pl-5 text-sm">
        {notes.map(({ text, runs, rigIds }) => (
          <li key={text}>
            {text}{" "}
            <span className="text-secondary">
              ({counted(runs, "run")}
              {called(rigIds)})
            </span>
          </li>
        ))}
      </ul>
    </Fold>
  );
}
