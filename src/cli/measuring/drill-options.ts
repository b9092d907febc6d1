import { Option, type Command } from "commander";
import { DRILLS, USUAL_DRILL } from "@/core/drills/catalogue";
import type { DrillKind } from "@/core/drills/kind";
import { valueFrom, type Parameter } from "@/core/drills/parameter";
import { Usage } from "../exit";

/** A parameter as an option: "countFlush" is --count-flush. */
export const optionOf = (name: string): string =>
  `--${name.replace(/[A-Z]/g, (letter) => `-${letter.toLowerCase()}`)}`;

const PLACEHOLDERS: Record<Parameter["kind"], string> = {
  size: "size",
  sizes: "sizes",
  number: "n",
  numbers: "numbers",
  seconds: "seconds",
  share: "percent",
  text: "words",
  flag: "yes-or-no",
  choice: "which",
  mix: "files",
  parts: "json",
  recordings: "file",
};

/** Every parameter of any drill, once. */
function everyParameter(): Map<string, { parameter: Parameter; drills: string[] }> {
  const found = new Map<string, { parameter: Parameter; drills: string[] }>();
  for (const kind of DRILLS) {
    for (const [name, parameter] of Object.entries(kind.parameters)) {
      const known = found.get(name);
      if (known) known.drills.push(kind.name);
      else found.set(name, { parameter, drills: [kind.name] });
    }
  }
  return found;
}

/** Gives a command the options that say which drill, which way and how often. */
export const addDrillChoice = (command: Command): Command =>
  command
    .addOption(
      new Option("--drill <name>", "which drill (nerrit drills says what each is for)")
        .choices(DRILLS.map(({ name }) => name))
        .default(USUAL_DRILL.name),
    )
    .addOption(
      new Option("--direction <way>", "read: from the drive; write: to it; mixed: both").choices([
        "read",
        "write",
        "mixed",
      ]),
    )
    .option("--repeats <n>", "how often the drill is done", "1");

/**
 * Gives a command an option for everything that can be set of any drill.
 *
 * @param except parameters whose names mean something else to the command
 */
export function addDrillOptions(command: Command, except: readonly string[] = []): Command {
  for (const [name, { parameter, drills }] of everyParameter()) {
    if (except.includes(name)) continue;
    const of = drills.length === DRILLS.length ? "" : ` (${drills.join(", ")})`;
    if (parameter.kind === "recordings") {
      const hint = `${parameter.hint}; again for each further one${of}`;
      command.addOption(new Option("--recording <file>", hint).argParser(further));
      continue;
    }
    command.addOption(
      new Option(`${optionOf(name)} <${PLACEHOLDERS[parameter.kind]}>`, `${parameter.hint}${of}`),
    );
  }
  return command;
}

const further = (file: string, before: string[] = []): string[] => [...before, file];

/**
 * What the options set of a drill.
 *
 * @param options as commander hands them over, by parameter
 * @throws Usage for one that this drill does not have, or that makes no sense
 */
export function settingsFrom(
  kind: DrillKind,
  options: Readonly<Record<string, unknown>>,
): Record<string, unknown> {
  const set: Record<string, unknown> = {};
  for (const [name, { drills }] of everyParameter()) {
    const text = options[name];
    if (typeof text !== "string") continue;
    const parameter = kind.parameters[name];
    if (!parameter) {
      throw new Usage(
        `${optionOf(name)} is nothing that can be set of ${kind.name}; it is of ${drills.join(", ")}`,
      );
    }
    const checked = parameter.schema.safeParse(valueFrom(parameter, text));
    if (!checked.success) {
      throw new Usage(`${optionOf(name)} ${checked.error.issues[0]!.message} ("${text}")`);
    }
    set[name] = checked.data;
  }
  return set;
}
