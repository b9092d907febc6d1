import { Fragment } from "react";
import { formatDuration, formatPercent } from "@/core/units/number";
import { formatSize } from "@/core/units/size";
import type { Mark } from "@/core/watch/tally";
import { copyOf, copyWords } from "@/core/watch/waits";
import { CELL, FIGURE, HEAD, HEAD_RIGHT } from "../controls/table";
import { useRates } from "../frame/unit";
import type { Watching } from "./use-watch";

/** What moved from mark to mark, and since the last; and who waits, where that looks like a copy. */
export function Stretches({
  names,
  marks,
  watching,
}: {
  names: readonly string[];
  marks: readonly Mark[];
  watching: Watching;
}) {
  const { unit, rate } = useRates();
  const ends = [...marks.slice(1), { ms: watching.ms, name: "now" }];
  return (
    <table className="w-full" data-stretches>
      <thead>
        <tr>
          <th className={HEAD}>from, to</th>
          <th className={HEAD}>of</th>
          <th className={HEAD_RIGHT}>time</th>
          <th className={HEAD_RIGHT}>read</th>
          <th className={HEAD_RIGHT}>{unit}</th>
          <th className={HEAD_RIGHT}>written</th>
          <th className={HEAD_RIGHT}>{unit}</th>
          <th className={HEAD_RIGHT}>had work</th>
        </tr>
      </thead>
      <tbody>
        {ends.map((end, i) => {
          const sides = watching.tallies.flatMap((tally, at) =>
            tally.figures ? [{ name: names[at]!, stretch: tally.between(marks[i]!, end) }] : [],
          );
          const copy = copyOf(sides);
          return (
            <Fragment key={i}>
              {sides.map(({ name, stretch }) => (
                <tr key={name}>
                  <td className={`${CELL} min-w-28 [overflow-wrap:anywhere]`}>
                    {stretch.from} to {stretch.to}
                  </td>
                  <td className={CELL}>{name}</td>
                  <td className={FIGURE}>{formatDuration(stretch.seconds * 1000)}</td>
                  <td className={FIGURE}>{formatSize(stretch.read, 1000)}</td>
                  <td className={FIGURE}>{rate(stretch.readMBps)}</td>
                  <td className={FIGURE}>{formatSize(stretch.written, 1000)}</td>
                  <td className={FIGURE}>{rate(stretch.writeMBps)}</td>
                  <td className={FIGURE}>
                    {stretch.busy === null ? "not counted" : formatPercent(stretch.busy)}
                  </td>
                </tr>
              ))}
              {copy && (
                <tr>
                  <td colSpan={8} className={CELL}>
                    {marks[i]!.name} to {end.name}: {copyWords(copy)}
                  </td>
                </tr>
              )}
            </Fragment>
          );
        })}
      </tbody>
    </table>
  );
}
