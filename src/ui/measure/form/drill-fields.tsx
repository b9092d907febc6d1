"use client";

import { ParameterFields, type ParameterFieldsProps } from "./parameter-fields";
import { RoundEditor } from "./round-editor";

/** Everything that can be set of a drill, the steps of a Round included. */
export function DrillFields(props: ParameterFieldsProps) {
  const { facts, errors, onChange } = props;
  return (
    <ParameterFields
      {...props}
      steps={(name, text, reason) => (
        <RoundEditor
          key={name}
          value={text}
          reason={reason}
          facts={facts}
          errors={below(name, errors)}
          onChange={(typed) => onChange(name, typed)}
        />
      )}
    />
  );
}

/** What is wrong with a list, by the place in it. */
const below = (name: string, errors: Record<string, string>): Record<string, string> =>
  Object.fromEntries(
    Object.entries(errors)
      .filter(([at]) => at.startsWith(`${name}.`))
      .map(([at, message]) => [at.slice(name.length + 1).split(".")[0]!, message]),
  );
