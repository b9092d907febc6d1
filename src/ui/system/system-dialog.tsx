"use client";

import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import type { Rig } from "@/core/chain/rig";
import { asDetected, disagreements } from "@/core/system/detected";
import type { SeenDrive } from "@/core/system/drive";
import type { SystemReport } from "@/core/system/system-report";
import { Dialog } from "../controls/dialog";
import { Button, Field, Form, Trouble } from "../controls/form";
import { send } from "../controls/send";
import { Toggle } from "../controls/toggle";
import { TargetInput } from "../plugged/target-input";
import { isReadable, PastedQuestion, type Pasted } from "./pasted-question";
import { Proposal, type Answer, type Question } from "./proposal";
import { Sources } from "./sources";
import { SystemReportView } from "./system-report";

/** What is asked of the system: a rig to hold against it, or none, to make one of what is plugged in. */
export interface Asking {
  rig: Rig | null;
  /** The drive, where it has been named already. */
  path?: string;
}

/** Asks the system what it knows of a path, to make a rig of it or to hold one against it. */
export function SystemDialog({
  asking,
  studyId,
  drives,
  onClose,
  onRig,
  onMade,
}: {
  /** Null: nothing is asked. */
  asking: Asking | null;
  /** The study that a rig is made for; null begins one with the rig. */
  studyId: string | null;
  drives: readonly SeenDrive[] | null;
  onClose: () => void;
  /** Hands over a rig that was put right, to be looked over and saved. */
  onRig: (rig: Rig) => void;
  /** A rig was made, in a study, of what is plugged in at a path; empty for one of another machine. */
  onMade: (studyId: string, rigId: string, path: string) => void;
}) {
  return (
    <Dialog
      wide
      title={
        asking?.rig ? `${asking.rig.name}: what the system says` : "Build from a connected drive"
      }
      open={asking !== null}
      onOpenChange={(open) => !open && onClose()}
    >
      {asking && (
        <Inquiry asking={asking} studyId={studyId} drives={drives} onRig={onRig} onMade={onMade} />
      )}
    </Dialog>
  );
}

function Inquiry({
  asking: { rig, path: named = "" },
  studyId,
  drives,
  onRig,
  onMade,
}: {
  asking: Asking;
  studyId: string | null;
  drives: readonly SeenDrive[] | null;
  onRig: (rig: Rig) => void;
  onMade: (studyId: string, rigId: string, path: string) => void;
}) {
  const [where, setWhere] = useState<"here" | "elsewhere">("here");
  const [path, setPath] = useState(named);
  const [pasted, setPasted] = useState<Pasted>({ text: "", drive: 0 });
  // What is plugged in may change between two askings of one path: each is a question of its own.
  const [asked, setAsked] = useState({ path: named, time: 0 });
  const question: Question | null =
    where === "elsewhere"
      ? isReadable(pasted)
        ? { pasted }
        : null
      : asked.path !== "" || asked.time > 0
        ? { path: asked.path }
        : null;
  const { data: sent, isFetching: busy } = useQuery({
    queryKey: ["system", studyId, question, asked.time],
    enabled: question !== null,
    gcTime: 0,
    queryFn: ({ signal }) =>
      send<Answer>("POST", "/api/system", { ...question, study: studyId ?? undefined }, { signal }),
  });
  const answer = question && sent?.ok ? sent.data : null;
  const trouble = question && sent && !sent.ok ? sent.error.message : null;
  function ask(of = path) {
    setPath(of);
    setAsked(({ time }) => ({ path: of, time: time + 1 }));
  }

  return (
    <div className="space-y-3">
      <Toggle label="Where the drive is" value={where} options={PLACES} onChange={setWhere} />
      {where === "elsewhere" ? (
        <PastedQuestion pasted={pasted} onChange={setPasted} />
      ) : (
        <Form onSend={() => ask()} className="flex items-end gap-2">
          <Field
            className="grow"
            label="A directory on the drive, or its block device"
            hint="Only the kernel's own files are read; nothing is opened on the drive."
          >
            <TargetInput
              autoFocus
              name="system-path"
              placeholder="/mnt/drive or /dev/sdb"
              value={path}
              drives={drives}
              onChange={(event) => setPath(event.target.value)}
              onPick={(picked) => ask(picked)}
            />
          </Field>
          <Button main type="submit" disabled={busy} className="mb-5">
            Detect
          </Button>
        </Form>
      )}
      {trouble && <Trouble>{trouble}</Trouble>}
      {question && answer && (
        <>
          {rig ? (
            <Differences rig={rig} report={answer.report} onRig={onRig} />
          ) : (
            <Proposal
              key={JSON.stringify(question)}
              question={question}
              answer={answer}
              studyId={studyId}
              onMade={(study, id) => onMade(study, id, "path" in question ? question.path : "")}
            />
          )}
          <SystemReportView report={answer.report} />
        </>
      )}
    </div>
  );
}

const PLACES = [
  { value: "here", text: "Connected, here or to a host" },
  { value: "elsewhere", text: "Pasted from another machine" },
] as const;

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
          Use links, driver and file system as the system reports
        </Button>
      )}
    </section>
  );
}
