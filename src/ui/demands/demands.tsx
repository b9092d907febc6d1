"use client";

import { useRouter } from "next/navigation";
import { useState } from "react";
import { doing } from "@/core/chain/wording";
import { letterOf } from "@/core/answer/lettered-rig";
import type { Rig } from "@/core/chain/rig";
import { isMeasured, type DemandCheck, type Fit } from "@/core/demand/check";
import { needOf, type Demand } from "@/core/study/demand";
import { formatPercent, formatRate } from "@/core/units/number";
import { Direction } from "@/core/units/rate";
import { Dialog } from "../controls/dialog";
import { Button } from "../controls/form";
import { send } from "../controls/send";
import { CELL, HEAD } from "../controls/table";
import { Tip } from "../controls/tip";
import { sayFailed, sayRemoved, saySaved } from "../controls/toast";
import { useRates } from "../frame/unit";
import { LongRun } from "./long-run";
import { DemandForm } from "./demand-form";

/** A rig, and how it stands to each demand. */
export interface CheckedRig {
  rig: Rig;
  checks: DemandCheck[][];
}

/** What the drive is wanted for, and which rigs give that, with how much to spare. */
export function Demands({
  studyId,
  demands,
  rigs,
}: {
  studyId: string;
  demands: Demand[];
  rigs: CheckedRig[];
}) {
  const router = useRouter();
  const { unit, rate } = useRates();
  const [editing, setEditing] = useState<number | null>(null);

  async function store(next: Demand[]): Promise<string | null> {
    const sent = await send("PUT", `/api/studies/${studyId}/demands`, next);
    if (!sent.ok) return sent.error.message;
    router.refresh();
    return null;
  }

  return (
    <section className="mt-4 border border-line bg-sheet p-4" id="demands">
      <div className="mb-1 flex items-baseline gap-3">
        <h2 className="mr-auto font-serif text-xl">Demands</h2>
        <Button onClick={() => setEditing(demands.length)}>Add a demand</Button>
      </div>
      {demands.length === 0 ? (
        <p className="text-secondary">
          Enter what the drive is wanted for: streams to record or play, or copies to finish in
          time. Every rig is checked against it.
        </p>
      ) : (
        <table className="w-full text-sm">
          <thead>
            <tr>
              <th className={HEAD}>demand</th>
              <th className={HEAD}>asks, sustained</th>
              {rigs.map(({ rig }, i) => (
                <th key={rig.id} className={HEAD}>
                  <Tip text={rig.name}>
                    <span className="font-serif text-[15px] italic" tabIndex={0}>
                      {letterOf(i)}
                    </span>
                  </Tip>
                </th>
              ))}
              <th className={HEAD}>
                <span className="sr-only">actions</span>
              </th>
            </tr>
          </thead>
          <tbody>
            {demands.map((demand, i) => (
              <tr key={i}>
                <td className={`${CELL} min-w-28 font-medium [overflow-wrap:anywhere]`}>
                  {demand.name}
                </td>
                <td className={CELL}>
                  {Direction.options
                    .filter((direction) => needOf(demand, direction) > 0)
                    .map((direction) => (
                      <span key={direction} className="block whitespace-nowrap">
                        <span className="figure">{rate(needOf(demand, direction))}</span> {unit}{" "}
                        {doing(direction)}
                      </span>
                    ))}
                </td>
                {rigs.map(({ rig, checks }) => (
                  <td key={rig.id} className={CELL}>
                    {(checks[i] ?? []).map((check) => (
                      <Check key={check.direction} check={check} studyId={studyId} rigId={rig.id} />
                    ))}
                  </td>
                ))}
                <td className={`${CELL} text-right whitespace-nowrap`}>
                  <button type="button" className="underline" onClick={() => setEditing(i)}>
                    Edit
                  </button>{" "}
                  <button
                    type="button"
                    className="underline"
                    onClick={async () => {
                      const failed = await store(demands.toSpliced(i, 1));
                      if (failed) sayFailed(failed);
                      else sayRemoved(`${demand.name} is removed.`, () => store(demands));
                    }}
                  >
                    Remove
                  </button>
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
      <Dialog
        wide
        title="What the drive is wanted for"
        open={editing !== null}
        onOpenChange={(open) => !open && setEditing(null)}
      >
        {editing !== null && (
          <DemandForm
            initial={demands[editing] ?? null}
            onSave={async (demand) => {
              const failed = await store(demands.toSpliced(editing, 1, demand));
              if (failed) return failed;
              saySaved(`${demand.name} saved.`);
              setEditing(null);
              return null;
            }}
          />
        )}
      </Dialog>
    </section>
  );
}

/** Signs beside the words, so that a column can be read at a glance and without colour. */
const SIGNS: Record<Fit, string> = {
  met: "✓",
  "should meet": "✓",
  "can't tell": "?",
  open: "?",
  missed: "✕",
  "cannot meet": "✕",
};

function Check({
  check: { fit, have, headroom, direction },
  studyId,
  rigId,
}: {
  check: DemandCheck;
  studyId: string;
  rigId: string;
}) {
  const { rate } = useRates();
  const room =
    headroom >= 2
      ? `${formatRate(headroom + 1)} times what it asks`
      : headroom >= 0
        ? `${formatPercent(headroom)} to spare`
        : `${formatPercent(-headroom)} short`;
  return (
    <span className="block">
      <b className="font-semibold">
        {SIGNS[fit]} {fit}
      </b>
      <span className="block text-[13px] text-secondary">
        {room} ({isMeasured(fit) ? "measured" : "predicted"}{" "}
        <span className="figure">{rate(have)}</span>)
      </span>
      {fit === "open" && <LongRun studyId={studyId} rigId={rigId} direction={direction} />}
    </span>
  );
}
