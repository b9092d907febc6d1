"use client";

import { usePathname, useRouter, useSearchParams } from "next/navigation";
import { useState } from "react";
import { formatPercent } from "@/core/units/number";
import { Checkbox } from "../controls/checkbox";
import { Button, Field } from "../controls/form";
import { Select } from "../controls/select";
import { send } from "../controls/send";
import { sayFailed, saySaved } from "../controls/toast";
import { useRates } from "../frame/unit";

/** A run that a verdict rests on. */
export interface RestingRun {
  id: string;
  mbps: number;
  /** "B, run 2". */
  name: string;
  /** Why it counts for nothing already. */
  leftOut: string | null;
}

const TOLERANCES = [0, 0.02, 0.03, 0.05, 0.08, 0.1, 0.15, 0.2];

/** What becomes of a verdict with another tolerance, without a run, or on another rig: seen at once. */
export function QuestionVerdict({
  studyId,
  tolerance,
  asked,
  runs,
  rigs,
}: {
  studyId: string;
  /** The study's own. */
  tolerance: number;
  asked: { tolerance: number | null; without: readonly string[]; on: string | null };
  runs: readonly RestingRun[];
  /** The rigs with the part in them. */
  rigs: readonly { id: string; name: string }[];
}) {
  const { said } = useRates();
  const router = useRouter();
  const path = usePathname();
  const query = useSearchParams();
  const [busy, setBusy] = useState(false);
  const go = (change: (next: URLSearchParams) => void) => {
    const next = new URLSearchParams(query);
    change(next);
    router.push(`${path}?${next}`, { scroll: false });
  };
  const own = asked.tolerance ?? tolerance;
  const choices = [...new Set([...TOLERANCES, tolerance, own])].toSorted((a, b) => a - b);
  const keep = async () => {
    setBusy(true);
    const sent = await send("PATCH", `/api/studies/${studyId}`, { tolerance: own });
    setBusy(false);
    if (!sent.ok) return sayFailed(sent.error.message);
    saySaved(`The study’s tolerance is ${formatPercent(own)} now; it is said with every verdict.`);
    go((next) => next.delete("tolerance"));
    router.refresh();
  };
  return (
    <section aria-label="Question the verdict" className="border border-line bg-sheet px-4 py-3">
      <h2 className="font-semibold">Question the verdict</h2>
      <div className="mt-1 grid grid-cols-2 gap-3">
        <Field label="Tolerance below a claim">
          <Select
            name="tolerance"
            value={`${own}`}
            options={choices.map((share) => ({
              value: `${share}`,
              text: `${formatPercent(share)}${share === tolerance ? ", the study’s" : ""}`,
            }))}
            onChange={(value) =>
              go((next) =>
                Number(value) === tolerance
                  ? next.delete("tolerance")
                  : next.set("tolerance", value),
              )
            }
          />
        </Field>
        <Field label="Taken on">
          <Select
            name="on"
            value={asked.on ?? ""}
            options={[
              { value: "", text: "the rig that says most" },
              ...rigs.map(({ id, name }) => ({ value: id, text: name })),
            ]}
            onChange={(value) => go((next) => (value ? next.set("on", value) : next.delete("on")))}
          />
        </Field>
      </div>
      {asked.tolerance !== null && (
        <Button className="mt-2" disabled={busy} onClick={keep}>
          Keep {formatPercent(own)} for the study
        </Button>
      )}
      {runs.length > 0 && (
        <fieldset className="mt-2">
          <legend className="text-sm font-medium">Runs that count</legend>
          <ul className="grid grid-cols-2 gap-x-3">
            {runs.map(({ id, mbps, name, leftOut }) => (
              <li key={id}>
                {leftOut === null ? (
                  <Checkbox
                    checked={!asked.without.includes(id)}
                    onChange={(on) =>
                      go((next) => {
                        const without = next.getAll("without").filter((one) => one !== id);
                        next.delete("without");
                        for (const one of on ? without : [...without, id])
                          next.append("without", one);
                      })
                    }
                  >
                    {name} <span className="figure text-secondary">{said(mbps)}</span>
                  </Checkbox>
                ) : (
                  <span className="text-[13px] text-secondary">
                    {name}, left out: {leftOut}
                  </span>
                )}
              </li>
            ))}
          </ul>
        </fieldset>
      )}
    </section>
  );
}
