"use client";

import { useState } from "react";
import { PART_KIND_NAMES, PartKind, SIDE_NAMES, SIDES } from "@/core/chain/part";
import { impossibleClaim } from "@/core/judge/verdict";
import { PartDraft } from "@/core/chain/part";
import { Button, Field, Input, Select, Trouble } from "../controls/form";
import { send } from "../controls/send";
import { ModesPicker } from "./modes-picker";
import { draftFrom, emptyPart, errorsOf, type TypedPart } from "./part-draft";
import { TEMPLATES } from "./templates";

/** Enters or changes one part. What is typed stays until it has been stored. */
export function PartForm({
  id,
  initial,
  onSaved,
}: {
  /** The part to change; null enters a new one. */
  id: string | null;
  initial: TypedPart;
  onSaved: () => void;
}) {
  const [typed, setTyped] = useState(initial);
  const [errors, setErrors] = useState<Record<string, string>>({});
  const [trouble, setTrouble] = useState<string | null>(null);
  const [busy, setBusy] = useState(false);
  const change = (part: Partial<TypedPart>) => setTyped((was) => ({ ...was, ...part }));
  const bind = (name: keyof TypedPart) => ({
    value: typed[name] as string,
    onChange: (event: { target: { value: string } }) => change({ [name]: event.target.value }),
    name,
    "aria-invalid": errors[name] ? true : undefined,
  });

  async function save() {
    const draft = draftFrom(typed);
    const parsed = PartDraft.safeParse(draft);
    if (!parsed.success) {
      const fields = parsed.error.issues.map(({ path, message }) => ({
        path: path.join("."),
        message,
      }));
      setErrors(errorsOf(typed, fields));
      setTrouble("Some fields need another look; nothing was stored yet.");
      return;
    }
    setBusy(true);
    const sent = id
      ? await send("PUT", `/api/parts/${id}`, draft)
      : await send("POST", "/api/parts", draft);
    setBusy(false);
    if (sent.ok) return onSaved();
    setErrors(errorsOf(typed, sent.error.fields));
    setTrouble(sent.error.message);
  }

  const draft = PartDraft.safeParse(draftFrom(typed));
  const warnings = draft.success
    ? draft.data.claims.flatMap((claim) =>
        impossibleClaim({ ...draft.data, id: id ?? "new" }, claim),
      )
    : [];
  const templates = TEMPLATES.filter(({ kind }) => kind === typed.kind);

  return (
    <form
      noValidate
      className="space-y-3"
      onSubmit={(event) => {
        event.preventDefault();
        void save();
      }}
    >
      <div className="grid grid-cols-2 gap-3">
        <Field label="Kind">
          <Select
            name="kind"
            value={typed.kind}
            disabled={id !== null}
            onChange={(event) =>
              setTyped({ ...emptyPart(event.target.value as PartKind), name: typed.name })
            }
          >
            {PartKind.options.map((kind) => (
              <option key={kind} value={kind}>
                {PART_KIND_NAMES[kind]}
              </option>
            ))}
          </Select>
        </Field>
        <Field label="Start from" hint="fills in the modes below">
          <Select
            name="template"
            value=""
            onChange={(event) => {
              const template = templates[Number(event.target.value)];
              if (!template) return;
              const modes = { up: [], down: [], through: [] } as TypedPart["modes"];
              for (const connector of template.connectors) {
                modes[connector.side] = connector.modes;
              }
              change({ modes, name: typed.name || template.name });
            }}
          >
            <option value="">a generic part ...</option>
            {templates.map((template, i) => (
              <option key={template.name} value={i}>
                {template.name}
              </option>
            ))}
          </Select>
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
      </div>
      {SIDES[typed.kind].map((side) => (
        <ModesPicker
          key={side}
          legend={`Modes on ${SIDE_NAMES[side]}`}
          value={typed.modes[side]}
          onChange={(modes) => change({ modes: { ...typed.modes, [side]: modes } })}
          error={errors[`modes.${side}`] ?? (side === "up" ? errors.connectors : undefined)}
        />
      ))}
      <div className="grid grid-cols-4 gap-3">
        <Field label="Own rate reading" hint="MB/s, where known" error={errors.ownRead}>
          <Input inputMode="decimal" {...bind("ownRead")} />
        </Field>
        <Field label="Own rate writing" hint="MB/s, where known" error={errors.ownWrite}>
          <Input inputMode="decimal" {...bind("ownWrite")} />
        </Field>
        <Field label="Claim reading" hint="MB/s, as printed" error={errors.claimRead}>
          <Input inputMode="decimal" {...bind("claimRead")} />
        </Field>
        <Field label="Claim writing" hint="MB/s, as printed" error={errors.claimWrite}>
          <Input inputMode="decimal" {...bind("claimWrite")} />
        </Field>
        <Field label="Capacity" hint="for example 1TB or 512GiB" error={errors.capacity}>
          <Input {...bind("capacity")} />
        </Field>
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
          {id ? "Save the part" : "Put it on the shelf"}
        </Button>
      </div>
    </form>
  );
}
