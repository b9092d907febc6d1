"use client";

import { useState } from "react";
import { PART_KIND_NAMES, type PartInput } from "@/core/chain/part";
import { enteredPart } from "@/core/gear/entry";
import { GEAR_KINDS } from "@/core/gear/gear-kind";
import type { FilledRig } from "@/core/system/fill";
import type { SystemReport } from "@/core/system/report";
import { Button, Field, Trouble } from "../controls/form";
import { Select } from "../controls/select";
import { send } from "../controls/send";
import { CELL, HEAD } from "../controls/table";
import { ModePicker } from "../ledger/mode-picker";

/** What the system knows of a path, and the rig it makes with what is on the shelf. */
export interface Answer {
  report: SystemReport;
  filled: FilledRig | null;
  /** Cables on the shelf, to be named where the system cannot see them. */
  cables: { id: string; name: string; tag: string }[];
}

const NEW_CABLES = GEAR_KINDS.filter(({ kind }) => kind === "cable").map(
  (kind) => enteredPart(kind, "", "").draft,
);

/** The rig that a drive which is plugged in makes: what is known of it, and what has to be asked. */
export function Proposal({
  answer: { report, filled, cables },
  studyId,
  onMade,
}: {
  answer: Answer;
  studyId: string;
  onMade: (rigId: string) => void;
}) {
  const [named, setNamed] = useState<Record<number, string>>({});
  const [mode, setMode] = useState<string | null>(null);
  const [trouble, setTrouble] = useState<string | null>(null);
  const [busy, setBusy] = useState(false);
  const chain = filled?.chain ?? [];

  async function make() {
    setBusy(true);
    const sent = await send<{ id: string }>("POST", `/api/studies/${studyId}/rigs/plugged`, {
      path: report.path,
      mode,
      cables: Object.entries(named)
        .filter(([, value]) => value !== "")
        .map(([before, value]) => ({ before: Number(before), part: cableOf(value) })),
    });
    setBusy(false);
    if (sent.ok) return onMade(sent.data.id);
    setTrouble(sent.error.message);
  }

  if (!filled && report.blocks.length === 0) {
    return (
      <p className="border border-line bg-paper p-3" role="status">
        The system sees no drive below it that a rig could be made of.
      </p>
    );
  }
  return (
    <section className="space-y-2 border border-line bg-paper p-3">
      <h3 className="font-semibold">The rig this makes</h3>
      {filled ? (
        <table className="w-full text-sm">
          <thead>
            <tr>
              <th className={HEAD}>place</th>
              <th className={HEAD}>what the system sees</th>
              <th className={HEAD}>on the shelf</th>
            </tr>
          </thead>
          <tbody>
            {[...chain, ...filled.beside].map(({ node, part, by, draft }, i) => (
              <tr key={`${node.at}-${i}`}>
                <td className={CELL}>{PART_KIND_NAMES[draft.kind]}</td>
                <td className={CELL}>
                  {[draft.name, draft.maker, draft.serial].filter(Boolean).join(", ")}
                </td>
                <td className={CELL}>
                  {part ? `${part.name}, known by its ${by}` : "new: will be put on the shelf"}
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      ) : (
        <Field label="The system does not say how it is linked. How fast is its link?">
          <ModePicker label="Link" value={mode ?? ""} onChange={setMode} />
        </Field>
      )}
      {chain.flatMap((place, i) => {
        const above = chain[i - 1];
        if (!above || !needsCable(above.draft, place.draft)) return [];
        return (
          <Field key={i} label={`Cable from ${above.draft.name} to ${place.draft.name}`}>
            <Select
              name={`cable-${i}`}
              value={named[i] ?? ""}
              options={[
                { value: "", text: "none, or not named yet" },
                ...cables.map(({ id, name, tag }) => ({
                  value: `shelf:${id}`,
                  text: tag ? `${name} (${tag})` : name,
                })),
                ...NEW_CABLES.map(({ name }) => ({ value: `new:${name}`, text: `a new ${name}` })),
              ]}
              onChange={(value) => setNamed({ ...named, [i]: value })}
            />
          </Field>
        );
      })}
      {filled?.notes.map((note) => (
        <p key={note} className="text-sm text-secondary">
          {note}
        </p>
      ))}
      {trouble && <Trouble>{trouble}</Trouble>}
      <Button main disabled={busy || (!filled && mode === null)} onClick={make}>
        Make the rig
      </Button>
    </section>
  );
}

function cableOf(value: string): { id: string } | { draft: PartInput } {
  if (value.startsWith("shelf:")) return { id: value.slice("shelf:".length) };
  const { kind, name, connectors } = NEW_CABLES.find((cable) => `new:${cable.name}` === value)!;
  return { draft: { kind, name, connectors } };
}

/** Whether a cable may stand between two neighbours: not where one is seen, nor inside a box. */
const needsCable = (upper: PartInput, lower: PartInput) =>
  upper.kind !== "cable" &&
  lower.kind !== "cable" &&
  !(upper.kind === "enclosure" && lower.kind === "drive");
