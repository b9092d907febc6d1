"use client";

import { letterOf } from "@/core/answer/lettered-rig";
import type { Rig } from "@/core/chain/rig";
import type { PastedLadder } from "@/core/elsewhere/ladder";
import { DOING } from "@/core/units/rate";
import { formatSize } from "@/core/units/size";
import { Field, Input } from "../controls/form";
import { Select } from "../controls/select";
import { CELL, FIGURE, HEAD, HEAD_RIGHT } from "../controls/table";
import { figureWords } from "./figure-words";
import { requestsFrom } from "./requests-choice";

/** What a tester says of a pasted ladder: whose it is, and what all of its steps have in common. */
interface SaidLadder {
  rigId: string;
  common: string;
}

/** The same for a route; the first rig is chosen at first. */
export const ladderSent = (
  { by }: PastedLadder,
  { rigId, common }: SaidLadder,
  rigs: readonly Rig[],
) => {
  const { block, depth } = requestsFrom(
    by === "block" ? { block: "", depth: common } : { block: common, depth: "" },
  );
  return { rigId: rigId || (rigs[0]?.id ?? ""), common: by === "block" ? depth : block };
};

/** A whole ladder before it is taken in: its steps, its rig, and what its steps have in common. */
export function LadderPreview({
  ladder: { by, directions, rows },
  rigs,
  value,
  onChange,
}: {
  ladder: PastedLadder;
  rigs: readonly Rig[];
  value: SaidLadder;
  onChange: (value: SaidLadder) => void;
}) {
  return (
    <>
      <div className="grid gap-3 sm:grid-cols-[2fr_1fr]">
        <Field label="Rig" hint="that the ladder was measured on">
          <Select
            name="ladder-rig"
            value={value.rigId || (rigs[0]?.id ?? "")}
            options={rigs.map((rig, i) => ({
              value: rig.id,
              text: `${letterOf(i)} · ${rig.name}`,
            }))}
            onChange={(rigId) => onChange({ ...value, rigId })}
          />
        </Field>
        <Field label={by === "block" ? "In flight" : "Block"} hint="the same at each step">
          <Input
            name="ladder-common"
            className="figure"
            value={value.common}
            placeholder={by === "block" ? "1" : "4 KiB"}
            onChange={(event) => onChange({ ...value, common: event.target.value })}
          />
        </Field>
      </div>
      <div className="max-h-72 overflow-auto">
        <table>
          <caption className="sr-only">The ladder that would be imported</caption>
          <thead>
            <tr>
              <th className={HEAD}>{by === "block" ? "block" : "in flight"}</th>
              {directions.map((way) => (
                <th key={way} className={HEAD_RIGHT}>
                  {DOING[way]}
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {rows.map(({ at, figures }) => (
              <tr key={at}>
                <td className={`${CELL} figure`}>{by === "block" ? formatSize(at) : at}</td>
                {directions.map((way) => (
                  <td key={way} className={FIGURE}>
                    {figures[way] ? figureWords(figures[way]) : ""}
                  </td>
                ))}
              </tr>
            ))}
          </tbody>
        </table>
      </div>
    </>
  );
}
