import { randomUUID } from "node:crypto";
import os from "node:os";
import path from "node:path";
import type { Command } from "commander";
import { startEngine, type EngineEnd } from "@/services/measuring/engine-process";
import { startEngineOn } from "@/services/hosts/engine-on";
import { followFarHost } from "@/services/hosts/far-host";
import type { ReadyHost } from "@/services/hosts/ready";
import { orderFor, type Order } from "@/services/measuring/order";
import { isProblem } from "@/services/problem";
import { drillNamed } from "@/core/drills/catalogue";
import type { DrillKind } from "@/core/drills/kind";
import { MeasureRequest } from "@/core/drills/request";
import { rowOf, type Recorded } from "@/core/exchange/runs-file";
import { UNSAID } from "@/core/run/stated";
import { parseSize } from "@/core/units/size";
import type { EngineEvent } from "@/core/run/protocol";
import packageJson from "../../../package.json";
import { addDrillChoice, addDrillOptions, settingsFrom } from "./drill-options";
import { Failure, printJson, Usage } from "../exit";
import { factsOn, hostNamed, ON, placedOn, readyOn, touchText } from "../on-host";
import { Gathered } from "./gathered";
import { measuredDocument } from "./measured-document";
import { MeasuredProgress } from "./measured-progress";
import { measuredText } from "./measured-text";
import { checkOut, writeOut } from "./out-file";
import { recordingsOf } from "./recordings-option";
import { PROGRESS, ProgressLine } from "../progress-line";

interface Options extends Record<string, unknown> {
  target: string[];
  from?: string;
  to?: string;
  drill: string;
  direction?: string;
  repeats?: string;
  reserve?: string;
  cache?: string;
  recording?: string[];
  buffered?: boolean;
  on?: string;
  farHost?: string;
  rig?: string;
  out?: string;
  progress?: boolean;
  json?: boolean;
}

/** `nerrit measure`: any drill, on a directory or, reading only, on a block device. */
export function addMeasure(program: Command): void {
  const command = program
    .command("measure")
    .description("measure a drive through a directory on it, or a block device (reading only)")
    .option(
      "--target <path>",
      "directory on the drive, or block device; again for each drive of a convoy",
      (value: string, before: string[]) => [...before, value],
      [],
    )
    .option("--from <path>", "of a ferry: the folder to copy, or where files are made up")
    .option("--to <path>", "of a ferry: the directory to copy to")
    .option("--on <host>", ON)
    .option("--far-host <host>", "the machine that serves the share: what it does is kept too")
    .option("--reserve <size>", "space to leave free (default: larger of 2 % and 1 GiB)")
    .option("--cache <size>", "the drive's write cache, where you know it: settings follow from it")
    .option("--buffered", "go through the page cache; the result is flagged")
    .option("--out <file>", "keep the runs with every sample, for the pages to import")
    .option("--rig <name>", "what the rig is called in that file (default: the host's name)")
    .option("--progress", PROGRESS)
    .option("--json", "print one JSON document");
  addDrillOptions(addDrillChoice(command)).action(measure);
}

const sizeOption = (name: string, text: string | undefined): number | null => {
  if (text === undefined) return null;
  try {
    return parseSize(text);
  } catch (error) {
    throw new Usage(`--${name}: ${(error as Error).message}`);
  }
};

/** Where a drill goes: its target, what else it needs, and which way a copy is seen. */
function placesOf(kind: DrillKind, { target, from, to, direction }: Options) {
  if (!kind.source) {
    if (from !== undefined || to !== undefined) {
      throw new Usage("--from and --to are of a ferry; name the drive with --target");
    }
    const [first, ...more] = target;
    if (first === undefined) throw new Usage("required option '--target <path>' not specified");
    return { target: first, more, other: null, direction };
  }
  const [named, ...rest] = target;
  if (rest.length > 0) throw new Usage(`${kind.name} takes one --target, or --from and --to`);
  // What is only read is measured reading; a copy is measured at the end that it goes to, unless
  // reading is asked for.
  const only = to === undefined && named === undefined;
  const way = direction ?? (only ? "read" : kind.usualDirection);
  const [here, other] = way === "read" ? [from ?? named, to] : [to ?? named, from];
  if (here === undefined) {
    throw new Usage("name what to copy with --from, where to with --to, or both");
  }
  return { target: here, more: [], other: other ?? null, direction: way };
}

/** What is to be measured, and how. */
interface Asked {
  order: Order;
  request: MeasureRequest;
  recordings: Record<string, string>;
  /** Where; null for this machine. */
  ready: ReadyHost | null;
}

