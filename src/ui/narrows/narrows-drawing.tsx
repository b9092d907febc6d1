"use client";

import type { LetteredRig } from "@/core/answer/lettered-rig";
import type { Stage } from "@/core/chain/stage";
import { marksOf, type Finding } from "@/core/locate/findings/finding";
import { STATE_SIGNS, STATE_WORDS, type Carried } from "@/core/locate/findings/carried";
import type { Standing } from "@/core/locate/findings/standing";
import { ceilingText, lowestOf } from "@/core/machine/machine-stage";
import { formatPercent, formatRate } from "@/core/units/number";
import { inUnit, type Direction, type RateUnit } from "@/core/units/rate";
import { Tip } from "../controls/tip";
import { useWidth } from "../controls/use-width";
import { Channel } from "./channel";
import { lineUp, type ChannelRow, type Column } from "./geometry";

/** Several rigs, one channel each, lined up so that the part that differs stands out. */
export function NarrowsDrawing({
  rigs,
  direction,
  unit,
  planned = false,
}: {
  rigs: LetteredRig[];
  direction: Direction;
  unit: RateUnit;
  /** Draws what the rigs should carry, whatever has been measured. */
  planned?: boolean;
}) {
  const [ref, width] = useWidth<HTMLDivElement>(800);
  const drawn = rigs.map((one) => ({
    rig: one.rig,
    flow: one.observation?.repeats.median ?? null,
    machine: one.machine,
    marks: marksOf(one, direction),
  }));
  const { columns, rows, widest } = lineUp(drawn, direction);
  // Many columns need the whole width: what is said of a rig then stands above its channel.
  const wide = columns.length > ROOMY;
  const height = rigs.length <= 2 ? 92 : rigs.length <= 4 ? 74 : 56;
  const grid = { gridTemplateColumns: `repeat(${columns.length}, minmax(0, 1fr))` };

  return (
    <div
      className={`grid gap-x-4 ${wide ? "grid-cols-1" : "grid-cols-[minmax(140px,200px)_minmax(0,1fr)_150px]"}`}
    >
      {!wide && <div className="text-[13px] text-secondary">rig</div>}
      <div className="grid text-center text-[13px] text-secondary" style={grid} ref={ref}>
        {columns.map((column, i) => (
          <span key={i} className={column.differs ? "font-semibold text-ink" : ""}>
            {column.other && "← "}
            {column.role}
            {column.differs && rigs.length > 1 && columns.length <= 8 && " · differs"}
          </span>
        ))}
      </div>
      {!wide && (
        <div className="text-[13px] text-secondary">
          {planned ? "predicted bottleneck" : "observed"}, {unit}
        </div>
      )}

      {rigs.map(({ letter, rig, observation, finding, standing }, index) => {
        const row = rows[index]!;
        const { flow } = drawn[index]!;
        return (
          <div
            key={rig.id}
            className={`mt-2 ${wide ? "flex flex-wrap items-baseline gap-x-4" : "col-span-3 grid grid-cols-subgrid items-center"}`}
          >
            <div className={`flex items-baseline gap-3 ${wide ? "mr-auto" : "pt-6"}`}>
              <span className="font-serif text-[22px] italic">{letter}</span>
              <span className="min-w-0">
                <span className="block font-semibold [overflow-wrap:anywhere]">{rig.name}</span>
                {rig.fileSystem && (
                  <span className="block text-[13px] text-secondary">{rig.fileSystem}</span>
                )}
              </span>
            </div>
            <div className={`min-w-0 ${wide ? "order-last w-full" : ""}`}>
              <div
                className={`grid items-end text-[13px] ${columns.length > 5 ? "h-[52px] leading-[17px]" : "h-6"}`}
                style={grid}
              >
                {row.stages.map((stage, i) => (
                  <StageLabel
                    key={i}
                    stage={stage}
                    column={columns[i]!}
                    narrow={stage !== null && row.marks.stageKeys.includes(stage.key)}
                    several={rigs.length > 1}
                    state={planned ? null : ((stage && standing?.parts[stage.part.id]) ?? null)}
                    stacked={columns.length > 5}
                    unit={unit}
                  />
                ))}
              </div>
              <Channel
                row={row}
                flow={flow}
                direction={direction}
                widest={widest}
                width={width}
                height={height}
                label={describe(letter, row, flow, unit, standing)}
              />
            </div>
            <div className={wide ? "flex items-baseline gap-x-3" : "pt-6"}>
              {observation && finding ? (
                <Figures median={observation.repeats.median} finding={finding} unit={unit} />
              ) : observation ? (
                <span className="figure text-2xl font-semibold">
                  {formatRate(inUnit(observation.repeats.median, unit))}
                </span>
              ) : planned ? (
                <>
                  {wide && <span className="text-[13px] text-secondary">predicted bottleneck</span>}
                  <span className="figure text-[22px] font-semibold">
                    {formatRate(inUnit(lowestOf(row.stages), unit))}
                  </span>
                  {wide && <span className="text-[13px] text-secondary">{unit}</span>}
                </>
              ) : (
                <>
                  <span className="block text-secondary">not measured</span>
                  <span className="block text-[13px] text-secondary">
                    predicted bottleneck{" "}
                    <span className="figure">{formatRate(inUnit(lowestOf(row.stages), unit))}</span>
                  </span>
                </>
              )}
            </div>
          </div>
        );
      })}
    </div>
  );
}

