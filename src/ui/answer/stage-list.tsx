"use client";

import type { RateUnit } from "@/core/units/rate";
import { halfWidth } from "../narrows/geometry";
import type { DrawnRig } from "./drawn";
import { Figure, StateSign } from "./rig-row";

/** One rig on a narrow screen: its name and figure, below them its stages, each as wide as what it can carry. */
export function StageList({
  rig,
  unit,
  widest,
}: {
  rig: DrawnRig;
  unit: RateUnit;
  /** The largest rate in sight, MB/s. */
  widest: number;
}) {
  const { letter, name, notes, flow } = rig;
  const share = (mbps: number) => `${Math.min(100, 2 * halfWidth(mbps, widest, 100))}%`;
  return (
    <li className="col-span-3 border-t border-line py-2 first:border-t-0" data-rig={letter}>
      <p className="flex items-baseline gap-2">
        <span className="font-serif text-[21px] italic">{letter}</span>
        <span className="min-w-0 flex-1 font-semibold [overflow-wrap:anywhere]">{name}</span>
        <Figure rig={rig} unit={unit} />
      </p>
      <p className="mb-1 flex justify-between gap-3 text-[13px] text-secondary">
        <span>{notes}</span>
        <span>{rig.share}</span>
      </p>
      <ol className="space-y-1">
        {rig.stages.map(
          (stage, i) =>
            stage && (
              <li
                key={i}
                className="grid grid-cols-[minmax(0,9rem)_minmax(0,1fr)_3.6rem] items-center gap-2"
              >
                <span className={`truncate ${stage.mark === "likely" ? "font-semibold" : ""}`}>
                  <StateSign state={stage.state} />
                  {stage.label}
                </span>
                <span className="relative block h-3.5 bg-bank">
                  <span
                    className={`absolute inset-y-0 left-0 border-r-2 bg-sheet ${stage.mark === "bottleneck" || stage.mark === "predicted" ? "border-bottleneck" : "border-ink"}`}
                    style={{ width: share(stage.ceiling) }}
                  />
                  {flow !== null && (
                    <span
                      className="absolute inset-y-[3px] left-0 bg-flow"
                      style={{ width: share(flow) }}
                    />
                  )}
                </span>
                <span
                  className={`figure text-right text-[12px] ${stage.mark === "bottleneck" || stage.mark === "predicted" ? "font-semibold text-bottleneck" : "text-secondary"}`}
                >
                  {stage.rate}
                </span>
              </li>
            ),
        )}
      </ol>
    </li>
  );
}
