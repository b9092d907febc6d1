import type { Part } from "../chain/part";
import { modesOn } from "../chain/part";
import { bestMode } from "../chain/link";
import { account } from "../ledger/account";
import { MB, type Direction } from "../units/rate";
import { Thermal } from "./heat";
import type { Cache, Fault, PartModel } from "./model";

/** Something the simulation had to take for granted. */
export interface Assumed {
  what: string;
  value: string;
  why: string;
}

/** A flash page programmed, or a disk's block passing under its head: what a write waits for without a cache. */
const PROGRAM_US = 1500;
/** Requests that flash works on at once: some channels with some chips each. */
const FLASH_CHANNELS = 64;
/** One small request on flash: a page read, or a write taken over by the drive's memory. */
const FLASH_US = { read: 70, write: 15 };
/** What is left where a cache is stated and nothing of what comes after it. */
const FOLDED_SHARE = 0.25;
/** What a drive that was written over before keeps of its rate beyond the cache. */
const USED_SHARE = 0.8;
/** What a bad bay leaves. */
const BAY_SHARE = 1 / 3;

/** A drive on the simulated bench: how fast it is now, given all that was done with it before. */
export class SimulatedDrive {
  readonly thermal: Thermal | null;
  readonly capacity: number;
  private readonly native: { read: number; write: number };
  private readonly cache: (Cache & { room: number[] }) | null;
  private readonly cacheBytes: number;
  private cached = 0;
  private readonly cacheOff: boolean;
  private readonly bay: number;

  constructor(
    private readonly part: Part,
    private readonly model: PartModel,
    faults: readonly Fault[],
    ambient: number,
  ) {
    const has = (kind: Fault["kind"]) => faults.some((f) => f.kind === kind && at(f) === part.id);
    this.capacity = model.capacityBytes ?? part.capacityBytes ?? 1e12;
    const plug = (way: Direction) => {
      const best = bestMode(modesOn(part, "up"));
      return best ? account(best, way).hardCeiling : 0;
    };
    const own = (way: Direction) => model.limits[way] ?? part.limits[way] ?? plug(way);
    this.native = { read: own("read"), write: own("write") };
    this.cacheOff = has("cache-off");
    this.bay = has("bad-bay") ? BAY_SHARE : 1;
    const stated: Cache | null =
      model.cache ??
      (part.cacheBytes === null ? null : { stages: [{ bytes: part.cacheBytes }], fixedShare: 0.1 });
    // The fast part is free space put to another use: the fuller the drive, the smaller it is.
    const there = stated && Math.max(stated.fixedShare, 1 - model.filled);
    this.cache = stated && { ...stated, room: stated.stages.map(({ bytes }) => bytes * there!) };
    this.cacheBytes = this.cache?.room.reduce((sum, bytes) => sum + bytes, 0) ?? 0;
    this.thermal = Thermal.of(model.heat, has("no-heat-pad"), ambient);
  }

  /** MB/s that it takes or gives now. @param position bytes from the beginning of the medium */
  rate(direction: Direction, position: number, order: "sequential" | "random"): number {
    const cool = this.thermal?.share() ?? 1;
    const placed =
      this.model.medium === "disk" ? this.zoneShare(position) * this.native[direction] : Infinity;
    const taken = direction === "read" ? this.native.read : this.writeRate(order);
    return Math.min(taken, placed) * cool * this.bay;
  }

  /** Time of one request beside its bytes, µs; a queue lets a disk take the nearest first. */
  requestUs(direction: Direction, order: "sequential" | "random", depth: number): number {
    const stated = this.model.requestUs[direction] ?? this.part.requestUs[direction];
    const waits = direction === "write" && this.cacheOff;
    if (this.model.medium === "disk") {
      const turnUs = 60e6 / this.model.rpm;
      if (order === "sequential") return (stated ?? 0) + (waits ? turnUs : 0);
      // The mean way between two of q + 2 places on a line is 1/(q + 2) of it, and a seek takes about
      // the root of its way; the stated average is that of one request at a time, a third of the line.
      const seek = this.model.seekMs * 1e3 * Math.sqrt(3 / (depth + 2));
      return (stated ?? 0) + seek + turnUs / 2;
    }
    return (stated ?? FLASH_US[direction]) + (waits ? PROGRAM_US : 0);
  }

  get name(): string {
    return this.part.name;
  }

  /** What lies on it before what is measured. */
  get filledBytes(): number {
    return this.model.filled * this.capacity;
  }

  /** How many requests it works on at once. */
  get channels(): number {
    return this.model.channels ?? (this.model.medium === "disk" ? 1 : FLASH_CHANNELS);
  }

  /** Something was moved, or nothing was: it warms or cools, its cache fills or empties. */
  passed(read: number, written: number, seconds: number): void {
    this.cached = Math.min(this.cached + written, this.cacheBytes);
    if (this.cache && read + written === 0) {
      const back = (this.cache.recoverMBps ?? this.native.write * FOLDED_SHARE) * MB * seconds;
      this.cached = Math.max(0, this.cached - back);
    }
    const most = Math.max(this.native.read, this.native.write) * MB * seconds;
    this.thermal?.passed(most > 0 ? (read + written) / most : 0, seconds);
  }

  private writeRate(order: "sequential" | "random"): number {
    const { cache, native, model } = this;
    const aged = model.used ? USED_SHARE : 1;
    if (!cache) return native.write * (order === "random" ? aged : 1);
    let filled = 0;
    for (const [i, stage] of cache.stages.entries()) {
      filled += cache.room[i]!;
      if (this.cached < filled) return Math.min(stage.mbps ?? native.write, native.write);
    }
    return Math.min(cache.foldedMBps ?? native.write * FOLDED_SHARE, native.write) * aged;
  }

  /** The rate falls evenly with the radius, in sixteen zones. */
  private zoneShare(position: number): number {
    const zone = Math.floor(Math.min(0.999, position / this.capacity) * 16) / 15;
    return 1 - (1 - this.model.innerShare) * Math.min(1, zone);
  }
}

/** Where a fault sits; empty for one that is everywhere. */
export const at = (fault: Fault): string => ("at" in fault ? fault.at : "");

/** What had to be taken for granted of a drive. */
export function assumedOf(part: Part, model: PartModel): Assumed[] {
  const assumed: Assumed[] = [];
  const why = "nothing is said of it";
  for (const way of ["read", "write"] as const) {
    if (model.limits[way] === undefined && part.limits[way] === undefined)
      assumed.push({ what: `${part.name}, ${way}`, value: "as fast as its plug carries", why });
    if (
      model.medium === "flash" &&
      model.requestUs[way] === undefined &&
      part.requestUs[way] === undefined
    )
      assumed.push({ what: `${part.name}, time of a ${way}`, value: `${FLASH_US[way]} µs`, why });
  }
  if (!model.cache && part.cacheBytes === null)
    assumed.push({ what: `${part.name}, write cache`, value: "none that gives out", why });
  if (!model.heat) assumed.push({ what: `${part.name}, heat`, value: "never gets too hot", why });
  const folded = model.cache ? model.cache.foldedMBps : part.cacheBytes === null ? 0 : undefined;
  if (folded === undefined)
    assumed.push({
      what: `${part.name}, beyond its cache`,
      value: "a quarter of its writing rate",
      why: "the cache’s size is said, and not what comes after it",
    });
  return assumed;
}
