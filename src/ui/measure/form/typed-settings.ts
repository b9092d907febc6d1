import type { DrillKind } from "@/core/drills/kind";
import { valueFrom } from "@/core/drills/parameter";

/** What was typed of a drill's parameters, by name; what is empty or missing is as usual. */
export type TypedSettings = Readonly<Record<string, string>>;

/** What was set of a drill, in its own values. */
export const settingsOf = (kind: DrillKind, typed: TypedSettings): Record<string, unknown> =>
  Object.fromEntries(
    Object.entries(kind.parameters)
      .filter(([name]) => (typed[name] ?? "").trim() !== "")
      .map(([name, parameter]) => [name, valueFrom(parameter, typed[name]!)]),
  );
