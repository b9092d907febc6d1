"use client";

import { Link } from "../controls/link";
import { useState } from "react";
import type { RigToWatch } from "@/core/watch/rig";
import { rowOf } from "@/core/exchange/runs-file";
import type { Mark, Tally } from "@/core/watch/tally";
import { markEvents } from "@/core/watch/watched-run";
import { Button, Field, Form, Input, Trouble } from "../controls/form";
import { Dialog } from "../controls/dialog";
import { Select } from "../controls/select";
import { send } from "../controls/send";

/** What is kept: everything up to the moment at which that was asked for. */
interface Taken {
  ms: number;
  startedAt: number;
}

/** Keeps what was watched of one drive as a run of a rig. */
export function KeepWatched({
  name,
  tally,
  now,
  marks,
  rigs,
  rigId,
}: {
  name: string;
  tally: Tally | undefined;
  /** Milliseconds since the watching began. */
  now: number;
  marks: readonly Mark[];
  rigs: readonly RigToWatch[];
  rigId: string;
}) {
  const [taken, setTaken] = useState<Taken | null>(null);
  const [typed, setTyped] = useState({ title: "", from: "0", to: "", rigId: "" });
  const [trouble, setTrouble] = useState<string | null>(null);
  const [busy, setBusy] = useState(false);
  const [kept, setKept] = useState<{ id: string; studyId: string } | null>(null);
  const rig = typed.rigId || rigId;

  function begin() {
    setTaken({ ms: now, startedAt: Date.now() - now });
    setTyped({ title: "", from: "0", to: "", rigId: "" });
    setTrouble(null);
    setKept(null);
  }

  async function keep() {
    if (!taken || !tally) return;
    const from = marks[Number(typed.from)]!;
    const to = typed.to === "" ? { ms: taken.ms, name: "end" } : marks[Number(typed.to)]!;
    if (to.ms <= from.ms) return setTrouble("It ends before it begins: choose a later end.");
    setBusy(true);
    const sent = await send<{ id: string; studyId: string }>("POST", "/api/watch/keep", {
      rigId: rig,
      name,
      title: typed.title,
      startedAt: new Date(taken.startedAt + from.ms).toISOString(),
      samples: tally.samples(from, to).map(rowOf),
      marks: markEvents(marks.slice(1), from, to),
    });
    setBusy(false);
    if (!sent.ok) return setTrouble(sent.error.message);
    setKept(sent.data);
  }

  const places = marks.map((mark, i) => ({ value: String(i), text: mark.name }));
  return (
    <>
      <Button disabled={!tally?.figures || rigs.length === 0} onClick={begin}>
        Keep as a run<span className="sr-only"> of {name}</span>
      </Button>
      <Dialog
        title={`Keep what was watched of ${name}`}
        open={taken !== null}
        onOpenChange={(open) => !open && setTaken(null)}
      >
        {kept ? (
          <p>
            It is kept, with its trace and marks.{" "}
            <Link className="underline" href={`/studies/${kept.studyId}/measure?m=${kept.id}`}>
              Look at it
            </Link>
            ; the watching goes on meanwhile if you stay.
          </p>
        ) : (
          <Form onSend={keep}>
            <Field
              label="What went on"
              hint="for example: copy the card, 81 GB. Compare holds jobs of one name against each other"
            >
              <Input
                name="keep-title"
                value={typed.title}
                onChange={(event) => setTyped({ ...typed, title: event.target.value })}
              />
            </Field>
            <div className="grid grid-cols-2 gap-3">
              <Field label="From">
                <Select
                  name="keep-from"
                  value={typed.from}
                  options={places}
                  onChange={(from) => setTyped({ ...typed, from: from || "0" })}
                />
              </Field>
              <Field label="To">
                <Select
                  name="keep-to"
                  value={typed.to}
                  options={[{ value: "", text: "now" }, ...places.slice(1)]}
                  onChange={(to) => setTyped({ ...typed, to })}
                />
              </Field>
            </div>
            <Field label="Rig" hint="It is kept in the rig’s study, marked as watched.">
              <Select
                name="keep-rig"
                value={rig}
                options={[
                  ...(rig ? [] : [{ value: "" as const, text: "choose a rig" }]),
                  ...rigs.map(({ id, text }) => ({ value: id, text })),
                ]}
                onChange={(next) => setTyped({ ...typed, rigId: next })}
              />
            </Field>
            {trouble && <Trouble>{trouble}</Trouble>}
            <div className="flex justify-end">
              <Button main type="submit" disabled={busy || !rig}>
                Keep it
              </Button>
            </div>
          </Form>
        )}
      </Dialog>
    </>
  );
}
