import type { ErrorCount } from "@/core/run/result";
import type { SeenNode, SystemReport } from "@/core/system/system-report";
import type { Telling } from "../outside";
import { probe } from "../probe/probe";
import { SystemTree } from "../probe/tree";
import { readCoreTimes } from "../processor";
import { shareBusy } from "@/core/system/core-times";
import type { Target } from "../target/target";
import { readErrorCounters, throttledClocks, type ErrorCounter } from "./counters";
import { KernelLog } from "./kernel-log";

const EVERY_MS = 1000;

/** Of the files that a link was read from, those that change with it. */
const LINK_FILE = /(speed|width|sata_spd|negotiated_linkrate)$/;

/** A file whose number is a temperature, in thousandths of a degree (Documentation/hwmon/sysfs-interface). */
interface Thermometer {
  what: string;
  from: string;
}

interface LinkFile {
  name: string;
  from: string;
}

/** Looks, beside the measuring, at what the system knows of the drives and of the way to them. */
export class Observers {
  private constructor(
    private readonly tree: SystemTree,
    private readonly reports: readonly SystemReport[],
    private readonly thermometers: readonly Thermometer[],
    private readonly links: readonly LinkFile[],
    private readonly log: KernelLog,
  ) {}

  /** Finds out what there is to look at. Where the system says nothing, there is nothing. */
  static async open(targets: readonly Target[]): Promise<Observers> {
    const tree = new SystemTree(process.env.NERRIT_SYSTEM_ROOT || "/");
    const reports: SystemReport[] = [];
    for (const { path } of targets) {
      const report = await probe(path, tree.root).catch(() => null);
      if (report) reports.push(report);
    }
    const nodes = reports.flatMap(({ ways }) => ways.flatMap((way) => way.nodes));
    const names = [
      ...reports.flatMap(({ blocks }) => blocks.map(({ name }) => name)),
      ...nodes.map(({ at }) => at.split("/").at(-1)!).filter((name) => /\d/.test(name)),
    ];
    return new Observers(
      tree,
      reports,
      thermometersOf(nodes),
      linksOf(nodes),
      new KernelLog([...new Set(names)]),
    );
  }

  close(): void {
    this.log.close();
  }

  /** Looks once a second until it is ended. */
  async watch(telling: Telling): Promise<Watch> {
    const before = await readErrorCounters(this.tree, this.reports);
    const watch = new Watch(telling, before, {
      counters: () => readErrorCounters(this.tree, this.reports),
      celsius: () => numbersOf(this.tree, this.thermometers),
      links: async () => {
        const said = await Promise.all(this.links.map(({ from }) => this.tree.read(from)));
        return this.links.map((link, i) => ({ ...link, value: said[i]! }));
      },
      throttled: () => throttledClocks(this.tree),
      logged: () => this.log.read(),
    });
    await watch.begin();
    return watch;
  }
}

interface Eyes {
  counters(): Promise<ErrorCounter[]>;
  celsius(): Promise<Record<string, number>>;
  links(): Promise<(LinkFile & { value: string | null })[]>;
  throttled(): Promise<number | null>;
  logged(): ReturnType<KernelLog["read"]>;
}

/** The looking during one repeat. */
export class Watch {
  private timer: NodeJS.Timeout | null = null;
  private looking: Promise<void> = Promise.resolve();
  private links = new Map<string, string | null>();
  private throttled: number | null = null;
  private cores = readCoreTimes();
  private used = process.cpuUsage();
  private at = performance.now();
  private ended: Promise<ErrorCount[]> | null = null;

  constructor(
    private readonly telling: Telling,
    private readonly before: readonly ErrorCounter[],
    private readonly eyes: Eyes,
  ) {}

  async begin(): Promise<void> {
    for (const { from, value } of await this.eyes.links()) this.links.set(from, value);
    this.throttled = await this.eyes.throttled();
    let busy = false;
    this.timer = setInterval(() => {
      if (busy) return; // a drive that does not answer may hold up a look at it
      busy = true;
      this.looking = this.look().finally(() => (busy = false));
    }, EVERY_MS);
  }

  private async look(): Promise<void> {
    const now = performance.now();
    const cores = readCoreTimes();
    const used = process.cpuUsage();
    const own = (used.user + used.system - this.used.user - this.used.system) / 1e3;
    const engine = cores.length > 0 ? own / (now - this.at) / cores.length : null;
    const machine = shareBusy(this.cores, cores);
    [this.cores, this.used, this.at] = [cores, used, now];
    const celsius = await this.eyes.celsius();
    const ms = this.telling.now();
    if (ms > 0) {
      this.telling.outside.tell({
        event: "reading",
        repeat: this.telling.repeat,
        reading: { ms, engine, machine, celsius },
      });
    }
    await this.changes();
  }

  private async changes(): Promise<void> {
    for (const { name, from, value } of await this.eyes.links()) {
      const was = this.links.get(from);
      if (was === value) continue;
      this.links.set(from, value);
      const text =
        value === null
          ? `${name}: its link cannot be read any more.`
          : `${name}: link changed from ${was ?? "unknown"} to ${value}.`;
      this.telling.happened("link", text, from);
    }
    const throttled = await this.eyes.throttled();
    if (throttled !== null && this.throttled !== null && throttled > this.throttled) {
      this.telling.happened(
        "throttled",
        "The processor was slowed down for heat.",
        "/sys/devices/system/cpu",
      );
    }
    this.throttled = throttled;
    for (const { kind, text } of this.eyes.logged()) this.telling.happened(kind, text, "/dev/kmsg");
  }

  /** Ends the looking. @returns what the error counters did in the meantime */
  end(): Promise<ErrorCount[]> {
    this.ended ??= this.finish();
    return this.ended;
  }

  private async finish(): Promise<ErrorCount[]> {
    if (this.timer) clearInterval(this.timer);
    const patience = new Promise<"late">((resolve) =>
      setTimeout(() => resolve("late"), 3000).unref(),
    );
    const last = this.looking.then(() => this.changes()).then(() => this.eyes.counters());
    const after = await Promise.race([last, patience]);
    if (after === "late") return [];
    return this.before.flatMap(({ what, from, count }) => {
      const now = after.find((counter) => counter.from === from);
      return now ? [{ what, from, before: count, after: now.count }] : [];
    });
  }
}

async function numbersOf(
  tree: SystemTree,
  thermometers: readonly Thermometer[],
): Promise<Record<string, number>> {
  const celsius: Record<string, number> = {};
  for (const { what, from } of thermometers) {
    const value = Number((await tree.read(from)) ?? NaN);
    if (Number.isFinite(value)) celsius[what] = value / 1000;
  }
  return celsius;
}

function thermometersOf(nodes: readonly SeenNode[]): Thermometer[] {
  const all = nodes.flatMap(({ name, facts }) =>
    facts
      .filter(({ from }) => /temp\d+_input$/.test(from))
      .map(({ what, from }) => ({ what: `${name}, ${what}`, from })),
  );
  return onceEach(all);
}

function linksOf(nodes: readonly SeenNode[]): LinkFile[] {
  const all = nodes.flatMap(({ name, link }) =>
    (link?.from ?? []).filter((from) => LINK_FILE.test(from)).map((from) => ({ name, from })),
  );
  return onceEach(all);
}

const onceEach = <T extends { from: string }>(all: readonly T[]): T[] =>
  all.filter((one, i) => all.findIndex(({ from }) => from === one.from) === i);
