import { besideLinks, linkAccount, linksOf } from "../chain/link";
import type { Rig } from "../chain/rig";
import { together } from "../chain/several";
import type { Reading, RunEvent, Sample } from "../run/result";
import type { Direction } from "../units/rate";
import { assumedOf, at, SimulatedDrive, type Assumed } from "./drive";
import { asItRuns } from "./faults";
import { PartModel, type Simulation } from "./model";
import { AT_LIMIT, wayOf, type Way } from "./path";
import { Restless } from "./restless";

/** Samples as the engine takes them, ten a second. */
export const SAMPLE_MS = 100;
/** What memory answers with, and how soon. */
const MEMORY = { mbps: 7000, us: 6 };

/** Requests of one kind, as a flow keeps them going. */
export interface Requests {
  writeShare: number;
  order: "sequential" | "random";
  block: number;
  depth: number;
}

/** By what a tick's rates are multiplied, and what others take of the path, MB/s. */
export type Disturbed = Omit<ReturnType<Restless["next"]>, "reset">;

/** A drive in a bay, and what that bay carries. */
interface Bay {
  drive: SimulatedDrive;
  mbps: Record<Direction, number>;
}

/** A rig on the simulated bench, with the state that its parts are in. */
export class SimulatedRig {
  /** Milliseconds since the run's first counted moment. */
  now = 0;
  readonly samples: Sample[] = [];
  readonly events: RunEvent[] = [];
  readonly readings: Reading[] = [];
  readonly assumed: Assumed[];
  readonly restless: Restless;
  readonly bays: readonly Bay[];
  /** Busiest core's share of time in the last tick. */
  private busy = 0;
  private readonly rig: Rig;
  private readonly way: Way;
  private readonly shared: Way;
  private readonly memory: boolean;

  constructor(
    rig: Rig,
    readonly simulation: Simulation,
    { seed, repeat, plugging }: { seed: number; repeat: number; plugging: number },
  ) {
    const { bench, parts, faults } = simulation;
    this.rig = { ...asItRuns(rig, faults), other: [] };
    this.way = wayOf(this.rig, simulation);
    this.shared = rig.beside.length > 0 ? wayOf(this.rig, simulation, true) : this.way;
    this.memory = faults.some(({ kind }) => kind === "memory");
    this.restless = new Restless(seed, repeat, plugging, bench.noise, faults);
    const model = (id: string) => parts[id] ?? NO_MODEL;
    const links = [linksOf(this.rig).at(-1), ...besideLinks(this.rig)];
    this.bays = [rig.parts.at(-1)!, ...rig.beside].map((part, i) => ({
      drive: new SimulatedDrive(part, model(part.id), faults, bench.ambientCelsius),
      mbps: {
        read: this.bayRate(links[i], "read"),
        write: this.bayRate(links[i], "write"),
      },
    }));
    this.assumed = [rig.parts.at(-1)!, ...rig.beside].flatMap((p) => assumedOf(p, model(p.id)));
  }

  /** A drive that holds less than it says; null where none does. */
  get realBytes(): number | null {
    const drive = this.rig.parts.at(-1)!.id;
    const fault = this.simulation.faults.find((f) => f.kind === "counterfeit" && at(f) === drive);
    return fault?.kind === "counterfeit" ? fault.bytes : null;
  }

  /** Whether it takes more than one request at a time. */
  get isQueued(): boolean {
    return this.way.queued;
  }

  get answersFromMemory(): boolean {
    return this.memory;
  }

  /**
   * What each of several drives moves in the next tick, MB/s. Together they get no more than the way
   * they share: it goes to each alike, and what one does not need to the others (max-min fairness).
   *
   * @param busy which of the bays are at work; of a rig's drives as one: the first alone
   * @param position bytes from the beginning of the medium
   */
  tick(busy: readonly number[], requests: Requests, position: number, seconds: number): number[] {
    const disturbed = this.disturb(seconds);
    const alone = busy.map((bay) => this.alone(bay, requests, position, disturbed));
    const rates = busy.length > 1 ? this.fairly(alone, requests, disturbed) : alone;
    busy.forEach((bay, i) => this.passed(bay, rates[i]!, requests.writeShare, seconds));
    const sum = rates.reduce((total, rate) => total + rate, 0);
    this.warm(sum, requests.writeShare, seconds);
    this.busy = ((sum * 1e6) / requests.block) * (this.simulation.bench.processorUs / 1e6);
    return rates;
  }

  /** What the next tick is disturbed by. */
  disturb(seconds: number): Disturbed {
    const { reset, ...disturbed } = this.restless.next(seconds);
    if (reset) {
      const text = "The device was reset: the link had gone down and came up again.";
      this.events.push({ ms: this.now, kind: "reset", text, from: "simulated kernel log" });
    }
    return disturbed;
  }

  /** A single request was answered, within so many seconds. */
  answered(direction: Direction, bytes: number, seconds: number): void {
    const writeShare = direction === "write" ? 1 : 0;
    const mbps = seconds > 0 ? bytes / 1e6 / seconds : 0;
    this.passed(0, mbps, writeShare, seconds);
    this.warm(mbps, writeShare, seconds);
    this.busy = seconds > 0 ? this.simulation.bench.processorUs / 1e6 / seconds : 0;
  }

  /** The drives are left alone. */
  rest(seconds: number): void {
    for (const { drive } of this.bays) drive.passed(0, 0, seconds);
    this.warm(0, 0, seconds);
  }

