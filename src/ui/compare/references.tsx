"use client";

import { X } from "lucide-react";
import { useState } from "react";
import { MOST_REFERENCES, Reference } from "@/core/study/reference";
import { Button, Field, Form, Input } from "../controls/form";
import { send } from "../controls/send";
import { sayFailed } from "../controls/toast";
import { useRates } from "../frame/unit";

/** Rates that no rig here gave, beside which the rigs are seen: "the built-in drive", 5 100 MB/s. */
export function References({
  studyId,
  references,
  onChanged,
}: {
  studyId: string;
  references: readonly Reference[];
  onChanged: () => void;
}) {
  const { said } = useRates();
  const [name, setName] = useState("");
  const [mbps, setMbps] = useState("");
  const [wrong, setWrong] = useState<Partial<Record<"name" | "mbps", string>>>({});
  async function keep(next: Reference[]) {
    const sent = await send("PUT", `/api/studies/${studyId}/references`, next);
    if (sent.ok) onChanged();
    else sayFailed(sent.error.message);
    return sent.ok;
  }
  async function add() {
    const found = Reference.safeParse({ name, mbps });
    if (!found.success) {
      const at = (field: string) =>
        found.error.issues.find(({ path }) => path[0] === field)?.message;
      return setWrong({ name: at("name"), mbps: at("mbps") });
    }
    setWrong({});
    const others = references.filter((one) => one.name !== found.data.name);
    if (!(await keep([...others, found.data]))) return;
    setName("");
    setMbps("");
  }
  return (
    <details className="mt-2 text-sm" open={references.length > 0}>
      <summary className="w-fit cursor-pointer underline">
        Compare with a rate that was not measured here
      </summary>
      <ul className="mt-1 flex flex-wrap gap-x-4">
        {references.map((one) => (
          <li key={one.name}>
            <span className="italic">{one.name}</span>, {said(one.mbps)}{" "}
            <button
              type="button"
              aria-label={`Remove ${one.name}`}
              className="inline-grid size-6 place-items-center align-middle"
              onClick={() => keep(references.filter((other) => other !== one))}
            >
              <X aria-hidden className="size-3.5" />
            </button>
          </li>
        ))}
      </ul>
      {references.length < MOST_REFERENCES && (
        <Form className="mt-1 flex flex-wrap items-end gap-3" onSend={add}>
          <Field label="What it is" error={wrong.name} className="w-64">
            <Input
              name="reference"
              placeholder="the built-in drive"
              value={name}
              onChange={(event) => setName(event.target.value)}
            />
          </Field>
          <Field label="MB/s" error={wrong.mbps} className="w-32">
            <Input
              name="reference-rate"
              className="figure text-right"
              inputMode="decimal"
              value={mbps}
              onChange={(event) => setMbps(event.target.value)}
            />
          </Field>
          <Button type="submit">Add</Button>
        </Form>
      )}
    </details>
  );
}
