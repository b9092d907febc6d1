"use client";

import { useState } from "react";
import { PART_KIND_NAMES, PartDraft, PartKind } from "@/core/chain/part";
import { impossibleClaim } from "@/core/judge/impossible";
import { plainWords } from "@/core/units/plain-words";
import { formatCapacity, parseSize } from "@/core/units/size";
import { Button, Field, Form, Input, Trouble } from "../controls/form";
import { Select } from "../controls/select";
import { send } from "../controls/send";
import { saySaved } from "../controls/toast";
import { ClaimsEditor } from "./claims-editor";
import { ConnectorsEditor } from "./connectors-editor";
import { draftFrom, emptyPart, errorsOf, type TypedPart } from "./part-draft";
import { TEMPLATES } from "./templates";

/** Fields of plain text. */
type TextField = Exclude<keyof TypedPart, "kind" | "connectors" | "claims">;

export const KIND_OPTIONS = PartKind.options.map((kind) => ({
  value: kind,
  text: PART_KIND_NAMES[kind],
}));

/** A capacity in both ways of counting, as it is typed; how to write one where it is none. */
function bothSizes(typed: string): string {
  try {
    const { label, counted } = formatCapacity(parseSize(typed));
    return `${label} = ${counted}`;
  } catch {
    return "for example 1TB or 512GiB";
  }
}

/** Enters or changes one part. What is typed stays until it has been stored. */
export function PartForm({
  id,
  initial,
  onSaved,
}: {
  /** The part to change; null enters a new one. */
  id: string | null;
  initial: TypedPart;
  onSaved: (id: string) => void;
}) {
  const [typed, setTyped] = useState(initial);
  const [errors, setErrors] = useState<Record<string, string>>({});
  const [trouble, setTrouble] = useState<string | null>(null);
  const [busy, setBusy] = useState(false);
  /** Whether the tester was told that somebody changed it meanwhile, and writes over that. */
  const [over, setOver] = useState(false);
  const change = (part: Partial<TypedPart>) => setTyped((was) => ({ ...was, ...part }));
  const bind = (name: TextField) => ({
    value: typed[name],
    onChange: (event: { target: { value: string } }) => change({ [name]: event.target.value }),
    name,
    "aria-invalid": errors[name] ? true : undefined,
  });

  async function save() {
    const draft = draftFrom(typed);
    const parsed = PartDraft.safeParse(draft, { error: plainWords });
    if (!parsed.success) {
      const fields = parsed.error.issues.map(({ path, message }) => ({
        path: path.join("."),
        message,
      }));
      setErrors(errorsOf(fields));
      setTrouble("Some fields need another look; nothing was stored yet.");
      return;
    }
    setBusy(true);
    const sent = id
      ? await send("PUT", `/api/parts/${id}`, {
          ...draft,
          was: over ? undefined : draftFrom(initial),
        })
      : await send<{ id: string }>("POST", "/api/parts", draft);
    setBusy(false);
    if (sent.ok) {
      saySaved(id ? `${draft.name} saved.` : `${draft.name} is on the shelf.`);
      return onSaved(id ?? (sent.data as { id: string }).id);
    }
    setOver(sent.error.code === "changed");
    setErrors(errorsOf(sent.error.fields));
    setTrouble(sent.error.message);
  }

  const draft = PartDraft.safeParse(draftFrom(typed));
  const warnings = draft.success
    ? draft.data.claims.flatMap((claim) => impossibleClaim(draft.data, claim))
    : [];
  const templates = TEMPLATES.filter(({ kind }) => kind === typed.kind);

  return (
    <Form onSend={save}>
      <div className="grid grid-cols-2 gap-3">
        <Field label="Kind">
          <Select
            name="kind"
            value={typed.kind}
            disabled={id !== null}
            options={KIND_OPTIONS}
            onChange={(kind) => kind && setTyped({ ...emptyPart(kind), name: typed.name })}
          />
        </Field>
        <Field label="Start from" hint="fills in the modes below">
          <Select
            name="template"
            value=""
            options={[
              { value: "", text: "a generic part ..." },
              ...templates.map(({ name }) => ({ value: name, text: name })),
            ]}
            onChange={(chosen) => {
              const template = templates.find(({ name }) => name === chosen);
              if (!template) return;
              const { connectors, name } = template;
              change({ connectors, name: typed.name || name });
            }}
          />
        </Field>
        <Field label="Name" hint="as you call this one item" error={errors.name}>
          <Input autoFocus {...bind("name")} />
        </Field>
        <Field label="Tag on the item" hint="for example: blue tape" error={errors.tag}>
          <Input {...bind("tag")} />
        </Field>
        <Field label="Maker" error={errors.maker}>
          <Input {...bind("maker")} />
        </Field>
        <Field label="Model" error={errors.model}>
          <Input {...bind("model")} />
        </Field>
        <Field
          label="Serial number"
          hint="by which the system's own report is matched"
          error={errors.serial}
        >
          <Input {...bind("serial")} />
        </Field>
        <Field label="Notes" error={errors.notes}>
          <Input {...bind("notes")} />
        </Field>
      </div>
      <ConnectorsEditor
        kind={typed.kind}
        value={typed.connectors}
        onChange={(connectors) => change({ connectors })}
        errors={errors}
      />
      <ClaimsEditor
        value={typed.claims}
        modes={linkModes(typed)}
        onChange={(claims) => change({ claims })}
        errors={errors}
      />
      <div className="grid grid-cols-4 gap-3">
        <Field label="Rated read speed" hint="MB/s, where known" error={errors.ownRead}>
          <Input inputMode="decimal" {...bind("ownRead")} />
        </Field>
        <Field label="Rated write speed" hint="MB/s, where known" error={errors.ownWrite}>
          <Input inputMode="decimal" {...bind("ownWrite")} />
        </Field>
        {typed.kind === "drive" && (
          <>
            <Field label="Read time per request" hint="µs a small request" error={errors.timeRead}>
              <Input inputMode="decimal" {...bind("timeRead")} />
            </Field>
            <Field
              label="Write time per request"
              hint="µs a small request"
              error={errors.timeWrite}
            >
              <Input inputMode="decimal" {...bind("timeWrite")} />
            </Field>
          </>
        )}
        <Field label="Capacity" hint={bothSizes(typed.capacity)} error={errors.capacity}>
          <Input {...bind("capacity")} />
        </Field>
        {typed.kind === "drive" && (
          <Field
            label="Write cache"
            hint="the fast part that takes writes first; drills are set by it"
            error={errors.cache}
          >
            <Input placeholder="24GiB" {...bind("cache")} />
          </Field>
        )}
        <Field label="Price" error={errors.price}>
          <Input inputMode="decimal" {...bind("price")} />
        </Field>
        <Field label="Currency" error={errors.currency}>
          <Input maxLength={3} {...bind("currency")} />
        </Field>
      </div>
      {warnings.map((warning) => (
        <Trouble key={warning}>{warning}</Trouble>
      ))}
      {trouble && <Trouble>{trouble}</Trouble>}
      <div className="flex justify-end gap-2">
        <Button main type="submit" disabled={busy}>
          {id ? "Save the part" : "Add it to the shelf"}
        </Button>
      </div>
    </Form>
  );
}

/** What the part's own link can run: towards the host, of a port towards the drive, of a cable through it. */
function linkModes({ kind, connectors }: TypedPart): string[] {
  const own = kind === "host-port" ? "down" : kind === "cable" ? "through" : "up";
  return connectors.filter(({ side }) => side === own).flatMap(({ modes }) => modes);
}