  /** Ends a tick: time goes on, and once a second the system is looked at. */
  advance(ms: number): void {
    const before = this.now;
    this.now += ms;
    if (Math.floor(this.now / 1e3) === Math.floor(before / 1e3)) return;
    const celsius = Object.fromEntries([
      ...this.bays.flatMap(({ drive }) =>
        drive.thermal ? [[drive.name, rounded(drive.thermal.celsius)]] : [],
      ),
      ...this.way.thermals.map(({ name, thermal }) => [name, rounded(thermal.celsius)]),
    ]) as Record<string, number>;
    const load = Math.min(1, this.busy);
    this.readings.push({ ms: this.now, engine: load, machine: load, celsius });
  }

  /** The busiest core's share of time not idle, in the last tick. */
  get busiestCore(): number {
    return Math.min(1, this.busy);
  }

  /** Mean time of a request at a rate: in flight over what ends a second (Little's law). */
  requestUs({ block, depth }: Requests, mbps: number): number {
    return mbps > 0 ? ((this.way.queued ? depth : 1) * block) / mbps : 0;
  }

  /** What one drive would move with the way to itself, MB/s. */
  private alone(bay: number, r: Requests, position: number, disturbed: Disturbed): number {
    const times = [
      ["read", 1 - r.writeShare],
      ["write", r.writeShare],
    ] as const;
    let seconds = 0;
    let overheadUs = 0;
    let driveUs = 0;
    let ceiling = Infinity;
    let meter = NO_METER;
    for (const [direction, share] of times) {
      if (share === 0) continue;
      const one = this.oneWay(bay, direction, r, position, disturbed);
      seconds += share / one.mbps;
      overheadUs += share * one.overheadUs;
      driveUs += share * one.driveUs;
      ceiling = Math.min(ceiling, one.ceiling);
      meter = {
        mbps: Math.min(meter.mbps, one.meter.mbps),
        iops: Math.min(meter.iops, one.meter.iops),
      };
    }
    const rate = 1 / seconds;
    if (!(rate > 0)) return 0;
    const inFlight = this.way.queued ? r.depth : 1;
    const { processorUs } = this.simulation.bench;
    const { channels } = this.bays[bay]!.drive;
    const perRequest = overheadUs + driveUs + r.block / rate;
    return Math.min(
      (inFlight * r.block) / perRequest,
      rate,
      // So many at once is all that the drive works on.
      driveUs > 0 ? (channels * r.block) / driveUs : Infinity,
      processorUs > 0 ? r.block / processorUs : Infinity,
      meter.mbps,
      (meter.iops * r.block) / 1e6,
      ceiling,
    );
  }

  /** What one direction gives to one drive: MB/s, and what each request takes beside its bytes, µs. */
  oneWay(
    bay: number,
    direction: Direction,
    r: Pick<Requests, "order" | "depth">,
    position: number,
    { factor, taken }: Disturbed,
  ) {
    if (this.memory && direction === "read")
      return {
        mbps: MEMORY.mbps * factor,
        overheadUs: MEMORY.us,
        driveUs: 0,
        ceiling: Infinity,
        meter: NO_METER,
      };
    const { drive, mbps } = this.bays[bay]!;
    const several = bay === 0 && this.bays.length > 1 && this.rig.layout !== "apart";
    const path = this.way[direction];
    const own = several
      ? together(
          this.rig.layout,
          direction,
          this.bays.map(({ drive: one }) => one.rate(direction, position, r.order)),
        )
      : drive.rate(direction, position, r.order);
    const narrow = Math.min((path.level - taken) * this.cool(), own * AT_LIMIT, mbps[direction]);
    return {
      mbps: Math.max(0, Math.min(narrow * factor, path.ceiling, own)),
      overheadUs: path.overheadUs,
      driveUs: drive.requestUs(direction, r.order, r.depth),
      ceiling: path.ceiling,
      meter: path.meter,
    };
  }

  /** Shares the way above the bays. */
  private fairly(alone: number[], r: Requests, { factor, taken }: Disturbed): number[] {
    const path = r.writeShare > 0.5 ? this.shared.write : this.shared.read;
    let left = Math.min((path.level - taken) * this.cool() * factor, path.ceiling, path.meter.mbps);
    const rates = alone.map(() => 0);
    const order = alone.map((rate, i) => [rate, i] as const).toSorted(([a], [b]) => a - b);
    order.forEach(([rate, i], place) => {
      rates[i] = Math.min(rate, left / (order.length - place));
      left -= rates[i];
    });
    return rates;
  }

  private passed(bay: number, mbps: number, writeShare: number, seconds: number): void {
    const bytes = mbps * 1e6 * seconds;
    // Of drives that work as one, each has its part of what was moved.
    const as = bay === 0 && this.rig.layout !== "apart" ? this.bays : [this.bays[bay]!];
    for (const { drive } of as) {
      drive.passed(
        (bytes * (1 - writeShare)) / as.length,
        (bytes * writeShare) / as.length,
        seconds,
      );
    }
  }

  private warm(mbps: number, writeShare: number, seconds: number): void {
    const full = writeShare > 0.5 ? this.way.write.ceiling : this.way.read.ceiling;
    for (const { thermal } of this.way.thermals)
      thermal.passed(full > 0 ? mbps / full : 0, seconds);
  }

  /** What heat leaves of the way. */
  private cool(): number {
    return Math.min(1, ...this.way.thermals.map(({ thermal }) => thermal.share()));
  }

  private bayRate(link: ReturnType<typeof linksOf>[number] | undefined, way: Direction): number {
    // A single drive's link is a stage of the way already.
    if (this.rig.beside.length === 0 || !link?.mode) return Infinity;
    return linkAccount(this.rig, link, link.mode, way).attainable.high;
  }
}

const rounded = (value: number) => Math.round(value * 10) / 10;

const NO_MODEL = PartModel.parse({});
const NO_METER = { mbps: Infinity, iops: Infinity };
