"use client";

import { STATE_SIGNS, STATE_WORDS } from "@/core/locate/findings/carried";
import type { Marks } from "@/core/locate/findings/finding";
import type { Direction, RateUnit } from "@/core/units/rate";
import { Tip } from "../controls/tip";
import { Channel } from "../narrows/channel";
import type { DrawnRig, DrawnStage } from "./drawn";

/** One rig of the answer in a line: its name, its channel with what each stage can carry, what flowed. */
export function RigRow({
  rig,
  direction,
  unit,
  widest,
  edges,
  height,
}: {
  rig: DrawnRig;
  direction: Direction;
  unit: RateUnit;
  widest: number;
  /** Where the columns of the channel begin and end, pixels. */
  edges: readonly number[];
  /** Of the channel, pixels. */
  height: number;
}) {
  const { stages, letter, name, notes, cautions, flow } = rig;
  return (
    <li
      className="col-span-3 grid grid-cols-subgrid items-end"
      data-rig={letter}
      aria-label={`Rig ${letter}`}
    >
      <div className="flex items-center gap-3" style={{ height }}>
        <span className="w-6 shrink-0 font-serif text-[21px] italic">{letter}</span>
        <span className="min-w-0 leading-[17px]">
          <span className="line-clamp-2 font-semibold [overflow-wrap:anywhere]" title={name}>
            {name}
          </span>
          {notes && <span className="block truncate text-[12px] text-secondary">{notes}</span>}
        </span>
      </div>
      <div className="min-w-0">
        <div
          className="grid text-[13px] leading-[19px]"
          style={{ gridTemplateColumns: columnsOf(edges) }}
        >
          {stages.map((stage, i) =>
            stage ? <StageLabel key={i} stage={stage} unit={unit} /> : <span key={i} />,
          )}
        </div>
        <Channel
          row={{ stages, marks: marksIn(stages) }}
          flow={flow}
          direction={direction}
          widest={widest}
          width={edges.at(-1)!}
          edges={edges}
          height={height}
          label={describe(rig, unit)}
        />
      </div>
      <div className="flex items-center justify-end gap-2.5 whitespace-nowrap" style={{ height }}>
        <Figure rig={rig} unit={unit} />
        <span className="w-28 text-[13px] text-secondary">
          {rig.share}
          {cautions.length > 0 && (
            <Tip text={cautions.join("; ")}>
              <span className="ml-1" tabIndex={0} aria-label={`Warning: ${cautions.join("; ")}`}>
                ⚠
              </span>
            </Tip>
          )}
        </span>
      </div>
    </li>
  );
}

const columnsOf = (edges: readonly number[]): string =>
  edges
    .slice(1)
    .map((edge, i) => `${edge - edges[i]!}px`)
    .join(" ");

/** What was seen of a rig; of one that was not measured, smaller, what is foreseen. */
export const Figure = ({ rig, unit }: { rig: DrawnRig; unit: RateUnit }) => (
  <span
    className={`figure ${rig.flow === null ? "text-[17px] text-secondary" : "text-[22px] font-semibold"}`}
  >
    {rig.rate}
    {rig.rate.endsWith("/s") ? null : <span className="sr-only"> {unit}</span>}
  </span>
);

const marksIn = (stages: readonly (DrawnStage | null)[]): Marks => {
  const keysOf = (mark: DrawnStage["mark"]) =>
    stages.flatMap((stage) => (stage?.mark === mark ? stage.key : []));
  const predicted = keysOf("predicted");
  return {
    stageKeys: [...keysOf("bottleneck"), ...predicted],
    likelyKeys: keysOf("likely"),
    predicted: predicted.length > 0,
  };
};

function StageLabel({ stage, unit }: { stage: DrawnStage; unit: RateUnit }) {
  const { label, rate, lost, state, mark } = stage;
  const title = lost
    ? `${label}: ${rate} ${unit} as it runs here; by itself it could carry ${lost}`
    : `${label}: at most ${rate} ${unit}`;
  return (
    <Tip text={state ? `${title}; ${STATE_WORDS[state]}` : title}>
      <span className="flex justify-center gap-1 overflow-hidden px-0.5 whitespace-nowrap">
        <span className={`min-w-0 truncate ${mark === "likely" ? "font-semibold" : ""}`}>
          <StateSign state={state} />
          {label}
        </span>
        <span
          className={`figure text-[12px] ${mark === "bottleneck" || mark === "predicted" ? "font-semibold text-bottleneck" : "text-secondary"}`}
        >
          {rate}
        </span>
      </span>
    </Tip>
  );
}

/** Whether a part is cleared or suspect: a sign, and its word for who hears it. */
export const StateSign = ({ state }: { state: DrawnStage["state"] }) =>
  state && (
    <span className="figure mr-1" data-state={state}>
      <span aria-hidden>{STATE_SIGNS[state]}</span>
      <span className="sr-only">{state}: </span>
    </span>
  );

/** What the drawing of a rig says, for those who cannot see it. */
export function describe({ letter, stages, flow, rate, share }: DrawnRig, unit: RateUnit): string {
  const words = {
    bottleneck: ", the bottleneck",
    predicted: ", the predicted bottleneck",
    likely: ", likely the bottleneck",
  };
  const named = stages
    .filter((stage) => stage !== null)
    .map(
      (stage) =>
        `${stage.label} ${stage.rate} ${unit}${stage.mark ? words[stage.mark] : ""}${stage.state ? `, ${stage.state}` : ""}`,
    );
  const seen = flow === null ? "not measured" : `measured ${rate}, ${share}`;
  return `Rig ${letter} from host to drive: ${named.join("; ")}; ${seen}.`;
}
