import * as z from "zod";
import type { DrillKind } from "./kind";
import type { TargetFacts } from "./parameter";

/**
 * Fills in what was left out of a drill's settings.
 *
 * @param set what the tester set, by parameter
 * @param facts of the target, that usual settings follow from
 * @throws z.ZodError that names the parameter that makes no sense, or is not one of this drill
 */
export function settle(
  kind: DrillKind,
  set: Readonly<Record<string, unknown>>,
  facts: TargetFacts | null,
): Record<string, unknown> {
  const issues: z.core.$ZodIssue[] = [];
  const issue = (path: PropertyKey[], message: string) =>
    issues.push({ code: "custom", path, message, input: undefined } as z.core.$ZodIssue);
  for (const name of Object.keys(set)) {
    if (!(name in kind.parameters)) issue([name], `is nothing that can be set of ${kind.title}`);
  }
  const values: Record<string, unknown> = {};
  for (const [name, parameter] of Object.entries(kind.parameters)) {
    const given = set[name] === undefined ? parameter.usual(facts, values).value : set[name];
    const checked = parameter.schema.safeParse(given);
    if (checked.success) values[name] = checked.data;
    else {
      values[name] = given;
      for (const { path, message } of checked.error.issues) issue([name, ...path], message);
    }
  }
  if (issues.length === 0 && kind.complete)
    Object.assign(values, kind.complete(values as never, facts));
  const { block, span } = values;
  if (
    issues.length === 0 &&
    typeof block === "number" &&
    typeof span === "number" &&
    span < block
  ) {
    issue(["span"], "must be at least one block");
  }
  if (issues.length > 0) throw new z.ZodError(issues);
  return values;
}

/** The usual settings of a drill with their reasons, in the order in which they are asked for. */
export function usualSettings(
  kind: DrillKind,
  set: Readonly<Record<string, unknown>>,
  facts: TargetFacts | null,
): { name: string; value: unknown; reason: string }[] {
  const values: Record<string, unknown> = {};
  return Object.entries(kind.parameters).map(([name, parameter]) => {
    const usual = parameter.usual(facts, values);
    values[name] = set[name] ?? usual.value;
    return { name, ...usual };
  });
}
