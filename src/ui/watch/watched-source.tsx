"use client";

import type { RigToWatch } from "@/core/watch/rig";
import { formatDuration, formatPercent } from "@/core/units/number";
import { inUnit } from "@/core/units/rate";
import { formatSize } from "@/core/units/size";
import { useRates } from "../frame/unit";
import { LiveLines, type LiveCeiling } from "../charts/live-lines";
import { Field } from "../controls/form";
import { Select } from "../controls/select";
import { SHOWN_SECONDS, type Watching } from "./use-watch";

/** One drive or interface that is watched: its rates now, the last minute, and what it moved in all. */
export function WatchedSource({
  name,
  at,
  watching,
  rigs,
  rigId,
  onRig,
  onLeave,
  children,
}: {
  name: string;
  /** Its place among those watched. */
  at: number;
  watching: Watching | null;
  rigs: readonly RigToWatch[];
  /** The rig that it is, by its id; empty where that is not said. */
  rigId: string;
  onRig: (rigId: string) => void;
  onLeave: () => void;
  children: React.ReactNode;
}) {
  const { unit, rate } = useRates();
  const figures = watching?.tallies[at]?.figures ?? null;
  const points = watching?.points[at] ?? [];
  const ceilings = ceilingsOf(rigs.find(({ id }) => id === rigId));
  const end = Math.max(SHOWN_SECONDS, points.at(-1)?.seconds ?? 0);
  return (
    <section className="border border-line bg-sheet p-4" data-watched={name}>
      <div className="flex items-baseline gap-3">
        <h2 className="text-lg font-semibold">{name}</h2>
        <span className="mr-auto text-secondary" role="status">
          {watching?.gone[at]
            ? "gone: the system does not list it any more"
            : watching?.lost
              ? "the server does not answer, trying again"
              : figures
                ? `for ${formatDuration(figures.seconds * 1000)}`
                : "looking ..."}
        </span>
        <button type="button" className="underline" onClick={onLeave}>
          Watch it no more<span className="sr-only">: {name}</span>
        </button>
      </div>
      <div className="my-1 grid grid-cols-2 gap-4">
        {(["read", "write"] as const).map((way) => {
          const now = figures?.now[way] ?? 0;
          const ceiling = ceilings[way];
          return (
            <div key={way}>
              <span className="text-secondary">
                {way === "read" ? "read from it" : "written to it"}
              </span>
              <div className="figure text-[44px] leading-none" data-now={way}>
                {rate(now)}
                <span className="ml-2 text-[17px] text-secondary">{unit}</span>
              </div>
              <span className="text-[13px] text-secondary">
                {formatSize(way === "read" ? (figures?.read ?? 0) : (figures?.written ?? 0), 1000)}{" "}
                in all · mean {rate(figures?.mean[way] ?? 0)} · best second{" "}
                {rate(figures?.peak[way] ?? 0)}
                {ceiling !== null && ` · ${formatPercent(now / ceiling)} of the ceiling now`}
              </span>
            </div>
          );
        })}
      </div>
      <LiveLines
        label={`What ${name} moved over the last minute; reading solid, writing dashed. The figures stand above.`}
        lines={[
          { points: points.map(({ seconds, read }) => [seconds, read]) },
          { points: points.map(({ seconds, write }) => [seconds, write]), dashed: true },
        ]}
        ceilings={ceilingLines(ceilings)}
        from={end - SHOWN_SECONDS}
        to={end}
        height={190}
        out={{
          caption: {
            title: `What ${name} moved`,
            note: `Watched by the kernel’s counters, ${unit}; reading solid, writing dashed.`,
          },
          rows: () => [
            ["seconds", `read, ${unit}`, `written, ${unit}`],
            ...points.map(({ seconds, read, write }) => [
              seconds,
              ...[read, write].map((mbps) => Number(inUnit(mbps, unit).toPrecision(6))),
            ]),
          ],
        }}
      />
      <div className="mt-1 flex flex-wrap items-end gap-3">
        <Field label={`The rig that ${name} stands in`} className="min-w-0 flex-1">
          <Select
            name={`rig-of-${name}`}
            value={rigId}
            disabled={rigs.length === 0}
            options={[
              { value: "", text: rigs.length === 0 ? "no study has a rig yet" : "not said" },
              ...rigs.map(({ id, text }) => ({ value: id, text })),
            ]}
            onChange={onRig}
          />
        </Field>
        {children}
      </div>
    </section>
  );
}

const ceilingsOf = (rig: RigToWatch | undefined) => rig?.ceilings ?? { read: null, write: null };

/** One line where both ways have the same ceiling. */
function ceilingLines({ read, write }: RigToWatch["ceilings"]): LiveCeiling[] {
  if (read !== null && read === write) return [{ name: "ceiling", mbps: read }];
  return [
    ...(read === null ? [] : [{ name: "ceiling, reading", mbps: read }]),
    ...(write === null ? [] : [{ name: "ceiling, writing", mbps: write, dashed: true }]),
  ];
}
