import type { Command } from "commander";
import * as z from "zod";
import { drillNamed } from "@/core/drills/catalogue";
import type { Rig } from "@/core/chain/rig";
import { simulatedDrill, simulateRepeats } from "@/core/simulate/measure";
import { BenchModel, FAULT_NAMES, Simulation } from "@/core/simulate/model";
import { UNKNOWN_TIME } from "@/core/exchange/study-run";
import { simulatedConditions } from "@/core/simulate/run";
import { plainWords } from "@/core/units/plain-words";
import packageJson from "../../../package.json";
import { addDrillChoice, addDrillOptions, settingsFrom } from "./drill-options";
import { Failure, printJson, Usage } from "../exit";
import { wrapped } from "../lines";
import { measuredDocument } from "./measured-document";
import { measuredText } from "./measured-text";
import { recordingsIn, recordingsOf } from "./recordings-option";
import { openStudyFile, rigNamed } from "../studies/study-file";

interface Options extends Record<string, unknown> {
  rig?: string;
  drill: string;
  direction?: string;
  repeats?: string;
  seed: string;
  plugging: string;
  ambient?: string;
  noise?: string;
  fault: string[];
  recording?: string[];
  json?: boolean;
}

/** `nerrit simulate`: a drill on a rig of a study's file, on the simulated bench. */
export function addSimulate(program: Command): void {
  const command = program
    .command("simulate")
    .description("do a drill on the simulated bench, for a rig of a study's file")
    .argument("<study>", "the study's file (docs/formats.md)")
    .option("--rig <name>", "which of its rigs, by name or identifier")
    .option("--seed <n>", "the same seed gives the same samples", "1")
    .option("--plugging <n>", "how often the rig was put together anew before", "0")
    .option("--ambient <celsius>", "of the room")
    .option("--noise <times>", "0: none; 1: a quiet bench")
    .option(
      "--fault <kind@part>",
      `again for each: ${Object.keys(FAULT_NAMES).join(", ")}; background@MB/s, counterfeit@part=bytes`,
      (value: string, before: string[]) => [...before, value],
      [],
    )
    .option("--json", "print one JSON document");
  // The seed is that of the bench; files that are made up count by their sizes alone.
  addDrillOptions(addDrillChoice(command), ["seed"]).action(simulate);
}

function simulate(file: string, options: Options): void {
  const study = openStudyFile(file);
  const rig = rigNamed(study, options.rig);
  const filed = study.simulationOf(rig.id);
  const bench = said(BenchModel, {
    ...filed.bench,
    ...(options.ambient === undefined ? {} : { ambientCelsius: number(options, "ambient") }),
    ...(options.noise === undefined ? {} : { noise: number(options, "noise") }),
  });
  const simulation = said(Simulation, {
    ...filed,
    bench,
    faults: [...filed.faults, ...options.fault.map((text) => faultFrom(text, rig))],
  });
  const kind = drillNamed(options.drill);
  const direction = options.direction ?? kind.usualDirection ?? kind.directions[0]!;
  const recordings = recordingsOf(kind, options.recording);
  const [seed, plugging] = [number(options, "seed"), number(options, "plugging")];
  const drill = attempt(() =>
    simulatedDrill(
      {
        ...settingsFrom(kind, { ...options, seed: undefined }),
        ...(recordings.works ? { recordings: recordings.works } : {}),
        name: kind.name,
        direction,
        repeats: number(options, "repeats"),
      },
      rig,
      simulation,
    ),
  );
  const repeats = attempt(() =>
    simulateRepeats(rig, drill, simulation, { seed, plugging }, recordingsIn(recordings)),
  );
  // No time of its own: the same seed gives the same document.
  const conditions = simulatedConditions(rig, simulation, UNKNOWN_TIME, packageJson.version);
  const order = { drill, targets: ["simulated rig"] };
  const { assumed } = repeats[0]!;
  if (options.json) {
    return printJson({
      simulated: true,
      origin: "simulated",
      rig: rig.name,
      seed,
      plugging,
      simulation,
      ...measuredDocument(order, repeats, conditions),
      assumed,
    });
  }
  const lines = [
    `SIMULATED: ${rig.name}, seed ${seed}. Nothing was measured.`,
    ...measuredText(order, repeats, conditions),
    ...(assumed.length > 0 ? ["Taken for granted, as nothing is said of it:"] : []),
    ...assumed.flatMap(({ what, value }) => wrapped(`${what}: ${value}`, 2)),
  ];
  process.stdout.write(`${lines.join("\n")}\n`);
}

const number = (options: Options, name: string): number => {
  const value = Number(options[name]);
  if (options[name] === "" || !Number.isFinite(value)) {
    throw new Usage(`--${name} must be a number ("${String(options[name])}")`);
  }
  return value;
};

/** "flaky@K2", with the part by its name or identifier. @throws Usage */
function faultFrom(text: string, rig: Rig): unknown {
  const [kind, place = ""] = text.split(/@(.*)/s);
  if (!Object.hasOwn(FAULT_NAMES, kind!)) {
    throw new Usage(
      `--fault: there is no "${kind}"; there are ${Object.keys(FAULT_NAMES).join(", ")}`,
    );
  }
  if (kind === "unqueued" || kind === "memory") return { kind };
  if (kind === "background") return { kind, mbps: Number(place) };
  const [name, bytes] = place.split(/=(\d[\de.+]*)$/);
  const part = [...rig.parts, ...rig.beside, ...rig.other].find(
    ({ id, name: called }) => id === name || called === name,
  );
  if (!part)
    throw new Usage(
      `--fault ${text}: say at which part of the rig, for example ${kind}@${rig.parts.at(-1)!.name}`,
    );
  return { kind, at: part.id, ...(kind === "counterfeit" ? { bytes: Number(bytes) } : {}) };
}

function said<T extends z.ZodType>(schema: T, input: unknown): z.infer<T> {
  const parsed = schema.safeParse(input, { error: plainWords });
  if (parsed.success) return parsed.data;
  const [issue] = parsed.error.issues;
  throw new Usage(`${issue!.path.join(" ")}: ${issue!.message}`);
}

function attempt<T>(work: () => T): T {
  try {
    return work();
  } catch (error) {
    if (error instanceof z.ZodError) {
      const [issue] = error.issues;
      throw new Usage(`${issue!.path.join(" ")} ${issue!.message}`.trim());
    }
    if (error instanceof RangeError) throw new Failure(error.message);
    throw error;
  }
}
