"use client";

import { useState } from "react";
import type { FilledRig } from "@/core/system/fill";
import type { SystemReport } from "@/core/system/system-report";
import { Button, Field, Trouble } from "../controls/form";
import { send } from "../controls/send";
import { cableOf, DetectedPlaces, type ShelfCable } from "./detected-places";
import { DetectedDrawing } from "./detected-drawing";
import { ModePicker } from "../ledger/mode-picker";
import type { Pasted } from "./pasted-question";

/** What is asked about: a path of this machine, or a text of another. */
export type Question = { path: string } | { pasted: Pasted };

/** What the system knows of a path, and the rig it makes with what is on the shelf. */
export interface Answer {
  report: SystemReport;
  filled: FilledRig | null;
  /** Cables on the shelf, to be named where the system cannot see them. */
  cables: ShelfCable[];
}

/** The rig that a drive which is plugged in makes: what is known of it, and what has to be asked. */
export function Proposal({
  question,
  answer: { report, filled, cables },
  studyId,
  onMade,
}: {
  question: Question;
  answer: Answer;
  /** The study that the rig is for; null begins one with it. */
  studyId: string | null;
  onMade: (studyId: string, rigId: string) => void;
}) {
  const [named, setNamed] = useState<Record<number, string>>({});
  const [mode, setMode] = useState<string | null>(null);
  const [trouble, setTrouble] = useState<string | null>(null);
  const [busy, setBusy] = useState(false);
  const chain = filled?.chain ?? [];

  /** The study that the rig is made in: a new one where none was said; null where that failed. */
  async function studyFor(): Promise<string | null> {
    if (studyId !== null) return studyId;
    const drive = chain.at(-1)?.draft.name ?? "a connected drive";
    const title = `How fast is ${drive}?`.slice(0, 200);
    const sent = await send<{ id: string }>("POST", "/api/studies", { title });
    if (sent.ok) return sent.data.id;
    setTrouble(sent.error.message);
    return null;
  }

  async function make() {
    setBusy(true);
    const study = await studyFor();
    if (study === null) return setBusy(false);
    const sent = await send<{ id: string }>("POST", `/api/studies/${study}/rigs/plugged`, {
      ...question,
      mode,
      cables: Object.entries(named)
        .filter(([, value]) => value !== "")
        .map(([before, value]) => ({ before: Number(before), part: cableOf(value) })),
    });
    setBusy(false);
    if (sent.ok) return onMade(study, sent.data.id);
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
        <>
          <DetectedDrawing chain={chain} layout={filled.layout} />
          <DetectedPlaces
            filled={filled}
            cables={cables}
            named={named}
            onCable={(before, value) => setNamed({ ...named, [before]: value })}
          />
        </>
      ) : (
        <Field label="The system does not say how it is linked. How fast is its link?">
          <ModePicker label="Link" value={mode ?? ""} onChange={setMode} />
        </Field>
      )}
      {filled?.notes.map((note) => (
        <p key={note} className="text-sm text-secondary">
          {note}
        </p>
      ))}
      {trouble && <Trouble>{trouble}</Trouble>}
      <Button main disabled={busy || (!filled && mode === null)} onClick={make}>
        {studyId === null ? "Make the rig, and go on to measure it" : "Make the rig"}
      </Button>
    </section>
  );
}
