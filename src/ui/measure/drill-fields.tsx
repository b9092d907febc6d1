"use client";

import type { DrillKind } from "@/core/drills/kind";
import { textOf, valueFrom, type Parameter, type TargetFacts } from "@/core/drills/parameter";
import { usualSettings } from "@/core/drills/settle";
import { Field, Input } from "../controls/form";
import { Select } from "../controls/select";

/** What was typed of a drill's parameters, by name; what is empty or missing is as usual. */
export type TypedSettings = Readonly<Record<string, string>>;

/** What was set of a drill, in its own values. */
export const settingsOf = (kind: DrillKind, typed: TypedSettings): Record<string, unknown> =>
  Object.fromEntries(
    Object.entries(kind.parameters)
      .filter(([name]) => (typed[name] ?? "").trim() !== "")
      .map(([name, parameter]) => [name, valueFrom(parameter, typed[name]!)]),
  );

/** Everything that can be set of a drill: what is usual stands in grey, with the reason for it. */
export function DrillFields({
  kind,
  typed,
  facts,
  errors,
  onChange,
}: {
  kind: DrillKind;
  typed: TypedSettings;
  facts: TargetFacts | null;
  errors: Record<string, string>;
  onChange: (name: string, text: string) => void;
}) {
  const usual = usualSettings(kind, settingsOf(kind, typed), facts);
  return (
    <div className="mt-2 grid grid-cols-2 gap-x-4 gap-y-3 lg:grid-cols-3">
      {usual.map(({ name, value, reason }) => {
        const parameter = kind.parameters[name]!;
        const wrong = Object.entries(errors).find(
          ([at]) => at === name || at.startsWith(`${name}.`),
        );
        return (
          <Field
            key={name}
            label={parameter.label}
            hint={`${parameter.hint}. Usually ${reason}.`}
            error={wrong?.[1]}
            className={parameter.kind === "parts" ? "col-span-full" : ""}
          >
            <Control
              name={name}
              parameter={parameter}
              text={typed[name] ?? ""}
              usual={textOf(parameter, value)}
              onChange={(text) => onChange(name, text)}
            />
          </Field>
        );
      })}
    </div>
  );
}

function Control({
  name,
  parameter,
  text,
  usual,
  onChange,
}: {
  name: string;
  parameter: Parameter;
  text: string;
  usual: string;
  onChange: (text: string) => void;
}) {
  const choices =
    parameter.kind === "flag"
      ? ["yes", "no"]
      : parameter.kind === "choice"
        ? parameter.choices
        : null;
  if (choices) {
    return (
      <Select
        name={name}
        value={text || usual}
        options={choices.map((value) => ({ value, text: value }))}
        onChange={(next) => onChange(next === usual ? "" : next)}
      />
    );
  }
  return (
    <Input
      name={name}
      value={text}
      placeholder={usual}
      spellCheck={false}
      onChange={(event) => onChange(event.target.value)}
    />
  );
}
