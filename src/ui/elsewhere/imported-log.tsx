"use client";

import { useState } from "react";
import type { LogPreview } from "@/core/elsewhere/preview";
import type { Rig } from "@/core/chain/rig";
import type { LogColumn } from "@/core/elsewhere/log";
import { counted } from "@/core/units/counted";
import { formatDuration, formatRate } from "@/core/units/number";
import { formatSize } from "@/core/units/size";
import { decodeLog } from "@/core/elsewhere/decode";
import { Dialog } from "../controls/dialog";
import { Button, Form, Trouble } from "../controls/form";
import { FollowedLine, useFollowed } from "../controls/followed";
import { send } from "../controls/send";
import { TwoTraces } from "../simulate/two-traces";
import { DrillChoice, type Of } from "./drill-choice";
import { NO_REQUESTS, RequestsChoice, requestsFrom } from "./requests-choice";
import { LogProblems, Columns } from "./log-columns";
import { FilePicker, MOST_LOG_BYTES } from "../controls/file-picker";
import { remember, remembered } from "./remembered-columns";
import { sayTaken, type Taken } from "./taken";

/** Takes in the log of another program: its columns are guessed, shown, and can be said otherwise. */
export function ImportedLog({
  studyId,
  rigs,
  first,
  onTaken,
}: {
  studyId: string;
  rigs: readonly Rig[];
  first: Of;
  onTaken: (taken: Taken) => void;
}) {
  const [open, setOpen] = useState(false);
  const [file, setFile] = useState<{ name: string; text: string } | null>(null);
  const [preview, setPreview] = useState<LogPreview | null>(null);
  const [of, setOf] = useState(first);
  const [requests, setRequests] = useState(NO_REQUESTS);
  const [leaveOut, setLeaveOut] = useState(false);
  const [trouble, setTrouble] = useState<string | null>(null);
  const [busy, setBusy] = useState(false);
  const followed = useFollowed();

  async function look(text: string, columns?: LogColumn[]): Promise<LogPreview | null> {
    setBusy(true);
    const sent = await followed.follow((more) =>
      send<LogPreview>("PUT", `/api/studies/${studyId}/log`, { text, columns }, more),
    );
    setBusy(false);
    setTrouble(sent.ok ? null : sent.error.message);
    if (!sent.ok) return null;
    setPreview(sent.data);
    return sent.data;
  }

  async function read(picked: File) {
    setPreview(null);
    setTrouble(null);
    setLeaveOut(false);
    setOf(first);
    setRequests(NO_REQUESTS);
    setOpen(true);
    if (picked.size > MOST_LOG_BYTES) return setTrouble(`${picked.name} is larger than 60 MiB.`);
    const text = decodeLog(new Uint8Array(await picked.arrayBuffer()));
    setFile({ name: picked.name, text });
    const found = await look(text);
    if (!found) return;
    const known = remembered(found.shape);
    const seen = known ? await look(text, known) : found;
    if (seen && seen.written * 2 > seen.bytes)
      setOf({ ...first, drill: "long-fill", direction: "write" });
    else setOf({ ...first, drill: "haul", direction: "read" });
  }

  async function take() {
    if (!file || !preview) return;
    setBusy(true);
    const { columns, shape } = preview;
    const name = file.name.slice(0, 200);
    const body = {
      ...of,
      ...requestsFrom(requests),
      text: file.text,
      columns,
      name,
      leaveOut,
    };
    const sent = await followed.follow((more) =>
      send<Taken>("POST", `/api/studies/${studyId}/log`, body, more),
    );
    setBusy(false);
    if (!sent.ok) return setTrouble(sent.error.message);
    remember(shape, columns);
    setOpen(false);
    sayTaken(studyId, sent.data, () => onTaken({ measurementIds: [], rigIds: [], partIds: [] }));
    onTaken(sent.data);
  }

  const change = (column: number, next: Partial<LogColumn>) => {
    if (!file || !preview) return;
    void look(
      file.text,
      preview.columns.map((one) => (one.column === column ? { ...one, ...next } : one)),
    );
  };

  return (
    <>
      <FilePicker
        label="A log"
        words="Import a log"
        disabled={rigs.length === 0}
        onPick={(picked) => void read(picked)}
      />
      <Dialog
        wide
        title={file ? `The log ${file.name}` : "A log"}
        open={open}
        onOpenChange={setOpen}
      >
        <Form onSend={take}>
          {preview && (
            <>
              <p>
                {counted(preview.lines, "line")}: {formatSize(preview.bytes, 1000)} in{" "}
                {formatDuration(preview.ms)},{" "}
                {preview.ms > 0 &&
                  `${formatRate(preview.bytes / 1e3 / preview.ms)} MB/s in the mean`}
                {preview.wraps > 0 &&
                  `; a counter began anew ${preview.wraps === 1 ? "once" : `${preview.wraps} times`}`}
                .
              </p>
              {preview.spread > 0 && (
                <p>
                  {counted(preview.spread, "line")} told the same time as the line before: the lines
                  of one time are spread until the next.
                </p>
              )}
              {preview.untimed && (
                <p className="font-semibold">
                  No column is a time: each line counts as one second. Choose the time column below.
                </p>
              )}
              <Columns preview={preview} onChange={change} />
              {preview.samples.length > 0 && (
                <TwoTraces
                  label="The log as a trace"
                  first={{ name: "log", samples: preview.samples }}
                />
              )}
              <LogProblems
                preview={preview}
                leaveOut={leaveOut}
                onLeaveOut={preview.samples.length > 0 ? setLeaveOut : null}
              />
              <DrillChoice of={of} rigs={rigs} onChange={setOf} />
              <RequestsChoice {...of} value={requests} onChange={setRequests} />
            </>
          )}
          {trouble && <Trouble>{trouble}</Trouble>}
          <FollowedLine followed={followed} />
          {preview && (
            <div className="flex justify-end">
              <Button
                main
                type="submit"
                disabled={
                  busy || preview.samples.length === 0 || (preview.problems.length > 0 && !leaveOut)
                }
              >
                Import as a run
              </Button>
            </div>
          )}
        </Form>
      </Dialog>
    </>
  );
}
