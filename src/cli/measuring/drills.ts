import path from "node:path";
import type { Command } from "commander";
import { DRILLS } from "@/core/drills/catalogue";
import type { DrillKind } from "@/core/drills/kind";
import { textOf } from "@/core/drills/parameter";
import { usualSettings } from "@/core/drills/settle";
import { targetFacts } from "@/engine/target/facts";
import { optionOf } from "./drill-options";
import { Failure, printJson } from "../exit";
import { wrapped } from "../lines";

interface Options {
  target?: string;
  json?: boolean;
}

/** `nerrit drills`: every drill, what can be set of it, and why its usual settings are as they are. */
export function addDrills(program: Command): void {
  program
    .command("drills")
    .description(
      "list the drills, what can be set of each, and why the usual settings are as they are",
    )
    .argument("[name]", "one of them only")
    .option("--target <path>", "give the settings that follow from this directory or block device")
    .option("--json", "print one JSON document")
    .action(async (name: string | undefined, { target, json }: Options) => {
      const facts = target === undefined ? null : await targetFacts(path.resolve(target));
      if (target !== undefined && !facts) throw new Failure(`There is no ${target} to measure on.`);
      const kinds = DRILLS.filter((kind) => name === undefined || kind.name === name);
      if (kinds.length === 0)
        throw new Failure(`There is no drill "${name}"; nerrit drills lists them.`);
      const listed = kinds.map((kind) => ({ kind, settings: usualSettings(kind, {}, facts) }));
      if (json) printJson(listed.map(document));
      else process.stdout.write(`${listed.map(text).join("\n\n")}\n`);
    });
}

interface Listed {
  kind: DrillKind;
  settings: ReturnType<typeof usualSettings>;
}

function document({ kind, settings }: Listed) {
  const { name, title, what, why, directions, usualDirection, targets, repeats, parameters } = kind;
  return {
    name,
    title,
    what,
    why,
    directions,
    usualDirection: usualDirection ?? (directions.length === 1 ? directions[0] : null),
    targets,
    repeats,
    parameters: settings.map(({ name: of, value, reason }) => {
      const { label, hint, kind: form, choices } = parameters[of]!;
      return {
        name: of,
        option: optionOf(of),
        label,
        hint,
        kind: form,
        ...(choices ? { choices } : {}),
        usual: value,
        reason,
      };
    }),
  };
}

function text({ kind, settings }: Listed): string {
  const ways = kind.directions
    .map((way) => `--direction ${way}${way === kind.usualDirection ? " (as usual)" : ""}`)
    .join(" or ");
  return [
    `${kind.name}: ${kind.title}, ${kind.what}`,
    ...wrapped(kind.why, 2),
    ...(kind.directions.length > 1 ? [`  ${ways}`] : []),
    ...settings.flatMap(({ name, value, reason }) => {
      const parameter = kind.parameters[name]!;
      const usual = ["parts", "recordings"].includes(parameter.kind)
        ? ""
        : ` ${textOf(parameter, value) || "none"}`;
      return [
        `  ${optionOf(name)}${usual}`,
        ...wrapped(`${parameter.hint}. ${sentence(reason)}`, 6),
      ];
    }),
  ].join("\n");
}

const sentence = (reason: string) => `Usually ${reason}.`;
