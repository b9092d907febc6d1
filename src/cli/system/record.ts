import fs from "node:fs";
import type { Command } from "commander";
import { readRecording } from "@/core/recording/recording-file";
import { counted } from "@/core/units/counted";
import { RunFailure, Refusal } from "@/engine/refusal";
import { record } from "@/engine/record/record";
import { recordedWorkOf } from "@/services/recordings/recorded-work";
import packageJson from "../../../package.json";
import { Failure, printJson } from "../exit";
import { ON, placeOn } from "../on-host";
import { recordOn } from "./record-on";
import { recordingDocument, recordingText } from "../recording-text";
import { PROGRESS, ProgressLine } from "../progress-line";

interface Options {
  out?: string;
  progress?: boolean;
  untilClosed?: boolean;
  json?: boolean;
  on?: string;
}

/** `nerrit record`: every request that reaches a drive while some work is done. */
export function addRecord(program: Command): void {
  program
    .command("record")
    .description("record every request that reaches a drive while a program works, or until Ctrl-C")
    .argument(
      "<place>",
      "block device, for example /dev/sdb; or a folder: what the work reads and writes there is recorded",
    )
    .argument("[command...]", "behind --: the work to record")
    .option("--out <file>", "the recording; a new file in the current folder where it is left out")
    .option("--on <host>", ON)
    .option("--progress", PROGRESS)
    .option("--until-closed", "end when standard input ends, too: for programs that begin it")
    .option("--json", "print what the work asks of the drive as one JSON document")
    .addHelpText(
      "after",
      "\nPlaces, sizes and times are kept, and which program asked; no content and no file names.\nNeeds the superuser: sudo nerrit record /dev/sdb -- make\nA network share has no block device: sudo nerrit record /mnt/share -- make",
    )
    .action(recordWork);
}

async function recordWork(place: string, command: string[], options: Options): Promise<void> {
  const stop = new AbortController();
  const line = new ProgressLine(options.progress === true);
  const end = () => stop.abort();
  for (const signal of ["SIGINT", "SIGTERM", "SIGHUP"] as const) process.on(signal, end);
  if (options.untilClosed) process.stdin.on("end", end).on("error", end).resume();
  const out = options.out ?? usualName(new Date());
  const { host, path } = placeOn(place, options.on);
  const asked = {
    out,
    command: command.length > 0 ? command : null,
    stop: stop.signal,
    tell: (requests: number) => line.say(`${counted(requests, "request")} recorded`, "recording"),
  };
  try {
    const status =
      host === null
        ? (await record({ ...asked, place: path, nerrit: packageJson.version })).status
        : await recordOn({ ...asked, host, place: path }, line);
    line.clear();
    const recording = readRecording(fs.readFileSync(out, "utf8"));
    if (options.json) printJson(recordingDocument(recording, out, recordedWorkOf(recording, out)));
    else console.log([...recordingText(recording), "", `The recording is ${out}.`].join("\n"));
    // As the work itself would have ended.
    if (status) process.exitCode = status;
  } catch (error) {
    line.clear();
    if (error instanceof Refusal && error.code === "no-permission" && process.getuid?.() !== 0)
      throw new Failure(`${error.message} Type: ${asSuperuser(process.argv.slice(2))}`);
    if (error instanceof Refusal || error instanceof RunFailure) throw new Failure(error.message);
    throw error;
  } finally {
    if (options.untilClosed) process.stdin.destroy();
  }
}

/** The same command for the superuser, as a shell takes it. */
const asSuperuser = (words: readonly string[]): string =>
  ["sudo", "nerrit", ...words]
    .filter((word) => word !== "--until-closed")
    .map((word) => (/^[\w@%+=:,./-]+$/.test(word) ? word : `'${word.replaceAll("'", "'\\''")}'`))
    .join(" ");

const usualName = (now: Date): string =>
  `nerrit-recording-${now.toISOString().slice(0, 19).replace(/[-:]/g, "").replace("T", "-")}.jsonl`;
