import path from "node:path";
import { Option, type Command } from "commander";
import { startEngine } from "@/bench/engine-process";
import { HAUL } from "@/core/drills/drill";
import { MeasureRequest } from "@/core/drills/request";
import type { Conditions, RunResult, Sample } from "@/core/drills/result";
import { summarise } from "@/core/stats/repeats";
import { formatMicroseconds, formatPercent, formatRate } from "@/core/units/number";
import { formatSize, parseSize } from "@/core/units/size";
import packageJson from "../../package.json";
import { Failure, printJson, Usage } from "./exit";

interface Options {
  target: string;
  drill: "haul";
  direction: "read" | "write";
  seconds: string;
  block: string;
  depth: string;
  span: string;
  repeats: string;
  reserve?: string;
  buffered?: boolean;
  json?: boolean;
}

/** `nerrit measure`: one drill on a directory or, reading only, on a block device. */
export function addMeasure(program: Command): void {
  program
    .command("measure")
    .description("measure a drive through a directory on it, or a block device (reading only)")
    .requiredOption("--target <path>", "directory on the drive, or block device")
    .addOption(
      new Option("--drill <name>", "haul: sequential, large blocks, deep queue")
        .choices(["haul"])
        .default("haul"),
    )
    .addOption(
      new Option("--direction <way>", "read: from the drive; write: to it")
        .choices(["read", "write"])
        .makeOptionMandatory(),
    )
    .option("--seconds <n>", "time that counts in each repeat", String(HAUL.seconds))
    .option("--block <size>", "size of one request", formatSize(HAUL.block))
    .option("--depth <n>", "requests in flight", String(HAUL.depth))
    .option("--span <size>", "how much of the medium is walked over", formatSize(HAUL.span))
    .option("--repeats <n>", "how often the drill is done", "1")
    .option("--reserve <size>", "space to leave free (default: larger of 2 % and 1 GiB)")
    .option("--buffered", "go through the page cache; the result is flagged")
    .option("--json", "print one JSON document")
    .action(measure);
}

function request(options: Options): MeasureRequest {
  const size = (name: string, text: string) => {
    try {
      return parseSize(text);
    } catch (error) {
      throw new Usage(`--${name}: ${(error as Error).message}`);
    }
  };
  const number = (name: string, text: string) => {
    const value = Number(text);
    if (text.trim() === "" || !Number.isFinite(value)) {
      throw new Usage(`--${name}: "${text}" is not a number`);
    }
    return value;
  };
  const parsed = MeasureRequest.safeParse({
    rigId: "",
    target: path.resolve(options.target),
    direction: options.direction,
    block: size("block", options.block),
    depth: number("depth", options.depth),
    span: size("span", options.span),
    seconds: number("seconds", options.seconds),
    repeats: number("repeats", options.repeats),
    io: options.buffered ? "buffered" : "direct",
    reserve: options.reserve === undefined ? null : size("reserve", options.reserve),
  });
  if (!parsed.success) {
    const [issue] = parsed.error.issues;
    throw new Usage(`--${issue!.path.join(".")} ${issue!.message}`);
  }
  return parsed.data;
}

interface Repeat {
  samples: Sample[];
  result: RunResult | null;
}

async function measure(options: Options): Promise<void> {
  const { target, io, reserve, direction, block, depth, span, seconds, repeats } = request(options);
  if (span < block) throw new Usage("--span must be at least one block");
  const drill = { name: "haul" as const, direction, block, depth, span, seconds, repeats };
  const done: Repeat[] = [];
  let conditions: Conditions | null = null;
  const engine = startEngine(
    { target, drill, io, reserve, keepOff: null, nerrit: packageJson.version },
    (event) => {
      if (event.event === "conditions") conditions = event.conditions;
      else if (event.event === "preparing")
        progress(
          `preparing the scratch file: ${formatSize(event.bytes)} of ${formatSize(event.total)}`,
        );
      else if (event.event === "started") done.push({ samples: [], result: null });
      else if (event.event === "sample") {
        done.at(-1)!.samples.push({ ms: event.ms, bytes: event.bytes });
        progress(
          `repeat ${event.repeat + 1} of ${repeats}: ${(event.ms / 1e3).toFixed(1)} of ${seconds} s`,
        );
      } else if (event.event === "finished") done.at(-1)!.result = event.result;
    },
    path.join(import.meta.dirname, "engine.mjs"),
  );
  for (const signal of ["SIGINT", "SIGTERM"] as const) process.on(signal, () => engine.stop());
  const end = await engine.ended;
  progress("");
  if (end.kind === "refused" && end.code === "device-read-only") throw new Usage(end.reason);
  if ("reason" in end) throw new Failure(end.reason);
  if (end.kind === "stopped") throw new Failure("stopped before the end; nothing is left behind");
  const results = done.flatMap(({ result }) => result ?? []);
  if (options.json) printJson(document(drill, done, results, conditions!));
  else report(results, conditions!);
}

/** One line on a terminal's standard error that overwrites itself; nothing where that is no terminal. */
function progress(text: string): void {
  if (process.stderr.isTTY) process.stderr.write(`\r\u001b[K${text}`);
}

/** The repeat whose rate is in the middle: the one to quote request times of. */
function middle(results: readonly RunResult[]): RunResult {
  return results.toSorted((a, b) => a.meanMBps - b.meanMBps)[Math.floor((results.length - 1) / 2)]!;
}

function document(
  drill: object,
  done: readonly Repeat[],
  results: readonly RunResult[],
  conditions: Conditions,
) {
  const total = (pick: (result: RunResult) => number) =>
    results.reduce((sum, result) => sum + pick(result), 0);
  const { n, median, mean, spread, cv, interval } = summarise(results.map((r) => r.meanMBps));
  return {
    meanMBps: median,
    repeats: { n, medianMBps: median, meanMBps: mean, spread, cv, intervalMBps: interval },
    bytes: total((r) => r.bytes),
    ms: total((r) => r.ms),
    requests: total((r) => r.requests),
    deviceBytes: results.some((r) => r.deviceBytes === null) ? null : total((r) => r.deviceBytes!),
    latencyUs: middle(results).latencyUs,
    samples: done.flatMap(({ samples }, repeat) => samples.map((s) => ({ repeat, ...s }))),
    runs: results,
    drill,
    conditions,
  };
}

function report(results: readonly RunResult[], conditions: Conditions): void {
  const { n, median, spread, interval } = summarise(results.map((r) => r.meanMBps));
  const { p50, p99, max } = middle(results).latencyUs;
  const lines = [
    `${formatRate(median)} MB/s on ${conditions.target}${conditions.device ? ` (${conditions.device})` : ""}`,
    n === 1
      ? "one run, so no interval: --repeats 3 gives one"
      : `median of ${n} runs, spread ${formatPercent(spread)}, 95 % interval of the mean ${formatRate(interval!.low)} to ${formatRate(interval!.high)} MB/s`,
    `request times: p50 ${formatMicroseconds(p50)}, p99 ${formatMicroseconds(p99)}, longest ${formatMicroseconds(max)}`,
  ];
  if (conditions.io === "buffered") lines.push("buffered: memory may have answered, not the drive");
  process.stdout.write(`${lines.join("\n")}\n`);
}