async function orderOf(given: Options): Promise<Asked> {
  const { host, options } = placedOn(given, given.on);
  const kind = drillNamed(options.drill);
  const { works, files } = recordingsOf(kind, options.recording);
  const { target, more, other, direction } = placesOf(kind, options);
  if (kind.directions.length > 1 && !kind.usualDirection && direction === undefined) {
    throw new Usage(`--direction must be said: ${kind.directions.join(" or ")}`);
  }
  if (direction !== undefined && !kind.directions.some((way) => way === direction)) {
    throw new Usage(`--direction: ${kind.name} goes ${kind.directions.join(" or ")} only`);
  }
  const repeats = Number(options.repeats);
  if (!Number.isFinite(repeats)) throw new Usage(`--repeats: "${options.repeats}" is not a number`);
  const parsed = MeasureRequest.safeParse({
    ...settingsFrom(kind, options),
    ...(works ? { recordings: works } : {}),
    rigId: "",
    target: path.resolve(target),
    other: other === null ? null : path.resolve(other),
    more: more.map((place) => path.resolve(place)),
    drill: kind.name,
    ...(direction === undefined ? {} : { direction }),
    repeats,
    io: options.buffered ? "buffered" : "direct",
    reserve: sizeOption("reserve", options.reserve),
    cache: sizeOption("cache", options.cache),
  });
  if (!parsed.success) {
    const [issue] = parsed.error.issues;
    throw new Usage(`--${issue!.path.join(".")} ${issue!.message}`);
  }
  const ready = host === null ? null : await readyOn(host);
  const { data } = parsed;
  try {
    const order = await orderFor(
      data,
      null,
      ready ? (...asked) => factsOn(ready, ...asked) : undefined,
    );
    return { order, request: data, recordings: files, ready };
  } catch (error) {
    if (error instanceof Failure) throw error;
    const { message } = error as Error;
    throw isProblem(error) && error.code !== null ? new Failure(message) : new Usage(message);
  }
}

async function measure(options: Options): Promise<void> {
  const { order, request, recordings, ready } = await orderOf(options);
  const farHost = options.farHost === undefined ? null : hostNamed(options.farHost);
  if (options.out !== undefined) checkOut(options.out);
  const begun = new Date().toISOString();
  const { drill, targets, program } = order;
  const gathered = new Gathered(order);
  const line = new ProgressLine(options.progress === true);
  const progress = new MeasuredProgress(drill.repeats, line);
  const job = {
    targets,
    program,
    repeats: drill.repeats,
    io: request.io,
    reserve: request.reserve,
    keepOff: null,
    nerrit: packageJson.version,
    recordings,
  };
  const hear = (event: EngineEvent) => {
    gathered.hear(event);
    progress.hear(event);
  };
  const engine = ready
    ? startEngineOn(ready, { id: randomUUID(), job }, hear, (touch) => {
        line.clear();
        process.stderr.write(`${touchText(touch)}\n`);
      })
    : startEngine(job, hear, path.join(import.meta.dirname, "engine.mjs"));
  for (const signal of ["SIGINT", "SIGTERM"] as const) process.on(signal, () => engine.stop());
  const leaveFar = farHost === null ? null : followFar(farHost, gathered, line);
  const end = await engine.ended;
  leaveFar?.();
  line.clear();
  if (end.kind === "refused" && end.code === "device-read-only") throw new Usage(end.reason);
  if (end.kind === "refused") throw new Failure(end.reason);
  gathered.settle();
  if (options.out !== undefined && gathered.repeats.length > 0) {
    const rig = options.rig ?? ready?.host ?? os.hostname();
    writeOut(options.out, [recordedFrom(order, gathered, end, begun, rig)]);
  }
  const kept = gathered.repeats.filter(({ result }) => result !== null);
  if (kept.length > 0) {
    if (options.json) printJson(measuredDocument(order, gathered.repeats, gathered.conditions!));
    else process.stdout.write(`${measuredText(order, kept, gathered.conditions!).join("\n")}\n`);
  } else if (options.json && gathered.repeats.length > 0) {
    printJson(measuredDocument(order, gathered.repeats, gathered.conditions!));
  }
  if ("reason" in end) throw new Failure(end.reason);
  if (end.kind === "stopped") {
    throw new Failure(
      kept.length > 0
        ? "stopped before the end; what had been measured is above, and nothing is left behind"
        : "stopped before the end; nothing is left behind",
    );
  }
}

/** Follows the machine that serves the share, and says where that fails. @returns ends it */
const followFar = (host: string, gathered: Gathered, line: ProgressLine): (() => void) =>
  followFarHost(
    host,
    (far, agoMs) => gathered.hearFar(far, agoMs),
    (text) => {
      gathered.sayOfFar(text);
      line.clear();
      process.stderr.write(`${text}\n`);
    },
  );

/** What was measured, as a file of runs holds it; what was cut short says so. */
function recordedFrom(
  { drill, targets }: Order,
  { repeats, conditions }: Gathered,
  end: EngineEnd,
  createdAt: string,
  rig: string,
): Recorded {
  const finished = repeats.length - (end.kind === "done" ? 0 : 1);
  return {
    id: randomUUID(),
    rig,
    origin: "measured",
    drill,
    targets,
    createdAt,
    status: end.kind === "refused" ? "failed" : end.kind,
    reason: "reason" in end ? end.reason : null,
    warmUp: false,
    stated: UNSAID,
    conditions,
    runs: repeats.map(({ startedAt, steps, samples, events, readings, errors }, i) => ({
      status: i < finished ? "done" : end.kind === "refused" ? "failed" : end.kind,
      startedAt,
      steps,
      samples: samples.map(rowOf),
      events,
      readings,
      errors,
    })),
  };
}