/** So many columns leave room for a rig's name and figures beside its channel. */
const ROOMY = 8;

function StageLabel({
  stage,
  column,
  narrow,
  several,
  state,
  stacked,
  unit,
}: {
  stage: Stage | null;
  column: Column;
  narrow: boolean;
  several: boolean;
  /** Whether its part is cleared or suspect, where something holds the rig back. */
  state: Carried["state"] | null;
  /** Name above figure, where there are many columns. */
  stacked: boolean;
  unit: RateUnit;
}) {
  if (!stage) return <span />;
  const lost = stage.own > stage.ceiling * 1.005;
  const rate = (mbps: number) => formatRate(inUnit(mbps, unit));
  const title =
    stage.role === "host"
      ? `${stage.label}: moved ${rate(stage.ceiling)} ${unit} in its own memory, and may carry more`
      : stage.held > 0
        ? `${stage.label}: ${rate(stage.ceiling)} ${unit} left; others hold ${rate(stage.held)}`
        : lost
          ? `${stage.label}: ${rate(stage.ceiling)} ${unit} as it runs here; by itself it could carry ${rate(stage.own)}`
          : `${stage.label}: at most ${rate(stage.ceiling)} ${unit}`;
  return (
    <Tip text={state ? `${title}; ${STATE_WORDS[state]}` : title}>
      <span
        className={`flex justify-center overflow-hidden px-1 whitespace-nowrap ${stacked ? "flex-col items-center" : "gap-1.5"}`}
      >
        <span
          className={`max-w-full font-medium ${stacked ? "line-clamp-2 text-center whitespace-normal [overflow-wrap:anywhere]" : "truncate"} ${column.differs && several ? "underline decoration-1 underline-offset-2" : ""}`}
        >
          {state && (
            <span className="figure mr-1" data-state={state}>
              <span aria-hidden>{STATE_SIGNS[state]}</span>
              <span className="sr-only">{state}: </span>
            </span>
          )}
          {stage.label}
        </span>
        <span className={`figure ${narrow ? "text-bottleneck" : "text-secondary"}`}>
          {ceilingText(stage, rate)}
        </span>
      </span>
    </Tip>
  );
}

function Figures({ median, finding, unit }: { median: number; finding: Finding; unit: RateUnit }) {
  const { attainable, ceiling } = finding.bottleneck;
  const rate = (mbps: number) => formatRate(inUnit(mbps, unit));
  return (
    <>
      <span className="figure block text-[26px] leading-7 font-semibold">{rate(median)}</span>
      <span className="block text-[13px] text-secondary">
        {formatPercent(finding.efficiency)} of its ceiling,{" "}
        <span className="figure">{rate(ceiling)}</span>
      </span>
      <span className="figure block text-[12px] text-secondary">
        good hardware: {rate(attainable.low)} to {rate(attainable.high)}
      </span>
    </>
  );
}

function describe(
  letter: string,
  { stages, marks }: ChannelRow,
  flow: number | null,
  unit: RateUnit,
  standing: Standing | null,
): string {
  const rate = (mbps: number) => `${formatRate(inUnit(mbps, unit))} ${unit}`;
  const word = marks.predicted ? ", the predicted bottleneck" : ", the bottleneck";
  const stateOf = ({ part }: Stage) =>
    standing?.parts[part.id] ? `, ${standing.parts[part.id]}` : "";
  const named = stages
    .filter((stage) => stage !== null)
    .map(
      (stage) =>
        `${stage.role} ${stage.label} ${stage.role === "host" ? "at least " : ""}${rate(stage.ceiling)}${marks.stageKeys.includes(stage.key) ? word : ""}${stateOf(stage)}`,
    );
  const seen = flow === null ? "not measured" : `measured flow ${rate(flow)}`;
  return `Rig ${letter} from host to drive: ${named.join("; ")}; ${seen}.`;
}
