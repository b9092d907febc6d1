"use client";

import { ArrowDown, ArrowUp } from "lucide-react";
import { useState } from "react";
import { SECTIONS, type ReportChoice } from "@/core/study/report-choice";
import { RateUnit } from "@/core/units/rate";
import { Checkbox } from "../controls/checkbox";
import { Fold } from "../controls/fold";
import { Field, Input } from "../controls/form";
import { BOX } from "../controls/look";
import { Select } from "../controls/select";

type Section = ReportChoice["sections"][number];

const asOptions = <V extends string>(values: readonly V[]) =>
  values.map((value) => ({ value, text: value }));

/** How a study is reported: each change is kept at once. */
export function ChoiceForm({
  choice,
  onChange,
}: {
  choice: ReportChoice;
  onChange: (next: ReportChoice) => void;
}) {
  const set = (change: Partial<ReportChoice>) => onChange({ ...choice, ...change });
  const { sections } = choice;
  const move = (i: number, by: 1 | -1) => {
    const next = [...sections];
    const [one] = next.splice(i, 1);
    next.splice(i + by, 0, one!);
    set({ sections: next });
  };
  const change = (i: number, change: Partial<Section>) =>
    set({ sections: sections.map((one, j) => (j === i ? { ...one, ...change } : one)) });
  return (
    <>
      <section>
        <h2 className="mb-1 font-semibold">Sections</h2>
        <ol className="border-t border-line">
          {sections.map((section, i) => (
            <li key={section.key} className="border-b border-line py-1">
              <div className="flex items-center gap-1">
                <Checkbox
                  className="mr-auto"
                  checked={section.shown}
                  onChange={(shown) => change(i, { shown })}
                >
                  {SECTIONS[section.key]}
                </Checkbox>
                <Move
                  label={`Move “${SECTIONS[section.key]}” up`}
                  disabled={i === 0}
                  onPress={() => move(i, -1)}
                >
                  <ArrowUp size={14} aria-hidden />
                </Move>
                <Move
                  label={`Move “${SECTIONS[section.key]}” down`}
                  disabled={i === sections.length - 1}
                  onPress={() => move(i, 1)}
                >
                  <ArrowDown size={14} aria-hidden />
                </Move>
              </div>
              <Fold
                className="text-[13px]"
                summary={section.text ? "Your own words" : "Add your own words"}
              >
                <Own
                  label={`Your own words before “${SECTIONS[section.key]}”, as Markdown`}
                  text={section.text}
                  onKeep={(text) => change(i, { text })}
                />
              </Fold>
            </li>
          ))}
        </ol>
      </section>
      <section className="space-y-2">
        <h2 className="font-semibold">How it is written</h2>
        <Later
          label="Title"
          hint="the study’s own, where it is empty"
          name="title"
          choice={choice}
          set={set}
        />
        <Later label="Who reports" name="author" choice={choice} set={set} />
        <Field label="Unit">
          <Select<RateUnit>
            name="report-unit"
            value={choice.unit}
            options={asOptions(RateUnit.options)}
            onChange={(unit) => unit && set({ unit })}
          />
        </Field>
      </section>
    </>
  );
}

function Move({
  label,
  disabled,
  onPress,
  children,
}: {
  label: string;
  disabled: boolean;
  onPress: () => void;
  children: React.ReactNode;
}) {
  return (
    <button
      type="button"
      aria-label={label}
      disabled={disabled}
      onClick={onPress}
      className="rounded-sm border border-line p-1 hover:border-secondary disabled:opacity-40"
    >
      {children}
    </button>
  );
}

/** Several lines that are kept when they are left. */
function Own({
  label,
  text,
  onKeep,
}: {
  label: string;
  text: string;
  onKeep: (text: string) => void;
}) {
  const [typed, setTyped] = useState(text);
  return (
    <textarea
      aria-label={label}
      rows={4}
      maxLength={20_000}
      value={typed}
      onChange={(event) => setTyped(event.target.value)}
      onBlur={() => typed !== text && onKeep(typed)}
      className={`${BOX} mt-1`}
    />
  );
}

/** A line that is kept when it is left. */
function Later({
  label,
  hint,
  name,
  choice,
  set,
}: {
  label: string;
  hint?: string;
  name: "title" | "author";
  choice: ReportChoice;
  set: (change: Partial<ReportChoice>) => void;
}) {
  const [typed, setTyped] = useState(choice[name]);
  return (
    <Field label={label} hint={hint}>
      <Input
        name={`report-${name}`}
        value={typed}
        maxLength={name === "title" ? 200 : 120}
        onChange={(event) => setTyped(event.target.value)}
        onBlur={() => typed !== choice[name] && set({ [name]: typed })}
      />
    </Field>
  );
}
