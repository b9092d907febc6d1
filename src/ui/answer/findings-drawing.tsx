"use client";

import type { NextStep } from "@/core/answer/next-step";
import type { Why } from "@/core/answer/why";
import type { Direction, RateUnit } from "@/core/units/rate";
import { useWidth } from "../controls/use-width";
import { weightedEdges } from "../narrows/geometry";
import type { DrawnBar, DrawnRigs } from "./drawn";
import { FindingHeading } from "./finding-heading";
import { RigBar } from "./rig-bar";
import { RigRow } from "./rig-row";
import { StageList } from "./stage-list";

/** A finding with the rigs that are drawn below it, by their place in the list. */
export interface DrawnGroup {
  key: string;
  title: string;
  certainty: string | null;
  next: NextStep | null;
  why: Why | null;
  /** Runs that cannot be true, by their ids. */
  impossible: readonly string[];
  rigIds: readonly string[];
}

/** Below this width, pixels, stages are listed from the top down. */
const NARROW = 640;
const NAME_AND_FIGURES = 180 + 200;

/** The rigs of a study below the findings that explain them; without groups in one list. */
export function FindingsDrawing({
  groups,
  drawn,
  bars,
  ordered,
  direction,
  unit,
  studyId,
  simulated,
  drill,
}: {
  groups: readonly DrawnGroup[];
  /** The rigs as channels; null where they are too many and stand as bars. */
  drawn: DrawnRigs | null;
  bars: readonly DrawnBar[];
  /** The ids of the rigs in one list; null where they stand below their findings. */
  ordered: readonly string[] | null;
  direction: Direction;
  unit: RateUnit;
  studyId: string;
  simulated: boolean;
  drill: string;
}) {
  const [ref, width] = useWidth<HTMLDivElement>(1200);
  const isNarrow = width < NARROW;
  const rigs = new Map(drawn?.rigs.map((one) => [one.id, one]));
  const barOf = new Map(bars.map((one) => [one.id, one]));
  const many = drawn?.rigs.length ?? 0;
  const height = many <= 2 ? 84 : many <= 4 ? 62 : 38;
  const widest = drawn?.widest ?? Math.max(1, ...bars.map(({ ceiling }) => ceiling));
  const room = Math.max(200, width - NAME_AND_FIGURES - 32);
  const row = (id: string) => {
    const rig = rigs.get(id);
    const bar = barOf.get(id);
    if (bar) return <RigBar key={id} bar={bar} unit={unit} widest={widest} />;
    if (!rig) return null;
    return isNarrow ? (
      <StageList key={id} rig={rig} unit={unit} widest={widest} />
    ) : (
      <RigRow
        key={id}
        rig={rig}
        direction={direction}
        unit={unit}
        widest={widest}
        edges={weightedEdges(rig.weights, room)}
        height={height}
      />
    );
  };
  const grid = isNarrow
    ? "grid grid-cols-[repeat(3,minmax(0,1fr))]"
    : "grid grid-cols-[180px_minmax(0,1fr)_200px] gap-x-4";
  return (
    <div ref={ref}>
      {ordered ? (
        <ul className={grid}>{ordered.map(row)}</ul>
      ) : (
        groups.map(({ key, rigIds, ...heading }) => (
          <section key={key} data-finding className="border-t border-line pb-1.5 first:border-t-0">
            <div className={grid}>
              <FindingHeading
                {...heading}
                studyId={studyId}
                simulated={simulated}
                drill={drill}
                direction={direction}
              />
            </div>
            <ul className={grid}>{rigIds.map(row)}</ul>
          </section>
        ))
      )}
    </div>
  );
}
