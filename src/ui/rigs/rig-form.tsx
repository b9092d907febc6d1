"use client";

import { useState } from "react";
import { capital } from "@/core/answer/wording";
import { allLinks } from "@/core/chain/link";
import type { Part } from "@/core/chain/part";
import { BARE_RIG, rigProblems, type Rig, type RigDraft } from "@/core/chain/rig";
import { TRANSPORT_NAMES } from "@/core/ledger/account";
import { TransportId, type LinkMode } from "@/core/ledger/mode";
import { linkProblems } from "@/core/locate/narrows";
import { Button, Field, Form, Input, Select, Trouble } from "../controls/form";
import { send } from "../controls/send";
import { BesideEditor } from "./beside-editor";
import { ChainEditor } from "./chain-editor";
import { HeldEditor } from "./held-editor";
import { LinkTable } from "./link-table";
import { PredictionTable } from "./prediction-table";

/** A rig that is yet to be described. */
export const NEW_RIG: Rig = { ...BARE_RIG, id: "", name: "", parts: [] };

/** What a rig is stored as. */
function draftOf({ id: _, parts, beside, other, ...rest }: Rig): RigDraft {
  const ids = (list: Part[]) => list.map(({ id }) => id);
  const name = rest.name || parts.map((part) => part.name).join(" · ");
  const here = new Set(ids([...parts, ...beside, ...other]));
  return {
    ...rest,
    name: name.slice(0, 80),
    partIds: ids(parts),
    besideIds: ids(beside),
    otherIds: ids(other),
    // What was said of a link whose part has left goes with it.
    settled: rest.settled.filter(({ partId }) => here.has(partId)),
    held: rest.held.filter(({ partId }) => here.has(partId)),
  };
}

/** Puts parts in order to a rig; links, ceilings and the predicted narrows show at once. */
export function RigForm({
  studyId,
  initial,
  onSaved,
}: {
  studyId: string;
  /** The rig to change; without an id a new one is made of it. */
  initial: Rig;
  onSaved: () => void;
}) {
  const [rig, setRig] = useState(initial);
  const [trouble, setTrouble] = useState<string | null>(null);
  const [busy, setBusy] = useState(false);
  const change = (part: Partial<Rig>) => setRig((was) => ({ ...was, ...part }));
  const bind = (name: "name" | "host" | "fileSystem") => ({
    name: name === "name" ? "rig-name" : name,
    value: rig[name],
    onChange: (event: { target: { value: string } }) => change({ [name]: event.target.value }),
  });
  const problems = rigProblems(rig);
  const dead = linkProblems(rig);
  const links = allLinks(rig);

  async function save() {
    setBusy(true);
    const body = draftOf(rig);
    const sent = rig.id
      ? await send("PUT", `/api/rigs/${rig.id}`, body)
      : await send("POST", `/api/studies/${studyId}/rigs`, body);
    setBusy(false);
    if (sent.ok) onSaved();
    else setTrouble(sent.error.message);
  }

  return (
    <Form onSend={save}>
      <div className="grid grid-cols-[2fr_1.4fr_1.4fr_1fr] gap-3">
        <Field label="Name" hint="left empty, the parts name it">
          <Input autoFocus {...bind("name")} />
        </Field>
        <Field label="Driver mode">
          <Select
            name="transport"
            value={rig.transport ?? ""}
            onChange={(event) =>
              change({ transport: TransportId.safeParse(event.target.value).data ?? null })
            }
          >
            <option value="">the usual one</option>
            {transportsOf(links.flatMap(({ mode }) => mode ?? [])).map((id) => (
              <option key={id} value={id}>
                {TRANSPORT_NAMES[id]}
              </option>
            ))}
          </Select>
        </Field>
        <Field label="Host" hint="computer, system">
          <Input {...bind("host")} />
        </Field>
        <Field label="File system">
          <Input placeholder="ext4, exFAT ..." {...bind("fileSystem")} />
        </Field>
      </div>
      <ChainEditor
        legend="Parts, from host to drive"
        name="next-part"
        parts={rig.parts}
        onChange={(parts) => change({ parts })}
      />
      <BesideEditor rig={rig} onChange={change} />
      <details open={rig.other.length > 0} className="text-sm">
        <summary>A copy: where it comes from or goes to</summary>
        <ChainEditor
          legend="The other end of the copy, from host to drive"
          name="next-other-part"
          parts={rig.other}
          onChange={(other) => change({ other })}
        />
      </details>
      <LinkTable
        rig={rig}
        onMode={(partId, mode) =>
          change({
            settled: [
              ...rig.settled.filter((said) => said.partId !== partId),
              ...(mode ? [{ partId, mode, by: "tester" as const }] : []),
            ],
          })
        }
      />
      <Assumptions
        modes={links.flatMap(({ mode }) => mode ?? [])}
        value={rig.assumptions}
        onChange={(assumptions) => change({ assumptions })}
      />
      <HeldEditor rig={rig} onChange={(held) => change({ held })} />
      {problems.length === 0 && dead.length === 0 && <PredictionTable rig={rig} />}
      {rig.parts.length > 1 && problems.length > 0 && (
        <p className="text-secondary">{problems.join(" ")}</p>
      )}
      {trouble && <Trouble>{trouble}</Trouble>}
      <div className="flex justify-end">
        <Button
          main
          type="submit"
          disabled={busy || problems.length > 0}
          title={problems.join(" ") || undefined}
        >
          {rig.id ? "Save the rig" : "Add the rig"}
        </Button>
      </div>
    </Form>
  );
}

const transportsOf = (modes: readonly LinkMode[]): TransportId[] =>
  [...new Set(modes.flatMap(({ transports }) => transports.map(({ id }) => id)))].filter(
    (id) => id !== "stated",
  );

/** What is assumed of the rig's links, where the standard leaves a choice. */
function Assumptions({
  modes,
  value,
  onChange,
}: {
  modes: readonly LinkMode[];
  value: Record<string, number>;
  onChange: (assumptions: Record<string, number>) => void;
}) {
  const open = Object.entries(
    Object.assign({}, ...modes.map(({ assumptions }) => assumptions)) as LinkMode["assumptions"],
  );
  if (open.length === 0) return null;
  return (
    <div className="flex flex-wrap gap-x-4 gap-y-1 text-sm">
      {open.map(([name, { label, unit, options, note }]) => (
        <label key={name} className="flex items-center gap-1" title={note}>
          {capital(label)}
          <Select
            className="!w-auto !py-0.5"
            value={value[name] ?? ""}
            onChange={({ target }) => {
              const { [name]: _, ...others } = value;
              onChange(target.value ? { ...others, [name]: Number(target.value) } : others);
            }}
          >
            <option value="">standard</option>
            {options.map((option) => (
              <option key={option} value={option}>
                {option} {unit}
              </option>
            ))}
          </Select>
        </label>
      ))}
    </div>
  );
}
