"use client";

import { useState } from "react";
import type { Rig } from "@/core/chain/rig";
import { drillNamed } from "@/core/drills/catalogue";
import type { Drill } from "@/core/drills/drill";
import { WATCHED } from "@/core/drills/kinds/watched";
import { usualDrill, shapeOf } from "@/core/drills/shape";
import { rateOfFigure, readFigure } from "@/core/elsewhere/figure";
import { formatNumber, formatRate } from "@/core/units/number";
import { blockSchema } from "@/core/units/request";
import { Dialog } from "../controls/dialog";
import { Button, Field, Form, Input, Trouble } from "../controls/form";
import { send } from "../controls/send";
import { DrillChoice, type Of } from "./drill-choice";
import { NO_REQUESTS, RequestsChoice, requestsFrom } from "./requests-choice";
import { sayTaken, type Taken } from "./taken";

/** Takes in figures that were read off elsewhere, each with what is understood of it. */
export function TypedFigures({
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
  const [of, setOf] = useState(first);
  const [requests, setRequests] = useState(NO_REQUESTS);
  const [title, setTitle] = useState("");
  const [text, setText] = useState("");
  const [source, setSource] = useState("");
  const [trouble, setTrouble] = useState<string | null>(null);
  const figures = text.split(/\s*[;\n]\s*/).filter(Boolean);
  const { block } = requestsFrom(requests);
  const isJob = of.drill === WATCHED.name;
  const drill = isJob ? null : usualDrill(of.drill, of.direction, asBlock(of.drill, block));
  const small = drillNamed(of.drill).shows.includes("iops");

  async function take() {
    const body = { ...of, ...requestsFrom(requests), title, figures, source };
    const sent = await send<Taken>("POST", `/api/studies/${studyId}/typed`, body);
    if (!sent.ok) return setTrouble(sent.error.message);
    setOpen(false);
    setText("");
    setTrouble(null);
    sayTaken(studyId, sent.data, () => onTaken({ measurementIds: [], rigIds: [], partIds: [] }));
    onTaken(sent.data);
  }

  return (
    <>
      <Button
        disabled={rigs.length === 0}
        onClick={() => {
          setOf(first);
          setOpen(true);
        }}
      >
        Type a figure
      </Button>
      <Dialog title="A figure from elsewhere" open={open} onOpenChange={setOpen}>
        <Form onSend={take}>
          <DrillChoice
            of={of}
            rigs={rigs}
            jobs
            onChange={(next) => {
              if (next.drill !== of.drill) setRequests(NO_REQUESTS);
              setOf(next);
            }}
          />
          {isJob ? (
            <Field label="What the job is called" hint="rigs are compared by this name">
              <Input
                name="job"
                value={title}
                placeholder="copy the card"
                onChange={(event) => setTitle(event.target.value)}
              />
            </Field>
          ) : (
            <RequestsChoice {...of} value={requests} onChange={setRequests} />
          )}
          <Field
            label="Figures, one for each repeat"
            hint={
              isJob
                ? "How much in which time: 81 GB in 6:40. Several are parted by a semicolon."
                : `${small ? "85k IOPS" : "452 MB/s"}, or bytes and a stopwatch: 320 GB in 6:40. Several are parted by a semicolon.`
            }
          >
            <Input
              name="figures"
              value={text}
              placeholder={
                isJob ? "81 GB in 6:40" : small ? "85k IOPS; 84.2k IOPS" : "452; 449; 455 MB/s"
              }
              onChange={(event) => setText(event.target.value)}
            />
          </Field>
          {figures.length > 0 && (
            <ul className="figure text-[13px]" aria-label="What is understood">
              {figures.map((one, i) => (
                <li key={`${i} ${one}`}>{understood(one, small, drill)}</li>
              ))}
            </ul>
          )}
          <Field label="Where it was read off" hint="shown beside it wherever it stands">
            <Input
              name="source"
              value={source}
              placeholder="stopwatch, file manager, a printout"
              onChange={(event) => setSource(event.target.value)}
            />
          </Field>
          {trouble && <Trouble>{trouble}</Trouble>}
          <div className="flex justify-end">
            <Button main type="submit" disabled={figures.length === 0}>
              Add the figures
            </Button>
          </div>
        </Form>
      </Dialog>
    </>
  );
}

/** A block that makes sense; what does not is refused when it is sent. */
const asBlock = (drill: string, block: number | null) =>
  "block" in drillNamed(drill).parameters && blockSchema.safeParse(block).success ? { block } : {};

function understood(text: string, small: boolean, drill: Drill | null): string {
  const unit = small ? ({ kind: "iops", times: 1 } as const) : ({ kind: "rate", mbps: 1 } as const);
  const figure = readFigure(text, unit);
  if (!figure) return `✕ “${text}” is no figure`;
  if (drill === null && figure.kind !== "moved")
    return `✕ “${text}” says not how much in which time`;
  const block = drill && (shapeOf(drill)?.block ?? null);
  if (figure.kind === "iops" && block === null)
    return `✕ “${text}”: this drill has no requests of one size`;
  const mbps = rateOfFigure(figure, block ?? 0);
  const requests =
    small && block ? `, ${formatNumber((mbps * 1e6) / block)} requests a second` : "";
  return `“${text}” is ${formatRate(mbps)} MB/s${requests}`;
}
