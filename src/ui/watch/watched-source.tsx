"use client";

import type { RigToWatch } from "@/core/watch/rig";
import { formatDuration, formatPercent } from "@/core/units/number";
import { inUnit } from "@/core/units/rate";
import { formatSize } from "@/core/units/size";
import { useRates } from "../frame/unit";
import { LiveLines, type LiveCeiling } from "../charts/live-lines";
import { LineKey } from "../charts/sparkline";
import { Field } from "../controls/form";
import { CELL, FIGURE, HEAD, HEAD_RIGHT } from "../controls/table";
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
  const known = ceilings.read !== null || ceilings.write !== null;
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
          Stop watching<span className="sr-only">: {name}</span>
        </button>
      </div>
      <table className="my-2 w-full">
        <thead>
          <tr>
            <td className={HEAD} />
            <th className={HEAD_RIGHT}>now, {unit}</th>
            {known && <th className={HEAD_RIGHT}>of the ceiling now</th>}
            <th className={HEAD_RIGHT}>mean</th>
            <th className={HEAD_RIGHT}>best second</th>
            <th className={HEAD_RIGHT}>in all</th>
          </tr>
        </thead>
        <tbody>
          {(["read", "write"] as const).map((way) => {
            const now = figures?.now[way] ?? 0;
            const ceiling = ceilings[way];
            const all = (way === "read" ? figures?.read : figures?.written) ?? 0;
            return (
              <tr key={way}>
                <th className={`${CELL} text-left font-medium whitespace-nowrap`}>
                  <LineKey dashed={way === "write"} /> {way === "read" ? "read" : "written"}
                </th>
                <td className={`${FIGURE} text-[20px] font-semibold`} data-now={way}>
                  {rate(now)}
                </td>
                {known && (
                  <td className={FIGURE}>
                    {ceiling === null ? "–" : formatPercent(now / ceiling)}
                  </td>
                )}
                <td className={FIGURE}>{rate(figures?.mean[way] ?? 0)}</td>
                <td className={FIGURE}>{rate(figures?.peak[way] ?? 0)}</td>
                <td className={FIGURE}>{formatSize(all, 1000)}</td>
              </tr>
            );
          })}
        </tbody>
      </table>
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
        <Field label={`The rig that ${name} stands in`} className="min-w-56 flex-1">
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
