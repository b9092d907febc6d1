import { randomUUID } from "node:crypto";
import os from "node:os";
import path from "node:path";
import type { Command } from "commander";
import { startEngine, type EngineEnd } from "@/services/measuring/engine-process";
import { startEngineOn } from "@/services/hosts/engine-on";
import { startTogether } from "@/services/measuring/together";
import { followFarHost } from "@/services/hosts/far-host";
import { rowOf, type Recorded } from "@/core/exchange/runs-file";
import { UNSAID } from "@/core/run/stated";
import { hostsOf } from "@/core/joint/parts";
import type { EngineEvent, Job } from "@/core/run/protocol";
import { placeText } from "@/core/units/place";
import packageJson from "../../../package.json";
import { addDrillChoice, addDrillOptions } from "./drill-options";
import { Failure, printJson, Usage } from "../exit";
import { hostNamed, ON, touchText } from "../on-host";
import { Gathered } from "./gathered";
import { measuredDocument, type MeasuredDrill } from "./measured-document";
import { MeasuredProgress } from "./measured-progress";
import { measuredText } from "./measured-text";
import { orderOf, type Options } from "./measure-order";
import { checkOut, writeOut } from "./out-file";
import { PROGRESS, ProgressLine } from "../progress-line";

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

async function measure(options: Options): Promise<void> {
  const { order, request, recordings, ready } = await orderOf(options);
  const farHost = options.farHost === undefined ? null : hostNamed(options.farHost);
  if (options.out !== undefined) checkOut(options.out);
  const begun = new Date().toISOString();
  const { drill, places, program } = order;
  const hosts = hostsOf(places);
  const [host = null] = hosts;
  const named = {
    drill,
    targets: places.map((place) => (hosts.length > 1 ? placeText(place) : place.path)),
  };
  const gathered = new Gathered(drill);
  const line = new ProgressLine(options.progress === true);
  const progress = new MeasuredProgress(drill.repeats, line);
  const job = {
    targets: places.map((place) => place.path),
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
  const id = randomUUID();
  const start = (on: string | null, own: Job, heard: typeof hear) =>
    on === null
      ? startEngine(own, heard, path.join(import.meta.dirname, "engine.mjs"))
      : startEngineOn(ready.get(on)!, { id, job: own }, heard, (touch) => {
          line.clear();
          process.stderr.write(`${touchText(touch)}\n`);
        });
  const engine =
    hosts.length > 1
      ? startTogether(job, places, (part, heard) => start(part.host, part.job, heard), hear)
      : start(host, job, hear);
  for (const signal of ["SIGINT", "SIGTERM"] as const) process.on(signal, () => engine.stop());
  const leaveFar = farHost === null ? null : followFar(farHost, gathered, line);
  const end = await engine.ended;
  leaveFar?.();
  line.clear();
  if (end.kind === "refused" && end.code === "device-read-only") throw new Usage(end.reason);
  if (end.kind === "refused") throw new Failure(end.reason);
  gathered.settle();
  if (options.out !== undefined && gathered.repeats.length > 0) {
    const rig = options.rig ?? host ?? os.hostname();
    writeOut(options.out, [recordedFrom(named, gathered, end, begun, rig)]);
  }
  const kept = gathered.repeats.filter(({ result }) => result !== null);
  if (kept.length > 0) {
    if (options.json) printJson(measuredDocument(named, gathered.repeats, gathered.conditions!));
    else process.stdout.write(`${measuredText(named, kept, gathered.conditions!).join("\n")}\n`);
  } else if (options.json && gathered.repeats.length > 0) {
    printJson(measuredDocument(named, gathered.repeats, gathered.conditions!));
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
  { drill, targets }: MeasuredDrill,
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
    targets: [...targets],
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
