"use client";

import type { DrillKind } from "@/core/drills/kind";
import { textOf, type Parameter, type TargetFacts } from "@/core/drills/parameter";
import { usualSettings } from "@/core/drills/settle";
import { Field, Input } from "../../controls/form";
import { Select } from "../../controls/select";
import { settingsOf, type TypedSettings } from "./typed-settings";

/** What the fields of a drill's parameters are made of. */
export interface ParameterFieldsProps {
  kind: DrillKind;
  /** Before the names of the fields, where several drills stand in one form. */
  prefix?: string;
  typed: TypedSettings;
  facts: TargetFacts | null;
  errors: Record<string, string>;
  onChange: (name: string, text: string) => void;
}

/**
 * A field for each parameter of a drill: what is usual stands in grey, with the reason for it.
 *
 * @param steps makes what a list of steps is edited with
 */
export function ParameterFields({
  kind,
  prefix = "",
  typed,
  facts,
  errors,
  onChange,
  steps,
}: ParameterFieldsProps & {
  steps?: (name: string, text: string, reason: string) => React.ReactNode;
}) {
  const usual = usualSettings(kind, settingsOf(kind, typed), facts);
  return (
    <div className="mt-2 grid grid-cols-2 gap-x-4 gap-y-3 lg:grid-cols-3">
      {usual.map(({ name, value, reason }) => {
        const parameter = kind.parameters[name]!;
        // They stand by themselves, above what is usual (recordings-field.tsx).
        if (parameter.kind === "recordings") return null;
        if (parameter.kind === "parts")
          return steps?.(name, typed[name] || textOf(parameter, value), reason) ?? null;
        const wrong = Object.entries(errors).find(
          ([at]) => at === name || at.startsWith(`${name}.`),
        );
        return (
          <Field
            key={name}
            label={parameter.label}
            hint={`${parameter.hint}. Usually ${reason}.`}
            error={wrong?.[1]}
          >
            <Control
              name={prefix + name}
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
