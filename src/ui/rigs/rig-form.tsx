"use client";

import { Link } from "../controls/link";
import { useState } from "react";
import { capital } from "@/core/chain/wording";
import { allLinks } from "@/core/chain/link";
import { goesOverNetwork } from "@/core/chain/network";
import { rigProblems, type Rig } from "@/core/chain/rig";
import { TRANSPORT_NAMES } from "@/core/ledger/account";
import type { LinkMode, TransportId } from "@/core/ledger/mode";
import { linkProblems } from "@/core/chain/bottleneck";
import { Fold } from "../controls/fold";
import { Button, Field, Form, Input, Trouble } from "../controls/form";
import { HostInput } from "../hosts/host-input";
import { Select } from "../controls/select";
import { send } from "../controls/send";
import { Tip } from "../controls/tip";
import { saySaved } from "../controls/toast";
import { PhotoEditor } from "../photos/photo-editor";
import { BesideEditor } from "./beside-editor";
import { ChainEditor } from "./chain-editor";
import { HeldEditor } from "./held-editor";
import { LinkTable } from "./link-table";
import { PredictionTable } from "./prediction-table";
import { draftOf } from "./rig-draft";

/** Puts parts in order to a rig; links, ceilings and the predicted bottleneck show at once. */
export function RigForm({
  studyId,
  initial,
  stored,
  onSaved,
}: {
  studyId: string;
  /** The rig to change; without an id a new one is made of it. */
  initial: Rig;
  /** The same rig as it was stored when the form was opened; undefined for a new one. */
  stored: Rig | undefined;
  onSaved: () => void;
}) {
  const [rig, setRig] = useState(initial);
  const [before] = useState(stored);
  const [trouble, setTrouble] = useState<string | null>(null);
  /** The rig that this one equals; null where there is none such. */
  const [equal, setEqual] = useState<string | null>(null);
  const [busy, setBusy] = useState(false);
  /** Whether the tester was told that somebody changed it meanwhile, and writes over that. */
  const [over, setOver] = useState(false);
  const change = (part: Partial<Rig>) => setRig((was) => ({ ...was, ...part }));
  const bind = (name: "name" | "host" | "farHost" | "fileSystem" | "mountedAs") => ({
    name: name === "name" ? "rig-name" : name,
    value: rig[name],
    onChange: (event: { target: { value: string } }) => change({ [name]: event.target.value }),
  });
  const problems = rigProblems(rig);
  const dead = linkProblems(rig);
  const links = allLinks(rig);
  const isRemote = goesOverNetwork(rig);

  async function save() {
    setBusy(true);
    const body = draftOf(rig);
    const was = over || !before ? undefined : draftOf(before);
    const sent = rig.id
      ? await send("PUT", `/api/rigs/${rig.id}`, { ...body, was })
      : await send("POST", `/api/studies/${studyId}/rigs`, body);
    setBusy(false);
    setOver(!sent.ok && sent.error.code === "changed");
    setEqual(!sent.ok && sent.error.code === "equal" ? (sent.error.fields[0]?.path ?? null) : null);
    if (!sent.ok) return setTrouble(sent.error.message);
    saySaved(rig.id ? `${body.name} saved.` : `${body.name} is a rig of this study.`);
    onSaved();
  }

  return (
    <Form onSend={save}>
      <ChainEditor
        legend="Parts, from host to drive"
        name="next-part"
        parts={rig.parts}
        onChange={(parts) => change({ parts })}
      />
      <BesideEditor rig={rig} onChange={change} />
      <Fold open={rig.other.length > 0} className="text-sm" summary="Copy source or target">
        <ChainEditor
          legend="The other end of the copy, from host to drive"
          name="next-other-part"
          parts={rig.other}
          onChange={(other) => change({ other })}
        />
      </Fold>
      <div className="grid grid-cols-2 gap-3 md:grid-cols-[2fr_1.4fr_1.4fr_1fr]">
        <Field label="Name" hint="left empty, the parts name it">
          <Input {...bind("name")} />
        </Field>
        <Field label="Driver mode">
          <Select
            name="transport"
            value={rig.transport ?? ""}
            options={[
              { value: "", text: "the usual one" },
              ...transportsOf(links.flatMap(({ mode }) => mode ?? [])).map((id) => ({
                value: id,
                text: TRANSPORT_NAMES[id],
              })),
            ]}
            onChange={(next) => change({ transport: next || null })}
          />
        </Field>
        <Field label="Host" hint="computer, system">
          <HostInput {...bind("host")} />
        </Field>
        <Field label="File system" hint={isRemote ? "at the far side" : undefined}>
          <Input placeholder="ext4, exFAT ..." {...bind("fileSystem")} />
        </Field>
        {(isRemote || rig.mountedAs || rig.farHost) && (
          <>
            <Field label="Mounted as" hint="here, over the network">
              <Input placeholder="nfs4, smb3 ..." {...bind("mountedAs")} />
            </Field>
            <Field label="Far host" hint="serves the share, as SSH knows it">
              <HostInput {...bind("farHost")} />
            </Field>
          </>
        )}
      </div>
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
      <Fold
        open={rig.photos.length > 0}
        className="text-sm"
        summary="Pictures of the rig as it stands"
      >
        <PhotoEditor photos={rig.photos} onChange={(photos) => change({ photos })} />
      </Fold>
      <HeldEditor rig={rig} onChange={(held) => change({ held })} />
      {problems.length === 0 && dead.length === 0 && <PredictionTable rig={rig} />}
      {rig.parts.length > 1 && problems.length > 0 && (
        <p className="text-secondary">{problems.join(" ")}</p>
      )}
      {trouble && (
        <Trouble>
          {trouble}{" "}
          {equal && (
            <Link href={`/studies/${studyId}/measure?rig=${equal}`} className="underline">
              Measure that rig
            </Link>
          )}
        </Trouble>
      )}
      <div className="flex justify-end">
        <Button main type="submit" disabled={busy || problems.length > 0}>
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
        <Tip key={name} text={note}>
          <span className="flex items-center gap-1">
            {capital(label)}
            <Select
              label={capital(label)}
              name={name}
              className="!w-auto !py-0.5"
              value={value[name] === undefined ? "" : String(value[name])}
              options={[
                { value: "", text: "standard" },
                ...options.map((option) => ({ value: String(option), text: `${option} ${unit}` })),
              ]}
              onChange={(next) => {
                const { [name]: _, ...others } = value;
                onChange(next ? { ...others, [name]: Number(next) } : others);
              }}
            />
          </span>
        </Tip>
      ))}
    </div>
  );
}
