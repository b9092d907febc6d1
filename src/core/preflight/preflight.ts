import type { Rig } from "../chain/rig";
import type { Drill } from "../drills/drill";
import { predict } from "../chain/predict";
import { programOf } from "../drills/drill";
import { shapeOf } from "../drills/shape";
import { shownTo, type MachineCheck } from "../machine/check";
import type { TargetFacts } from "../drills/parameter";
import { mixBytes, mixFiles } from "../drills/kinds/ferry";
import { spanOf, writes, type MixEntry } from "../run/program";
import { disagreements } from "../system/detected";
import { factOf, type Fact, type SystemReport } from "../system/system-report";
import { formatPercent, IN_MB } from "../units/number";
import { formatSize } from "../units/size";
import type { SeenAround } from "./seen-around";

/** What is looked at before a run, so that nothing is found out ten minutes later. */
export interface Surroundings extends Omit<SeenAround, "quiet"> {
  /** The last run that wrote to this drive. */
  lastWrite: { bytes: number; secondsAgo: number } | null;
  /** What the machine was shown to carry without any drive; null where it was not checked. */
  check?: MachineCheck | null;
  /** How many places the drill names: a copy with two has a folder of the tester's own at one. */
  targets: number;
}

/** Something a press puts right. */
export type Fix =
  | { label: string; do: "set"; name: string; value: number | MixEntry[] }
  | { label: string; do: "buffered" }
  | { label: string; do: "as the system says" };

export interface PreflightFinding {
  /**
   * - stop: the run would be refused, or be one of something else
   * - beware: it would be slower than the rig is, or differ from others
   * - note: worth knowing when it is read
   */
  level: "stop" | "beware" | "note";
  text: string;
  /** Files that say so. */
  from: string[];
  fix: Fix | null;
}

/** Space that writers leave free on purpose: most drives' write cache shrinks as they fill. */
const NEARLY_FULL = 0.9;
/** Traffic that others make: more than a hundredth of a second's time shows in a run. */
const BUSY_DRIVE = 0.05;
/** A core that is half busy leaves the engine half a core. */
const BUSY_CORE = 0.5;
/** A drive folds what it took fast within minutes (drills/kinds/rest-and-return.ts). */
const FOLDING_SECONDS = 600;
/** Writes that fit a drive's own memory leave nothing to fold. */
const FOLDING_BYTES = 2 ** 30;
/** Degrees below the limit that a drive names from which a start counts as hot. */
const HOT_WITHIN = 10;

/** Everything that speaks for not beginning a run yet; what stops it comes first. */
export function preflight(
  rig: Rig,
  drill: Drill,
  around: Surroundings,
  buffered = false,
): PreflightFinding[] {
  if (!around.facts) {
    const text = "There is nothing there to measure on. Is the drive plugged in and mounted?";
    return [{ level: "stop", text, from: [], fix: null }];
  }
  const found = [
    ...spaceFor(drill, around.facts),
    ...spaceForCopy(drill, around.facts, around.targets),
    ...anotherThan(rig, around.report),
    ...pastMemory(around, buffered),
    ...fillLevel(drill, around.space),
    ...sharing(around.shared),
    ...business(around.busy),
    ...battery(around.onBattery),
    ...machineLimit(rig, drill, around.check ?? null),
    ...heat(around.report),
    ...folding(drill, around.lastWrite),
    ...(around.report ? notesOn(around.report) : []),
  ];
  const order = ["stop", "beware", "note"];
  return found.sort((a, b) => order.indexOf(a.level) - order.indexOf(b.level));
}

const MIB = 2 ** 20;

