"use client";

import { ArrowDown, ArrowUp } from "lucide-react";
import { letterOf } from "@/core/answer/lettered-rig";
import type { Rig } from "@/core/chain/rig";
import { titleOf } from "@/core/drills/drill";
import { levelWords } from "@/core/plan/fill-levels";
import { isOver, type StepState } from "@/core/plan/plan";
import type { PlanView } from "@/core/plan/view";
import { Tip } from "../controls/tip";
import { CELL, HEAD } from "../controls/table";
import { WAYS } from "../measure/form/ways";
import { Small } from "../rigs/chain-editor";

const STATES: Record<StepState, string> = {
  waiting: "waiting",
  running: "measuring",
  done: "done",
  skipped: "left out",
  failed: "failed",
  "not needed": "not needed",
};

/** Every run of a plan; those that have not begun can be moved and left out, others done again. */
export function StepTable({
  view: { steps, plan, state },
  rigs,
  onSteer,
}: {
  view: PlanView;
  rigs: readonly Rig[];
  onSteer: (asked: object) => void;
}) {
  const waiting = steps.filter((step) => step.state === "waiting");
  const over = isOver(state);
  return (
    <table className="mt-2 w-full text-sm">
      <thead>
        <tr>
          <th className={HEAD}>rig</th>
          <th className={HEAD}>drill</th>
          <th className={HEAD}>repeat</th>
          <th className={HEAD}>state</th>
          <th className={HEAD}>
            <span className="sr-only">actions</span>
          </th>
        </tr>
      </thead>
      <tbody>
        {steps.map((step) => {
          const drill = plan.drills[step.drill]!;
          const rig = rigs.findIndex(({ id }) => id === step.rigId);
          const place = waiting.indexOf(step);
          const what = `run ${step.id}`;
          return (
            <tr key={step.id} data-step={step.state}>
              <td className={CELL}>
                <span className="font-serif italic">{rig < 0 ? "–" : letterOf(rig)}</span>
              </td>
              <td className={CELL}>
                {titleOf(drill)}, {WAYS[drill.direction]}
                {levelWords(plan, step.drill)}
              </td>
              <td className={CELL}>{step.warmUp ? "to warm up" : step.repeat + 1}</td>
              <td className={CELL}>
                {STATES[step.state]}
                {step.note && (
                  <Tip text={step.note}>
                    <span tabIndex={0} className="ml-1" aria-label={step.note}>
                      ⚠
                    </span>
                  </Tip>
                )}
              </td>
              <td className={`${CELL} text-right`}>
                {!over && (
                  <span className="inline-flex items-center gap-2">
                    {place >= 0 && (
                      <>
                        <Small
                          label={`Do ${what} earlier`}
                          off={place === 0}
                          onClick={() =>
                            onSteer({ do: "move", step: step.id, before: waiting[place - 1]!.id })
                          }
                        >
                          <ArrowUp size={13} aria-hidden />
                        </Small>
                        <Small
                          label={`Do ${what} later`}
                          off={place === waiting.length - 1}
                          onClick={() =>
                            onSteer({
                              do: "move",
                              step: step.id,
                              before: waiting[place + 2]?.id ?? null,
                            })
                          }
                        >
                          <ArrowDown size={13} aria-hidden />
                        </Small>
                      </>
                    )}
                    {(step.state === "waiting" || step.state === "running") && (
                      <button
                        type="button"
                        className="underline"
                        onClick={() => onSteer({ do: "skip", step: step.id })}
                      >
                        Leave out<span className="sr-only"> {what}</span>
                      </button>
                    )}
                    {step.state !== "waiting" && step.state !== "running" && (
                      <button
                        type="button"
                        className="underline"
                        onClick={() => onSteer({ do: "again", step: step.id })}
                      >
                        Repeat this run<span className="sr-only"> {what}</span>
                      </button>
                    )}
                  </span>
                )}
              </td>
            </tr>
          );
        })}
      </tbody>
    </table>
  );
}
