import { coreShares, parseCoreTimes, type CoreTimes } from "../system/core-times";
import type { HostLoad } from "../run/host-load";
import type { FarReading, Moved } from "../run/far-host";
import type { Count } from "../watch/tally";

/** Between two looks at a host's counters, seconds. */
const EVERY_S = 1;
/** Said before each look. */
const TICK = "nerrit-look";
/** The unit of the kernel's counters, whatever the drive's own sector (Documentation/block/stat.rst). */
const SECTOR = 512;

/** A drive or an interface by the kernel's name; nothing that a shell reads. */
export const COUNTED_NAME = /^[A-Za-z0-9][A-Za-z0-9_.-]{0,31}$/;

/**
 * One loop for any POSIX shell that tells the counters of some drives and interfaces, its cores and its memory:
 * two small programs begun a second. It ends with the line: the mark can be written no more then.
 *
 * @param names of COUNTED_NAME
 */
export function countersQuestion(names: readonly string[]): string {
  const patterns = [
    "^[0-9.]* [0-9.]*$",
    "^cpu[0-9]",
    "^MemTotal",
    "^MemAvailable",
    ...names
      .map((name) => name.replaceAll(".", "[.]"))
      .flatMap((name) => [` ${name} `, `^ *${name}:`]),
  ];
  const files = ["uptime", "stat", "meminfo", "diskstats", "net/dev"];
  const sed = `sed -n ${patterns.map((pattern) => `-e "/${pattern}/p"`).join(" ")} ${files.map((file) => `/proc/${file}`).join(" ")} 2>/dev/null`;
  return `while echo ${TICK}; do ${sed}; sleep ${EVERY_S}; done`;
}

/** A look at a host's counters. */
export interface HostLook {
  /** The host's own time since it came up, milliseconds. */
  upMs: number;
  /** What is counted of each that was asked for and is there. */
  counts: ReadonlyMap<string, Count & { kind: "device" | "interface" }>;
  cores: CoreTimes;
  /** Share of its memory that is in use, 0 to 1; null where that is not said. */
  memory: number | null;
}

/** Puts what the loop says together to looks. */
export class LookReader {
  private lines: string[] | null = null;

  /** @returns the look that a line ends; null for every other line */
  take(line: string): HostLook | null {
    if (line.trim() !== TICK) {
      // What a login prints before the first mark is none of it.
      this.lines?.push(line);
      return null;
    }
    const look = this.lines && lookOf(this.lines);
    this.lines = [];
    return look;
  }
}

function lookOf(lines: readonly string[]): HostLook | null {
  const up = lines.map((line) => /^(\d+(?:\.\d+)?) \d/.exec(line)?.[1]).find(Boolean);
  if (up === undefined) return null;
  const kilobytes = (key: string) =>
    Number(lines.map((line) => new RegExp(`^${key}: *(\\d+) kB`).exec(line)?.[1]).find(Boolean));
  const [total, available] = [kilobytes("MemTotal"), kilobytes("MemAvailable")];
  return {
    upMs: Number(up) * 1000,
    counts: new Map(lines.flatMap(countsOf)),
    cores: parseCoreTimes(lines.join("\n")),
    memory: total > 0 && available >= 0 ? Math.max(0, 1 - available / total) : null,
  };
}

type Counted = [string, Count & { kind: "device" | "interface" }];

/** What a line of the kernel's counters says of a drive or an interface; nothing for any other line. */
export const countsOf = (line: string): Counted[] => driveOf(line) ?? interfaceOf(line) ?? [];

/** Documentation/admin-guide/iostats.rst: major, minor, name, then the fields of a drive's own file. */
function driveOf(line: string): Counted[] | null {
  const found = /^ *\d+ +\d+ (\S+) ((?:\d+ *){11,})$/.exec(line);
  if (!found) return null;
  const [reads, , read, , writes, , written, , , busyMs] = found[2]!.trim().split(/ +/).map(Number);
  const count = {
    read: read! * SECTOR,
    written: written! * SECTOR,
    requests: reads! + writes!,
    busyMs: busyMs!,
  };
  return [[found[1]!, { kind: "device", ...count }]];
}

/** proc(5), /proc/net/dev: eight counters of what was received, then of what was sent, bytes first. */
function interfaceOf(line: string): Counted[] | null {
  const found = /^ *([^ :]+): *((?:\d+ *){16})$/.exec(line);
  if (!found) return null;
  const counters = found[2]!.trim().split(/ +/).map(Number);
  const count = { read: counters[0]!, written: counters[8]!, requests: 0, busyMs: null };
  return [[found[1]!, { kind: "interface", ...count }]];
}

/** What a host did between two looks. @returns null where it was started anew, or no time went by */
export function farReading(host: string, before: HostLook, look: HostLook): FarReading | null {
  const ms = look.upMs - before.upMs;
  if (ms <= 0) return null;
  const rate = (from: number, to: number) => Math.max(0, to - from) / (ms * 1e3);
  return {
    host,
    cores: coreShares(before.cores, look.cores).map((share) => Math.round(share * 100)),
    memory: look.memory,
    moved: Object.fromEntries(
      [...look.counts].flatMap(([name, now]): [string, Moved][] => {
        const was = before.counts.get(name);
        if (!was) return [];
        const busy =
          now.busyMs === null || was.busyMs === null
            ? null
            : Math.max(0, Math.min(1, (now.busyMs - was.busyMs) / ms));
        const [read, written] = [rate(was.read, now.read), rate(was.written, now.written)];
        return [[name, { kind: now.kind, read, written, busy }]];
      }),
    ),
  };
}

/** Sums up how busy a host's cores were while it was looked at. */
export class LoadTally {
  private first: HostLook | null = null;
  private last: HostLook | null = null;
  private readonly peaks: number[] = [];
  /** Between the last two looks. */
  private latest: number[] = [];
  private memory: number | null = null;

  add(look: HostLook): void {
    if (this.last && look.upMs < this.last.upMs) this.first = this.last = null; // it was started anew
    if (this.last) {
      this.latest = coreShares(this.last.cores, look.cores);
      for (const [i, share] of this.latest.entries())
        this.peaks[i] = Math.max(this.peaks[i] ?? 0, share);
    }
    this.first ??= look;
    this.last = look;
    if (look.memory !== null) this.memory = Math.max(this.memory ?? 0, look.memory);
  }

  /** How busy it was since the first look. */
  get load(): HostLoad {
    const { first, last, peaks, latest, memory } = this;
    if (!first || !last) return { seconds: 0, core: null, memory };
    const means = coreShares(first.cores, last.cores);
    const mean = Math.max(...means);
    const number = means.indexOf(mean);
    return {
      seconds: (last.upMs - first.upMs) / 1000,
      core:
        means.length === 0
          ? null
          : { number, now: latest[number] ?? mean, mean, peak: peaks[number] ?? mean },
      memory,
    };
  }
}
