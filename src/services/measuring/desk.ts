import { randomUUID } from "node:crypto";
import type { Rig } from "@/core/chain/rig";
import type { MeasureRequest, RunStatus } from "@/core/drills/request";
import { hostsOf } from "@/core/joint/parts";
import { BETWEEN_TARGETS, targetsOf } from "@/core/study/measurement";
import type { EngineEvent, Job, Sweep } from "@/core/run/protocol";
import { placeFrom, placeText } from "@/core/units/place";
import type { MeasurementEvent } from "@/core/study/measurement-event";
import type { Store } from "@/store/database";
import * as measurementRows from "@/store/measurements";
import { runsOfMeasurements } from "@/store/runs";
import type { HostRun } from "../hosts/engine-on";
import { notKnown } from "../hosts/machines";
import type { EngineEnd, EngineProcess } from "./engine-process";
import { keepEvent, noteIn, storeTrace, type Active } from "./active";
import { followFarSide } from "./far-side";
import { Keeper } from "./keeper";
import { clearLeftovers, type CutOff } from "./leftovers";
import { log } from "../log";
import type { Order } from "./order";
import type { Reach } from "./reach";
import { recordingsFor } from "./recordings-for";
import { endRunOn, startOn, startRun, type Starting } from "./starting";
import { isStoreFault, Problem, storeProblem } from "../problem";

/**
 * The desk that runs measurements: starts a measuring process for each, stores what it reports as
 * it arrives, and tells whoever follows.
 */
export class Desk {
  private readonly active = new Map<string, Active>();
  private closing = false;
  private readonly starting: Starting;
  /** Keeps what runs bring, also where the store cannot be written for a while. */
  readonly keeper: Keeper;

  constructor(
    private readonly store: Store,
    private readonly ownFolder: string,
    private readonly version: string,
    engineFile?: string,
    private readonly reach: Reach = {},
  ) {
    this.keeper = new Keeper(store, ownFolder);
    this.starting = { engineFile, onHost: (...asked) => this.startOn(...asked) };
  }

  /**
   * Begins a measurement and waits until the measuring process has accepted it.
   *
   * @returns its id
   * @throws Problem with the process's plain reason where it refuses; nothing is stored then
   */
  async begin(
    studyId: string,
    rig: Rig,
    { drill, places, program }: Order,
    request: Pick<MeasureRequest, "io" | "reserve" | "besideOwnData" | "stated">,
    warmUp = false,
  ): Promise<string> {
    if (this.closing) throw new Problem(409, "Nerrit is shutting down.");
    this.reach.assertFree?.();
    const id = randomUUID();
    const job: Job = {
      targets: places.map(({ path }) => path),
      program,
      repeats: drill.repeats,
      io: request.io,
      reserve: request.reserve,
      keepOff: request.besideOwnData ? null : this.ownFolder,
      nerrit: this.version,
      recordings: recordingsFor(drill, this.reach.fileWith),
    };

    const target = places.map(placeText).join(BETWEEN_TARGETS);
    // The row is there before anything is written to a drive: what is under way can be seen and stopped.
    this.insert({
      id,
      studyId,
      rigId: rig.id,
      drill,
      target,
      status: "preparing",
      rig,
      warmUp,
      stated: request.stated,
      createdAt: now(),
    });
    let accept!: () => void;
    const accepted = new Promise<void>((resolve) => (accept = resolve));
    const tell = (event: EngineEvent) => this.hear(id, event, accept);
    const engine = startRun(id, job, places, tell, this.starting);
    const first = await Promise.race([accepted, this.watch(id, { engine, drill, target }, rig)]);
    if (first && first.kind === "refused") {
      throw new Problem(422, first.reason, [], first.code);
    }
    return id;
  }

  /** Waits for the end of a measuring process that is under way now. @returns how it ended */
  private async watch(
    id: string,
    under: Pick<Active, "engine" | "drill" | "target"> & Partial<Pick<Active, "known">>,
    { farHost = "" }: Partial<Pick<Rig, "farHost">>,
  ): Promise<EngineEnd> {
    const { engine } = under;
    const followers: Active["followers"] = new Set();
    const active: Active = {
      known: new Map(),
      ...under,
      followers,
      run: null,
      touch: null,
      out: new Map(),
    };
    this.active.set(id, active);
    const { followFar } = this.reach;
    const leaveFar =
      farHost && followFar ? followFarSide(active, this.keeper, farHost, followFar) : null;
    const end = await engine.ended;
    leaveFar?.();
    this.close(id, end);
    return end;
  }

  /** Starts a run on a host, or finds it again there. */
  private startOn(host: string, run: HostRun, tell: (event: EngineEvent) => void): EngineProcess {
    const { startOn } = this.reach;
    if (!startOn) throw notKnown(host);
    return startOn(host, run, tell, (touch) => {
      const active = this.active.get(run.id);
      if (!active) return;
      if (touch.outSince) active.out.set(touch.host, touch);
      else active.out.delete(touch.host);
      // Of a run on several hosts one that is out of touch stands for all.
      const shown = [...active.out.values()].at(-1) ?? touch;
      active.touch = shown;
      for (const follower of active.followers) follower({ event: "touch", ...shown });
    });
  }

  /** @throws Problem where the store cannot be written: then nothing begins */
  private insert(row: Parameters<typeof measurementRows.insertMeasurement>[1]): void {
    try {
      measurementRows.insertMeasurement(this.store, row);
    } catch (error) {
      if (!isStoreFault(error)) throw error;
      this.keeper.failed(error);
      throw storeProblem(error);
    }
  }

