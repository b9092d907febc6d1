import os from "node:os";
import path from "node:path";
import { createInterface } from "node:readline";
import type { Command } from "commander";
import { recordedOf } from "@/services/watching/keep-watched";
import { rowOf, type Recorded } from "@/core/exchange/runs-file";
import { formatDuration, formatRate } from "@/core/units/number";
import { formatSize } from "@/core/units/size";
import { Tally, type Mark, type Stretch } from "@/core/watch/tally";
import { copyOf, copyWords } from "@/core/watch/waits";
import { markEvents } from "@/core/watch/watched-run";
import { SystemTree } from "@/engine/probe/tree";
import { Refusal } from "@/engine/refusal";
import { findSource, type Source } from "@/engine/watch/source";
import { Failure, printJson, Usage } from "../exit";
import { table, wrapped } from "../lines";
import { checkOut, writeOut } from "../measuring/out-file";
import { PROGRESS, ProgressLine } from "../progress-line";
import { countedOnHost } from "@/core/host/counted";
import { loadWords } from "@/core/run/host-load";
import { byHost, WatchedHost, type TimedSource } from "@/services/hosts/watched-host";
import { failing } from "../on-host";

interface Options {
  seconds?: string;
  every: string;
  root?: string;
  rig: string;
  out?: string;
  progress?: boolean;
  json?: boolean;
}

/** The kernel's counters are not kept finer than that. */
const SHORTEST_MS = 100;

/** `nerrit watch`: what devices and interfaces move while other programs use them. */
export function addWatch(program: Command): void {
  program
    .command("watch")
    .description("watch what drives and network interfaces move while other programs use them")
    .argument(
      "<device...>",
      "block devices and network interfaces, for example sdb eth0; router:eth0 on another host",
    )
    .option("--seconds <n>", "end after so long; otherwise on Ctrl-C")
    .option("--every <seconds>", "how often it is looked, at most ten times a second", "0.2")
    .option("--root <directory>", "read the kernel's tree (sys, proc) below this directory")
    .option("--out <file>", "keep it as runs with every look, for the pages to import")
    .option("--rig <name>", "what the rig is called in that file", os.hostname())
    .option("--progress", PROGRESS)
    .option("--json", "print one JSON document at the end")
    .addHelpText(
      "after",
      "\nA line typed meanwhile sets a mark of that name; bytes, seconds and rates between marks are told at the end.",
    )
    .action(watch);
}

interface Watched {
  source: Source | TimedSource;
  tally: Tally;
}

async function watch(names: string[], options: Options): Promise<void> {
  const every = Math.max(SHORTEST_MS, seconds("every", options.every) * 1000);
  const end = options.seconds === undefined ? Infinity : seconds("seconds", options.seconds) * 1000;
  const tree = new SystemTree(path.resolve(options.root ?? "/"), { quiet: true });
  const watched: Watched[] = [];
  for (const name of names) {
    if (countedOnHost(name)) continue;
    try {
      watched.push({ source: await findSource(tree, name), tally: new Tally() });
    } catch (error) {
      if (error instanceof Refusal) throw new Failure(error.message);
      throw error;
    }
  }
  const there = byHost(names.flatMap((text) => countedOnHost(text) ?? []));
  if (options.out !== undefined && there.size > 0)
    throw new Usage("--out keeps what this machine counts; of another host it is only shown");
  if (options.out !== undefined) checkOut(options.out);
  let begun = performance.now();
  const say = (text: string) => process.stderr.write(`${text}\n`);
  const hosts = [...there].map(
    ([host, counted]) => new WatchedHost(host, counted, () => begun, say),
  );
  try {
    for (const host of hosts)
      for (const source of await failing(() => host.sources()))
        watched.push({ source, tally: new Tally() });
  } catch (error) {
    for (const host of hosts) host.stop();
    throw error;
  }
  const startedAt = new Date().toISOString();
  begun = performance.now();
  const line = new ProgressLine(options.progress === true);
  const marks: Mark[] = [{ ms: 0, name: "start" }];
  const lines = createInterface({ input: process.stdin });
  lines.on("line", (name) =>
    marks.push({ ms: performance.now() - begun, name: name.trim() || `mark ${marks.length}` }),
  );
  let over = false;
  for (const signal of ["SIGINT", "SIGTERM"] as const) process.on(signal, () => (over = true));

  while (!over) {
    const ms = performance.now() - begun;
    for (const { source, tally } of watched) {
      const count = await source.count();
      const at = "at" in source ? source.at() : ms;
      if (count && at > (tally.lastMs ?? -Infinity)) tally.add({ ...count, ms: at });
    }
    const mark = marks.at(-1)!.name;
    line.say(
      marks.length > 1 ? `${mark}: ${nowLine(watched)}` : nowLine(watched),
      String(marks.length),
    );
    if (ms >= end) break;
    await new Promise((resolve) => setTimeout(resolve, Math.min(every, end - ms)));
  }
  for (const host of hosts) host.stop();
  lines.close();
  process.stdin.unref?.();
  line.clear();
  const last = marks.at(-1)!;
  const stop = { ms: Math.max(last.ms, performance.now() - begun), name: "end" };
  if (options.out !== undefined) {
    writeOut(options.out, await recorded(watched, marks, stop, startedAt, options.rig));
  }
  tell(watched, hosts, marks.length > 1 ? [...marks, stop] : [], options.json === true);
}

