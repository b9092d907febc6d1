"use client";

import { useRouter } from "next/navigation";
import { useState } from "react";
import { summarise } from "@/core/stats/repeats";
import type { Listed } from "@/core/study/listed";
import { Origin } from "@/core/study/measurement";
import { formatMoment } from "@/core/units/day";
import { Button } from "../controls/form";
import { send } from "../controls/send";
import { sayFailed, sayRemoved } from "../controls/toast";
import { Select } from "../controls/select";
import { CELL, FIGURE, HEAD, HEAD_RIGHT } from "../controls/table";
import { useRates } from "../frame/unit";
import { stateOf } from "./status";
import { WAYS } from "./form/ways";

/** Everything that was measured in a study, the latest first. */
export function MeasuredTable({
  measurements,
  shownId,
  letter,
  onShow,
}: {
  measurements: readonly Listed[];
  shownId: string | null;
  /** The letter of a rig, by its id. */
  letter: (rigId: string) => string;
  onShow: (id: string) => void;
}) {
  const { unit, rate } = useRates();
  const [all, setAll] = useState(false);
  const [origin, setOrigin] = useState<Origin | "">("");
  const there = Origin.options.filter((one) => measurements.some((m) => m.origin === one));
  const wanted = measurements.filter((one) => origin === "" || one.origin === origin);
  const shown = all ? wanted : wanted.slice(0, AT_FIRST);
  return (
    <>
      {there.length > 1 && (
        <div className="mb-1 flex items-center gap-2">
          <Select
            label="Where the runs come from"
            name="measured-origin"
            className="!w-auto"
            value={origin}
            options={[
              { value: "", text: "every origin" },
              ...there.map((one) => ({ value: one, text: one })),
            ]}
            onChange={setOrigin}
          />
        </div>
      )}
      <table className="w-full" data-runs>
        <thead>
          <tr>
            <th className={HEAD}>rig</th>
            <th className={HEAD}>drill</th>
            <th className={HEAD}>where</th>
            <th className={HEAD}>when</th>
            <th className={HEAD}>state</th>
            <th className={HEAD_RIGHT}>median, {unit}</th>
            <th className={HEAD_RIGHT}>n</th>
            <th className={HEAD}>
              <span className="sr-only">actions</span>
            </th>
          </tr>
        </thead>
        <tbody>
          {shown.map((one) => (
            <tr key={one.id} className={one.id === shownId ? "bg-bank" : ""}>
              <td className={CELL}>
                <span className="font-serif italic">{letter(one.rigId)}</span>&ensp;
                {one.rigName}
              </td>
              <td className={CELL}>
                {one.drill}, {WAYS[one.direction]}
                {one.warmUp && " (to warm up)"}
              </td>
              <td className={`${CELL} min-w-28 [overflow-wrap:anywhere]`}>
                {one.targets.join(", ")}
              </td>
              <td className={`${CELL} figure text-[13px]`}>{formatMoment(one.createdAt)}</td>
              <td className={CELL}>
                {stateOf(one)}
                {one.leftOut > 0 && (
                  <span className="block text-[13px] text-secondary">{one.leftOut} left out</span>
                )}
              </td>
              <td className={FIGURE}>
                {one.means.length > 0 && rate(summarise(one.means).median)}
              </td>
              <td className={FIGURE}>{one.means.length}</td>
              <td className={`${CELL} text-right`}>
                <button type="button" className="underline" onClick={() => onShow(one.id)}>
                  Trace
                </button>{" "}
                <RemoveMeasurement one={one} />
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      {shown.length < wanted.length && (
        <Button className="mt-2" onClick={() => setAll(true)}>
          Show the {wanted.length - shown.length} earlier ones too
        </Button>
      )}
    </>
  );
}

/** Takes a measurement with its runs out of the study, with a way back. */
function RemoveMeasurement({ one: { id, rigName, drill } }: { one: Listed }) {
  const router = useRouter();
  const url = `/api/measurements/${id}`;
  async function remove() {
    const sent = await send("DELETE", url);
    router.refresh();
    if (!sent.ok) return sayFailed(sent.error.message);
    sayRemoved(
      `${drill} through ${rigName} is removed; it can be put back for 30 days, under Removed.`,
      async () => {
        const back = await send("PUT", url);
        router.refresh();
        return back.ok ? null : back.error.message;
      },
    );
  }
  return (
    <button type="button" className="underline" onClick={remove}>
      Remove
    </button>
  );
}

/** Further ones are seldom looked for, and make the page slow. */
const AT_FIRST = 100;