function spaceFor(drill: Drill, { kind, room }: TargetFacts): PreflightFinding[] {
  const program = programOf(drill);
  const span = spanOf(program);
  if (kind === "device" && writes(program)) {
    const text = "A block device is only ever read: name a directory on its file system to write.";
    return [{ level: "stop", text, from: [], fix: null }];
  }
  if (span <= room) return [];
  const most = Math.floor(room / MIB) * MIB;
  const text = `A span of ${formatSize(span)} does not fit: beside the reserve there is room for ${formatSize(room)}.`;
  const name =
    typeof drill.span === "number" ? "span" : typeof drill.size === "number" ? "size" : null;
  const fix: Fix | null =
    name && most >= MIB
      ? { label: `Use a ${name} of ${formatSize(most)}`, do: "set", name, value: most }
      : null;
  return [{ level: "stop", text, from: [], fix }];
}

/** Files that are made up land on the drive: whole, or as many of each size as there is room for. */
function spaceForCopy(drill: Drill, { room }: TargetFacts, targets: number): PreflightFinding[] {
  return programOf(drill, targets).flatMap((step): PreflightFinding[] => {
    if (step.do !== "copy" || !step.mix || (step.to !== 0 && step.from !== 0)) return [];
    const all = mixBytes(step.mix);
    if (all <= room) return [];
    const share = room / all;
    const fitting = step.mix.flatMap(({ files, bytes }) => {
      const most = Math.floor(files * share);
      return most > 0 ? [{ files: most, bytes }] : [];
    });
    const text = `A copy of ${formatSize(all, 1000)} does not fit: beside the reserve there is room for ${formatSize(room, 1000)}.`;
    const fix: Fix | null =
      fitting.length > 0
        ? {
            label: `Copy ${formatSize(mixBytes(fitting), 1000)} in ${mixFiles(fitting)} files`,
            do: "set",
            name: "mix",
            value: fitting,
          }
        : null;
    return [{ level: "stop", text, from: [], fix }];
  });
}

function anotherThan(rig: Rig, report: SystemReport | null): PreflightFinding[] {
  if (!report) return [];
  return disagreements(rig, report).map(({ text, from }) => {
    const sentence = text.charAt(0).toUpperCase() + text.slice(1);
    // Another drive is another rig; what runs otherwise than declared can be taken over.
    const another = /serial number|holds .* the system sees one/.test(text);
    return {
      level: another ? "stop" : "beware",
      text: sentence,
      from,
      fix: another
        ? null
        : {
            label: "Use links, driver and file system as the system reports",
            do: "as the system says",
          },
    };
  });
}

function pastMemory({ memory }: Surroundings, buffered: boolean): PreflightFinding[] {
  if (!memory || buffered) return [];
  const text = "This file system is memory: direct I/O reaches no drive there.";
  const fix: Fix = { label: "Measure buffered; flag the run", do: "buffered" };
  return [{ level: "stop", text, from: [], fix }];
}

function fillLevel(drill: Drill, space: Surroundings["space"]): PreflightFinding[] {
  if (!space || space.total <= 0 || !writes(programOf(drill))) return [];
  const full = 1 - space.free / space.total;
  if (full < NEARLY_FULL) return [];
  const text = `The file system is ${formatPercent(full)} full: on most drives the part that takes writes fast is small by then.`;
  return [{ level: "beware", text, from: [], fix: null }];
}

function sharing({ system, own }: Surroundings["shared"]): PreflightFinding[] {
  if (own) {
    const text =
      "It is the drive that Nerrit's own data lies on: storing the run disturbs it a little.";
    return [{ level: "beware", text, from: [], fix: null }];
  }
  if (!system) return [];
  const text = "The running system lies on this drive, and may use it meanwhile.";
  return [{ level: "beware", text, from: [], fix: null }];
}

function business({ drive, core, seconds }: Surroundings["busy"]): PreflightFinding[] {
  const found: PreflightFinding[] = [];
  if (drive !== null && drive > BUSY_DRIVE) {
    const text = `Something else uses the drive: it was busy for ${formatPercent(drive)} of ${seconds} s.`;
    found.push({ level: "beware", text, from: [], fix: null });
  }
  if (core !== null && core > BUSY_CORE) {
    const text = `A processor core was busy for ${formatPercent(core)} of ${seconds} s: the host may limit the run.`;
    found.push({ level: "beware", text, from: [], fix: null });
  }
  return found;
}

