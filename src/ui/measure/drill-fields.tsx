"use client";

import type { DrillKind } from "@/core/drills/kind";
import { textOf, type Parameter, type TargetFacts } from "@/core/drills/parameter";
import { usualSettings } from "@/core/drills/settle";
import { Field, Input } from "../controls/form";
import { Select } from "../controls/select";
import { RoundEditor } from "./round-editor";
import { settingsOf, type TypedSettings } from "./typed-settings";

/** Everything that can be set of a drill: what is usual stands in grey, with the reason for it. */
export function DrillFields({
  kind,
  prefix = "",
  typed,
  facts,
  errors,
  onChange,
}: {
  kind: DrillKind;
  /** Before the names of the fields, where several drills stand in one form. */
  prefix?: string;
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
        if (parameter.kind === "parts") {
          return (
            <RoundEditor
              key={name}
              value={typed[name] || textOf(parameter, value)}
              reason={reason}
              facts={facts}
              errors={below(name, errors)}
              onChange={(text) => onChange(name, text)}
            />
          );
        }
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

/** What is wrong with a list, by the place in it. */
const below = (name: string, errors: Record<string, string>): Record<string, string> =>
  Object.fromEntries(
    Object.entries(errors)
      .filter(([at]) => at.startsWith(`${name}.`))
      .map(([at, message]) => [at.slice(name.length + 1).split(".")[0]!, message]),
  );

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