  private hear(id: string, event: EngineEvent, accept: () => void): void {
    const active = this.active.get(id);
    if (!active) return;
    keepEvent(id, active, event, this.keeper);
    if (event.event === "conditions") accept();
    for (const follower of active.followers) follower(event);
  }

  private close(id: string, end: EngineEnd): void {
    const active = this.active.get(id);
    if (active) storeTrace(active, this.keeper);
    this.active.delete(id);
    if (end.kind === "refused") {
      this.keeper.keep({ do: "forget", id });
    } else {
      const status = this.closing && end.kind === "stopped" ? "interrupted" : end.kind;
      const reason =
        "reason" in end
          ? end.reason
          : status === "interrupted"
            ? "Nerrit was ended during the run."
            : null;
      const at = now();
      this.keeper.keep({ do: "end", id, status, reason, at });
      if (end.kind === "interrupted" && active)
        this.clear([{ id, target: active.target, reason: end.reason, at }]);
      log[status === "failed" || status === "interrupted" ? "warn" : "info"]({
        id,
        status,
        reason,
      });
      for (const follower of active?.followers ?? []) follower({ event: "ended", status, reason });
    }
  }

  /**
   * Keeps what a tester notes with the run that goes on, at the moment of that.
   *
   * @param agoMs how long ago it was, milliseconds
   * @returns false where no run of it goes on
   */
  note(id: string, text: string, agoMs: number): boolean {
    const active = this.active.get(id);
    return active !== undefined && noteIn(active, this.keeper, text, agoMs);
  }

  /** Asks a measurement to stop; its samples stay. @returns false if it is not under way */
  stop(id: string): boolean {
    const active = this.active.get(id);
    active?.engine.stop();
    return active !== undefined;
  }

  /**
   * Follows a measurement that is under way.
   *
   * @returns ends the following; null if it is not under way
   */
  follow(id: string, follower: (event: MeasurementEvent) => void): (() => void) | null {
    const active = this.active.get(id);
    if (!active) return null;
    active.followers.add(follower);
    if (active.touch?.outSince) follower({ event: "touch", ...active.touch });
    return () => active.followers.delete(follower);
  }

  /** Whether a measurement goes on now. */
  isUnderWay = (id: string): boolean => this.active.has(id);

  /** Waits for the end of a measurement. @returns how it ended */
  ended(id: string): Promise<{ status: RunStatus; reason: string | null }> {
    return new Promise((resolve) => {
      const leave = this.follow(id, (event) => {
        if (event.event === "ended") resolve(event);
      });
      if (leave) return;
      const waiting = this.keeper.endOf(id);
      if (waiting) return resolve(waiting);
      const row = measurementRows.getMeasurement(this.store, id);
      resolve({ status: row?.status ?? "refused", reason: row?.reason ?? null });
    });
  }

  /**
   * Takes in what an earlier process could not store, marks what was under way when it died as
   * interrupted, and removes what that left on the drives. A run on a host outlives this process: it is found again.
   */
  recover(): void {
    this.keeper.recover();
    const cutOff: CutOff[] = [];
    const ending: Promise<unknown>[] = [];
    for (const row of measurementRows.unfinishedMeasurements(this.store)) {
      const { id, target } = row;
      if (this.active.has(id)) continue;
      const hosts = hostsOf(targetsOf({ target }).map(placeFrom));
      const [host] = hosts;
      if (host && hosts.length === 1 && this.reach.startOn) {
        this.findAgain(host, row);
        continue;
      }
      for (const one of hosts) if (one) ending.push(endRunOn(one, id, this.starting));
      const end = { reason: "Nerrit's server ended during the run.", at: now() };
      this.keeper.keep({ do: "end", id, status: "interrupted", ...end });
      cutOff.push({ id, target, ...end });
    }
    void Promise.all(ending).then(() => this.clear(cutOff));
  }

  /** Everything that the run told comes again, in place of what is stored of it. */
  private findAgain(host: string, row: measurementRows.MeasurementRow): void {
    const { id, target, drill, rig } = row;
    let isFound = false;
    const engine = this.startOn(host, { id, job: null }, (event) => {
      if (!isFound) this.keeper.keep({ do: "again", id });
      isFound = true;
      this.hear(id, event, () => undefined);
    });
    const known = new Map(runsOfMeasurements(this.store, [id]).map((run) => [run.repeat, run.id]));
    void this.watch(id, { engine, drill, target, known }, rig);
  }

  private clear(cutOff: readonly CutOff[]): void {
    const sweep = (host: string | null, job: Sweep, tell: (event: EngineEvent) => void) =>
      startOn(host, { id: randomUUID(), job }, tell, this.starting);
    clearLeftovers(cutOff, this.keeper, sweep).catch((error: unknown) =>
      log.error(error, "what a run had left could not be removed"),
    );
  }

  /**
   * Stops everything that is under way and waits for it; nothing can begin afterwards. A run on a host that is out
   * of touch cannot be told: it goes on, and the next process finds it.
   */
  async shutDown(): Promise<void> {
    this.closing = true;
    const inTouch = [...this.active.values()].filter(({ touch }) => !touch?.outSince);
    const ends = inTouch.map(({ engine }) => {
      engine.stop();
      return engine.ended;
    });
    await Promise.all(ends);
    this.keeper.close();
  }
}

const now = () => new Date().toISOString();