/** A path that could carry more than its machine was shown to move by such requests. */
function machineLimit(rig: Rig, drill: Drill, check: MachineCheck | null): PreflightFinding[] {
  const { direction } = drill;
  const shape = shapeOf(drill);
  if (!check || !shape || direction === "mixed") return [];
  const shown = shownTo(check, shape, direction);
  const path = predict(rig, direction, shape);
  if (!shown || !path || path.mbps <= shown.median) return [];
  const text = `${check.machine} was shown to move ${IN_MB.said(shown.median)} by such requests, in its own memory: a path that could carry ${IN_MB.said(path.mbps)} may not be judged here.`;
  return [{ level: "beware", text, from: [], fix: null }];
}

function battery(fact: Fact | null): PreflightFinding[] {
  if (!fact) return [];
  const text = "The machine runs on its battery: many slow their links and processors then.";
  return [{ level: "beware", text, from: [fact.from], fix: null }];
}

/** A drive that names its own limit and is near it. */
function heat(report: SystemReport | null): PreflightFinding[] {
  const facts = report?.ways.flatMap(({ nodes }) => nodes.at(-1)?.facts ?? []) ?? [];
  return facts.flatMap((fact): PreflightFinding[] => {
    const sensor = /^temperature, (.+)$/.exec(fact.what)?.[1];
    const limit = facts.find(({ what }) => what === `temperature limit, ${sensor}`);
    const [now, most] = [Number.parseFloat(fact.value), Number.parseFloat(limit?.value ?? "")];
    if (!sensor || !(most - now < HOT_WITHIN)) return [];
    const text = `The drive is at ${now} °C and names ${most} °C as its limit: let it cool first.`;
    return [{ level: "beware", text, from: [fact.from, limit!.from], fix: null }];
  });
}

function folding(drill: Drill, last: Surroundings["lastWrite"]): PreflightFinding[] {
  if (!last || last.secondsAgo > FOLDING_SECONDS || last.bytes < FOLDING_BYTES) return [];
  if (!writes(programOf(drill)) && last.bytes < 8 * FOLDING_BYTES) return [];
  const minutes = Math.max(1, Math.round(last.secondsAgo / 60));
  const text = `A run wrote ${formatSize(last.bytes, 1000)} to this drive ${minutes === 1 ? "a minute" : `${minutes} minutes`} ago: it may still be clearing its cache.`;
  return [{ level: "beware", text, from: [], fix: null }];
}

/** What file systems and drives do of their own accord. */
function notesOn({ mount, blocks }: SystemReport): PreflightFinding[] {
  const found: PreflightFinding[] = [];
  const note = (text: string, from: string[]) =>
    found.push({ level: "note", text, from, fix: null });
  if (mount && /^fuse/.test(mount.type)) {
    note(
      `${mount.type} is done by a program beside the kernel: its processor time is part of the rate.`,
      [mount.from],
    );
  }
  if (mount && /(?:^|,)compress/.test(mount.options)) {
    note("The file system compresses: Nerrit's data cannot be compressed, yours may be.", [
      mount.from,
    ]);
  }
  if (mount && /(?:^|,)(?:sync|dirsync)(?:,|$)/.test(mount.options)) {
    note("It is mounted for synchronous writing: every write waits for the medium.", [mount.from]);
  }
  const off = blocks.flatMap((block) => {
    const fact = factOf(block, "write cache");
    return fact && block.kind === "disk" && fact.value === "write through" ? [fact] : [];
  });
  if (off[0])
    note("The system does not use a write cache on this drive: small writes wait for it.", [
      off[0].from,
    ]);
  return found;
}
