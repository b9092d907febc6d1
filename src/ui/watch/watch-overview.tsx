"use client";

import { MOST_LISTED } from "@/core/watch/tally";
import { formatSize } from "@/core/units/size";
import { LineKey, Sparkline } from "../charts/sparkline";
import { Trouble } from "../controls/form";
import { CELL, FIGURE, HEAD, HEAD_RIGHT } from "../controls/table";
import { useRates } from "../frame/unit";
import { SHOWN_SECONDS, useWatch, type Watching } from "./use-watch";

/** A drive or an interface that can be watched. */
export interface Listed {
  name: string;
  title: string;
  hint: string;
}

/** Every drive and network interface, a row each with its rates and the last minute; one that is pressed is watched closely. */
export function WatchOverview({
  listed,
  onPick,
}: {
  listed: readonly Listed[];
  onPick: (name: string) => void;
}) {
  const { unit } = useRates();
  const shown = listed.slice(0, MOST_LISTED);
  const { watching, trouble } = useWatch(
    shown.map(({ name }) => name),
    1,
  );
  return (
    <section className="border border-line bg-sheet px-4 py-3">
      <p className="mb-2">
        What every drive and network interface moves now, whatever program uses it, by the kernel’s
        counters. Press one to watch it closely, set marks and keep what it moved as a run.
      </p>
      {trouble && <Trouble>{trouble}</Trouble>}
      <table className="w-full" data-overview>
        <thead>
          <tr>
            <th className={HEAD}>drive or interface</th>
            <th className={HEAD_RIGHT}>
              <LineKey dashed={false} /> read, {unit}
            </th>
            <th className={HEAD_RIGHT}>
              <LineKey dashed /> written, {unit}
            </th>
            <th className={HEAD}>the last minute</th>
            <th className={HEAD_RIGHT}>moved since this page opened</th>
          </tr>
        </thead>
        <tbody>
          {shown.map((one) => (
            <OverviewRow
              key={one.name}
              listed={one}
              watching={watching}
              onPick={() => onPick(one.name)}
            />
          ))}
        </tbody>
      </table>
      {listed.length > shown.length && (
        <p className="mt-1 text-sm text-secondary">
          The first {shown.length} of {listed.length}; the others can be picked above.
        </p>
      )}
    </section>
  );
}

function OverviewRow({
  listed: { name, title, hint },
  watching,
  onPick,
}: {
  listed: Listed;
  watching: Watching | null;
  onPick: () => void;
}) {
  const { rate } = useRates();
  const at = watching?.names.indexOf(name) ?? -1;
  const figures = watching?.tallies[at]?.figures ?? null;
  const points = watching?.points[at] ?? [];
  const end = Math.max(SHOWN_SECONDS, points.at(-1)?.seconds ?? 0);
  const gone = watching?.gone[at];
  return (
    <tr data-listed={name}>
      <th className={`${CELL} min-w-44 text-left font-medium [overflow-wrap:anywhere]`}>
        <button type="button" className="text-left hover:underline" onClick={onPick}>
          <span className="sr-only">Watch </span>
          {title}
        </button>
        <span className="block text-[13px] font-normal text-secondary">
          {gone ? "gone: the system does not list it any more" : hint}
        </span>
      </th>
      {(["read", "write"] as const).map((way) => (
        <td key={way} className={FIGURE}>
          {figures ? rate(figures.now[way]) : "–"}
        </td>
      ))}
      <td className={`${CELL} align-middle`}>
        <Sparkline
          lines={(["read", "write"] as const).map((way) => ({
            points: points.map((point) => [point.seconds, point[way]] as const),
            dashed: way === "write",
          }))}
          from={end - SHOWN_SECONDS}
          to={end}
        />
      </td>
      <td className={FIGURE}>{figures ? formatSize(figures.read + figures.written, 1000) : "–"}</td>
    </tr>
  );
}
