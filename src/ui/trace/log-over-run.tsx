"use client";

import { useState } from "react";
import type { WarmthPreview } from "@/core/elsewhere/preview";
import type { LogColumn } from "@/core/elsewhere/log";
import type { OpenTrace } from "@/core/study/open-trace";
import { counted } from "@/core/units/counted";
import { formatDuration } from "@/core/units/number";
import { decodeLog } from "@/core/elsewhere/decode";
import { Dialog } from "../controls/dialog";
import { FollowedLine, useFollowed } from "../controls/followed";
import { Button, Field, Form, Input, Trouble } from "../controls/form";
import { send } from "../controls/send";
import { Columns, LogProblems } from "../elsewhere/log-columns";
import { FilePicker, MOST_LOG_BYTES } from "../controls/file-picker";
import { remember, remembered } from "../elsewhere/remembered-columns";
import { WarmthPlot } from "./warmth-plot";

/** Lays the temperatures of another program's log over a run, by the clock. */
export function LogOverRun({ trace, onChanged }: { trace: OpenTrace; onChanged: () => void }) {
  const [open, setOpen] = useState(false);
  const [file, setFile] = useState<{ name: string; text: string } | null>(null);
  const [preview, setPreview] = useState<WarmthPreview | null>(null);
  const [ahead, setAhead] = useState("0");
  const [leaveOut, setLeaveOut] = useState(false);
  const [trouble, setTrouble] = useState<string | null>(null);
  const [busy, setBusy] = useState(false);
  const followed = useFollowed();
  const url = `/api/runs/${trace.runId}/temperatures`;

  async function ask<T>(method: "PUT" | "POST", body: Record<string, unknown>): Promise<T | null> {
    setBusy(true);
    const sent = await followed.follow((more) => send<T>(method, url, body, more));
    setBusy(false);
    setTrouble(sent.ok ? null : sent.error.message);
    return sent.ok ? sent.data : null;
  }

  async function look(given: { name: string; text: string }, columns?: LogColumn[], by = ahead) {
    const seen = await ask<WarmthPreview>("PUT", {
      ...given,
      columns,
      aheadSeconds: secondsOf(by) ?? 0,
    });
    if (seen) setPreview(seen);
    return seen;
  }

  async function read(picked: File) {
    setPreview(null);
    setTrouble(null);
    setLeaveOut(false);
    setAhead("0");
    setOpen(true);
    if (picked.size > MOST_LOG_BYTES) return setTrouble(`${picked.name} is larger than 60 MiB.`);
    const given = {
      name: picked.name.slice(0, 100),
      text: decodeLog(new Uint8Array(await picked.arrayBuffer())),
    };
    setFile(given);
    const found = await look(given, undefined, "0");
    const known = found && remembered(found.shape);
    if (known?.some(({ role }) => role === "celsius")) await look(given, known, "0");
  }

  async function take() {
    if (!file || !preview) return;
    const { columns, shape } = preview;
    const body = { ...file, columns, leaveOut, aheadSeconds: secondsOf(ahead) ?? 0 };
    const taken = await ask<{ readings: number }>("POST", body);
    if (!taken) return;
    remember(shape, columns);
    setOpen(false);
    onChanged();
  }

  const change = (column: number, next: Partial<LogColumn>) => {
    if (!file || !preview) return;
    const columns = preview.columns.map((one) =>
      one.column === column ? { ...one, ...next } : one,
    );
    void look(file, columns);
  };
  const wrong = secondsOf(ahead) === null ? "seconds, at most two days" : undefined;

  return (
    <>
      <FilePicker
        label="A log of temperatures"
        words="Add temperatures from a log"
        onPick={(picked) => void read(picked)}
      />
      <Dialog
        wide
        title={file ? `Temperatures of ${file.name}` : "Temperatures of a log"}
        open={open}
        onOpenChange={setOpen}
      >
        <Form onSend={take}>
          {preview && (
            <>
              <p data-within={preview.within}>{whereIs(preview, trace)}</p>
              {preview.readings.length > 0 && (
                <WarmthPlot trace={trace} readings={preview.readings} />
              )}
              <Field
                label={
                  preview.clock === "own"
                    ? "Seconds that the log began before the run"
                    : "Seconds that the log’s clock is ahead of the run’s"
                }
                hint={
                  preview.clock === "own"
                    ? "Below 0: the log began after the run."
                    : "Below 0: the log’s clock is behind."
                }
                error={wrong}
                className="w-80"
              >
                <Input
                  name="ahead"
                  inputMode="decimal"
                  value={ahead}
                  onChange={(event) => setAhead(event.target.value)}
                  onBlur={() => file && !wrong && void look(file, preview.columns)}
                />
              </Field>
              <Columns preview={preview} onChange={change} />
              <LogProblems
                preview={preview}
                leaveOut={leaveOut}
                onLeaveOut={preview.within > 0 ? setLeaveOut : null}
              />
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
                  busy ||
                  wrong !== undefined ||
                  preview.within === 0 ||
                  (preview.problemCount > 0 && !leaveOut)
                }
              >
                Add to the run
              </Button>
            </div>
          )}
        </Form>
      </Dialog>
    </>
  );
}

const MOST_AHEAD = 172_800;

/** Seconds as typed; null for what is none. */
function secondsOf(typed: string): number | null {
  const value = Number(typed.trim().replace(",", ".").replace("−", "-"));
  return typed.trim() !== "" && Math.abs(value) <= MOST_AHEAD ? value : null;
}

const CLOCKS = {
  world: "by the log’s clock",
  local: "by the log’s date and time, in the time zone of Nerrit’s computer",
  day: "by the time of day, since the log has no date",
  own: "from the run’s beginning on, since the log has no clock",
};

/** Where a log lies beside a run, in words. */
function whereIs(
  { within, all, span, clock }: WarmthPreview,
  { startMs, endMs }: OpenTrace,
): string {
  if (!span) return "No line of the log has both a time and a temperature.";
  if (within > 0)
    return `${within} of ${counted(all, "line")} fall into the run, ${CLOCKS[clock]}.`;
  const [from, to] = [span.from * 1e3 - startMs, span.to * 1e3 - startMs];
  const where =
    to < 0
      ? `ended ${formatDuration(-to)} before the run began`
      : `began ${formatDuration(from - (endMs - startMs))} after the run ended`;
  return `The log ${where}, ${CLOCKS[clock]}. Say below by how much the log’s clock differs.`;
}
