"use client";

import { useState } from "react";
import { letterOf } from "@/core/answer/lettered-rig";
import type { Rig } from "@/core/chain/rig";
import { OUTCOME_WORDS, OutcomeKind } from "@/core/drills/kinds/outcome";
import { Dialog } from "../controls/dialog";
import { Button, Field, Form, Input, Trouble } from "../controls/form";
import { Select } from "../controls/select";
import { send } from "../controls/send";
import { sayTaken, type Taken } from "./taken";

/** Takes in that a rig does not work: not recognised, not mountable, or dropping off. */
export function DoesNotWork({
  studyId,
  rigs,
  first,
  onTaken,
}: {
  studyId: string;
  rigs: readonly Rig[];
  first: { rigId: string };
  onTaken: (taken: Taken) => void;
}) {
  const [open, setOpen] = useState(false);
  const [rigId, setRigId] = useState(first.rigId);
  const [outcome, setOutcome] = useState<OutcomeKind>("not-recognised");
  const [words, setWords] = useState("");
  const [day, setDay] = useState("");
  const [trouble, setTrouble] = useState<string | null>(null);

  async function take() {
    const at = day ? new Date(`${day}T12:00`).toISOString() : undefined;
    const body = { rigId, outcome, words, at };
    const sent = await send<Taken>("POST", `/api/studies/${studyId}/outcome`, body);
    if (!sent.ok) return setTrouble(sent.error.message);
    setOpen(false);
    setWords("");
    setTrouble(null);
    sayTaken(studyId, sent.data, () => onTaken({ measurementIds: [], rigIds: [], partIds: [] }));
    onTaken(sent.data);
  }

  return (
    <>
      <Button
        disabled={rigs.length === 0}
        onClick={() => {
          setRigId(first.rigId);
          setOpen(true);
        }}
      >
        It does not work
      </Button>
      <Dialog title="A rig that does not work" open={open} onOpenChange={setOpen}>
        <Form onSend={take}>
          <Field label="Rig">
            <Select
              name="outcome-rig"
              value={rigId}
              options={rigs.map((rig, i) => ({
                value: rig.id,
                text: `${letterOf(i)} · ${rig.name}`,
              }))}
              onChange={setRigId}
            />
          </Field>
          <Field label="What happens">
            <Select
              name="outcome-kind"
              value={outcome}
              options={OutcomeKind.options.map((kind) => ({
                value: kind,
                text: `it ${OUTCOME_WORDS[kind]}`,
              }))}
              onChange={(kind) => kind !== "" && setOutcome(kind)}
            />
          </Field>
          <Field label="In your words" hint="shown wherever it counts">
            <Input
              name="outcome-words"
              value={words}
              placeholder="after about a minute of writing, comes back by replugging"
              onChange={(event) => setWords(event.target.value)}
            />
          </Field>
          <Field label="Day" hint="left empty: today" className="w-44">
            <Input
              name="outcome-day"
              type="date"
              value={day}
              onChange={(event) => setDay(event.target.value)}
            />
          </Field>
          {trouble && <Trouble>{trouble}</Trouble>}
          <div className="flex justify-end">
            <Button main type="submit">
              Record it
            </Button>
          </div>
        </Form>
      </Dialog>
    </>
  );
}