/** Each source that was seen, as a run of its own. @throws Failure where nothing was counted */
async function recorded(
  watched: readonly Watched[],
  [start, ...marks]: readonly Mark[],
  stop: Mark,
  startedAt: string,
  rig: string,
): Promise<Recorded[]> {
  const seen = watched.filter(({ tally }) => tally.figures !== null);
  if (seen.length === 0) throw new Failure("nothing was counted, so nothing was kept");
  return Promise.all(
    seen.map(({ source, tally }) => {
      const samples = tally.samples(start!, stop).map(rowOf);
      const what = { title: "", startedAt, samples, marks: markEvents(marks, start!, stop) };
      return recordedOf(source, what, rig);
    }),
  );
}

function seconds(name: string, text: string): number {
  const value = Number(text);
  if (!(value > 0)) throw new Usage(`--${name}: "${text}" is not a number of seconds above 0`);
  return value;
}

const nowLine = (watched: readonly Watched[]) =>
  watched
    .map(({ source, tally }) => {
      const now = tally.figures?.now;
      return `${source.name}: reads ${formatRate(now?.read ?? 0)}, writes ${formatRate(now?.write ?? 0)} MB/s`;
    })
    .join("   ");

function tell(
  watched: readonly Watched[],
  hosts: readonly WatchedHost[],
  marks: readonly Mark[],
  json: boolean,
): void {
  const all = watched.map(({ source, tally }) => ({
    name: source.name,
    kind: source.kind,
    figures: tally.figures,
    stretches: marks.slice(1).map((mark, i) => tally.between(marks[i]!, mark)),
  }));
  const copies = marks.slice(1).flatMap((mark, i) => {
    const sides = all.flatMap(({ name, stretches }) =>
      stretches[i] ? [{ name, stretch: stretches[i] }] : [],
    );
    const copy = copyOf(sides);
    return copy ? [`${marks[i]!.name} to ${mark.name}: ${copyWords(copy)}`] : [];
  });
  if (json) {
    printJson({
      watched: all.map(({ name, kind, figures, stretches }) => ({
        name,
        kind,
        seconds: figures?.seconds ?? 0,
        readBytes: figures?.read ?? 0,
        writtenBytes: figures?.written ?? 0,
        meanMBps: figures?.mean ?? null,
        peakMBps: figures?.peak ?? null,
        stretches,
      })),
      hosts: hosts.map(({ now: { host, load } }) => ({ host, ...load })),
    });
    return;
  }
  const rows = all.flatMap(({ name, figures, stretches }) => [
    ...(figures
      ? [
          [
            name,
            "whole",
            ...cells({ ...figures, readMBps: figures.mean.read, writeMBps: figures.mean.write }),
          ],
        ]
      : [[name, "nothing was counted", "", "", "", "", ""]]),
    ...stretches.map((one) => [name, `${one.from} to ${one.to}`, ...cells(one)]),
    ...(figures
      ? [
          [
            name,
            "peak of a second",
            "",
            "",
            formatRate(figures.peak.read),
            "",
            formatRate(figures.peak.write),
          ],
        ]
      : []),
  ]);
  const head = ["device", "from, to", "time", "read", "MB/s", "written", "MB/s"];
  const loads = hosts.flatMap(({ now: { host, load } }) => {
    const words = loadWords(load);
    return words ? wrapped(`${host}: ${words}`) : [];
  });
  process.stdout.write(`${[...table(head, rows), ...copies, ...loads].join("\n")}\n`);
}

const cells = (one: Pick<Stretch, "seconds" | "read" | "written" | "readMBps" | "writeMBps">) => [
  formatDuration(one.seconds * 1000),
  formatSize(one.read, 1000),
  formatRate(one.readMBps),
  formatSize(one.written, 1000),
  formatRate(one.writeMBps),
];
