"use client";

import { useState } from "react";
import { PartDraft, PART_KIND_NAMES, type Part } from "@/core/chain/part";
import { BARE_RIG, type Rig } from "@/core/chain/rig";
import { asDetected, disagreements } from "@/core/system/detected";
import type { FilledPlace, FilledRig } from "@/core/system/fill";
import type { SystemReport } from "@/core/system/report";
import { Dialog } from "../controls/dialog";
import { Button, Field, Form, Input, Trouble } from "../controls/form";
import { send } from "../controls/send";
import { CELL, HEAD } from "../controls/table";
import { Sources } from "./sources";
import { SystemReportView } from "./system-report";

interface Answer {
  report: SystemReport;
  filled: FilledRig | null;
}

/** Asks the system what it knows of a path, to fill a rig with it or to hold one against it. */
export function SystemDialog({
  asking,
  onClose,
  onRig,
}: {
  /** The rig to hold against the system; a null one is to be made. Null: nothing is asked. */
  asking: { rig: Rig | null } | null;
  onClose: () => void;
  /** Hands over a rig made or put right, to be looked over and saved. */
  onRig: (rig: Rig) => void;
}) {
  return (
    <Dialog
      wide
      title={asking?.rig ? `${asking.rig.name}: what the system says` : "What the system sees"}
      open={asking !== null}
      onOpenChange={(open) => !open && onClose()}
    >
      {asking && <Inquiry rig={asking.rig} onRig={onRig} />}
    </Dialog>
  );
}

function Inquiry({ rig, onRig }: { rig: Rig | null; onRig: (rig: Rig) => void }) {
  const [path, setPath] = useState("");
  const [answer, setAnswer] = useState<Answer | null>(null);
  const [trouble, setTrouble] = useState<string | null>(null);
  const [busy, setBusy] = useState(false);

  async function ask() {
    setBusy(true);
    const sent = await send<Answer>("POST", "/api/system", { path });
    setBusy(false);
    setTrouble(sent.ok ? null : sent.error.message);
    setAnswer(sent.ok ? sent.data : null);
  }

  return (
    <div className="space-y-3">
      <Form onSend={ask} className="flex items-end gap-2">
        <Field
          className="grow"
          label="A directory on the drive, or its block device"
          hint="Only the kernel's own files are read; nothing is opened on the drive."
        >
          <Input
            autoFocus
            name="system-path"
            placeholder="/mnt/drive or /dev/sdb"
            value={path}
            onChange={(event) => setPath(event.target.value)}
          />
        </Field>
        <Button main type="submit" disabled={busy} className="mb-5">
          Ask
        </Button>
      </Form>
      {trouble && <Trouble>{trouble}</Trouble>}
      {answer && (
        <>
          {rig ? (
            <Differences rig={rig} report={answer.report} onRig={onRig} />
          ) : (
            <Proposal answer={answer} onRig={onRig} />
          )}
          <SystemReportView report={answer.report} />
        </>
      )}
    </div>
  );
}

function Differences({
  rig,
  report,
  onRig,
}: {
  rig: Rig;
  report: SystemReport;
  onRig: (rig: Rig) => void;
}) {
  const found = disagreements(rig, report);
  return (
    <section className="border border-line bg-paper p-3" role="status">
      <h3 className="font-semibold">
        {found.length === 0
          ? "As far as the system sees, the rig is as declared."
          : `${found.length} ${found.length === 1 ? "thing is" : "things are"} not as declared`}
      </h3>
      <ul className="list-disc pl-5">
        {found.map(({ text, from }) => (
          <li key={text}>
            {text} <Sources from={from} />
          </li>
        ))}
      </ul>
      {found.length > 0 && (
        <Button className="mt-2" onClick={() => onRig(asDetected(rig, report))}>
          Take over links, driver and file system as the system says
        </Button>
      )}
    </section>
  );
}

function Proposal({
  answer: { report, filled },
  onRig,
}: {
  answer: Answer;
  onRig: (rig: Rig) => void;
}) {
  const [trouble, setTrouble] = useState<string | null>(null);
  const [busy, setBusy] = useState(false);
  if (!filled) {
    return (
      <p className="border border-line bg-paper p-3" role="status">
        The system names no link on the way to it that a rig could be made of.
      </p>
    );
  }
  const { chain, beside, layout, notes } = filled;

  async function make() {
    setBusy(true);
    const parts: Part[] = [];
    for (const place of [...chain, ...beside]) {
      const part = place.part ?? (await shelve(place, setTrouble));
      if (!part) return setBusy(false);
      parts.push(part);
    }
    const rig: Rig = {
      ...BARE_RIG,
      id: "",
      name: "",
      parts: parts.slice(0, chain.length),
      beside: parts.slice(chain.length),
      layout,
    };
    onRig(asDetected(rig, report));
  }

  return (
    <section className="border border-line bg-paper p-3">
      <h3 className="font-semibold">The rig this makes</h3>
      <table className="w-full text-sm">
        <thead>
          <tr>
            <th className={HEAD}>place</th>
            <th className={HEAD}>what the system sees</th>
            <th className={HEAD}>on the shelf</th>
          </tr>
        </thead>
        <tbody>
          {[...chain, ...beside].map(({ node, part, by, draft }, i) => (
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
      {notes.map((note) => (
        <p key={note} className="mt-1 text-sm text-secondary">
          {note}
        </p>
      ))}
      {trouble && <Trouble>{trouble}</Trouble>}
      <Button main className="mt-2" disabled={busy} onClick={make}>
        Make a rig of it
      </Button>
    </section>
  );
}

/** Puts a proposed part on the shelf; null where that fails. */
async function shelve(
  { draft }: FilledPlace,
  onTrouble: (message: string) => void,
): Promise<Part | null> {
  const sent = await send<{ id: string }>("POST", "/api/parts", draft);
  if (sent.ok) return { ...PartDraft.parse(draft), id: sent.data.id };
  onTrouble(`${draft.name} cannot be put on the shelf: ${sent.error.message}`);
  return null;
}
