"use client";

import { useRouter } from "next/navigation";
import { useState } from "react";
import { account, TRANSPORT_NAMES } from "@/core/ledger/account";
import { LINE_CODES } from "@/core/ledger/line-code";
import { OwnModeDraft, ownMode, ownModeId } from "@/core/ledger/own-mode";
import { plainWords } from "@/core/units/plain-words";
import { useRates } from "../frame/unit";
import { Button, Field, Form, Input, Trouble } from "../controls/form";
import { Select } from "../controls/select";
import { send } from "../controls/send";

const EMPTY = {
  name: "",
  rate: "",
  lanes: "1",
  code: "8b/10b",
  payload: "1024",
  overhead: "32",
  duplex: "full",
  shared: "no",
  protocol: "nvme",
  low: "0.8",
  high: "0.95",
};
type Typed = typeof EMPTY;

/** Describes a link that no list has; what it would carry shows while it is typed. */
export function OwnModeForm({ onSaved }: { onSaved: (id: string) => void }) {
  const { said } = useRates();
  const router = useRouter();
  const [typed, setTyped] = useState<Typed>(EMPTY);
  const [tried, setTried] = useState(false);
  const [trouble, setTrouble] = useState<string | null>(null);
  const parsed = OwnModeDraft.safeParse(typed, { error: plainWords });
  const errors: Record<string, string> = Object.fromEntries(
    tried ? (parsed.error?.issues ?? []).map(({ path, message }) => [path[0], message]) : [],
  );
  const mode = parsed.success ? ownMode(ownModeId(parsed.data)) : null;
  const bind = (name: keyof Typed) => ({
    name,
    value: typed[name],
    onChange: ({ target }: { target: { value: string } }) =>
      setTyped({ ...typed, [name]: target.value }),
    "aria-invalid": errors[name] ? true : undefined,
  });
  const choose = (name: keyof Typed) => ({
    name,
    value: typed[name],
    onChange: (value: string) => setTyped({ ...typed, [name]: value }),
  });
  const text = (name: keyof Typed, label: string, hint?: string) => (
    <Field label={label} hint={hint} error={errors[name]}>
      <Input inputMode={name === "name" ? "text" : "decimal"} {...bind(name)} />
    </Field>
  );

  async function save() {
    setTried(true);
    if (!parsed.success) return;
    const sent = await send<{ id: string }>("POST", "/api/modes", parsed.data);
    if (!sent.ok) return setTrouble(sent.error.message);
    router.refresh();
    onSaved(sent.data.id);
  }

  return (
    <Form onSend={save}>
      {text("name", "Name", "as it will stand in every list")}
      <div className="grid grid-cols-3 gap-3">
        {text("rate", "Transfers on one lane", "in 10⁹ a second (GT/s)")}
        {text("lanes", "Lanes")}
        <Field label="Line code" error={errors.code}>
          <Select
            {...choose("code")}
            options={Object.entries(LINE_CODES).map(([id, { what }]) => ({
              value: id,
              text: `${id}: ${what}`,
            }))}
          />
        </Field>
        {text("payload", "Payload of a packet", "bytes")}
        {text("overhead", "All else in the packet", "bytes: headers, checks, gaps")}
        <Field label="Protocol above it">
          <Select
            {...choose("protocol")}
            options={Object.entries(TRANSPORT_NAMES).map(([value, name]) => ({
              value,
              text: name,
            }))}
          />
        </Field>
        <Field label="Directions">
          <Select
            {...choose("duplex")}
            options={[
              { value: "full", text: "both at once" },
              { value: "half", text: "one at a time" },
            ]}
          />
        </Field>
        <Field label="Shared with other devices">
          <Select
            {...choose("shared")}
            options={[
              { value: "no", text: "no" },
              { value: "yes", text: "yes" },
            ]}
          />
        </Field>
        <div className="grid grid-cols-2 gap-2">
          {text("low", "Attains from", "share")}
          {text("high", "to", "of its ceiling")}
        </div>
      </div>
      <p role="status">
        {mode ? (
          <>
            Hard ceiling <span className="figure">{said(account(mode, "read").hardCeiling)}</span>,
            line rate <span className="figure">{said(account(mode, "read").lineRate)}</span>.
          </>
        ) : (
          <span className="text-secondary">
            Its ceiling shows here once the figures make sense.
          </span>
        )}
      </p>
      {tried && !parsed.success && (
        <Trouble>Some fields need another look; nothing was stored yet.</Trouble>
      )}
      {trouble && <Trouble>{trouble}</Trouble>}
      <div className="flex justify-end">
        <Button main type="submit">
          Add the mode
        </Button>
      </div>
    </Form>
  );
}
