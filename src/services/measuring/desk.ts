import { randomUUID } from "node:crypto";
import type { Rig } from "@/core/chain/rig";
import type { MeasureRequest, RunStatus } from "@/core/drills/request";
import type { Drill } from "@/core/drills/drill";
import { worksOf } from "@/core/drills/kinds/encore";
import { resultFrom } from "@/core/drills/summary";
import { BETWEEN_TARGETS } from "@/core/study/measurement";
import type { EngineEvent, Job } from "@/core/run/protocol";
import type { MeasurementEvent } from "@/core/study/measurement-event";
import type { Store } from "@/store/database";
import * as measurementRows from "@/store/measurements";
import { startEngine, type EngineEnd } from "./engine-process";
import { noteIn, type Active } from "./active";
import { Keeper } from "./keeper";
import { clearLeftovers, type CutOff } from "./leftovers";
import { log } from "../log";
import type { Order } from "./order";
import { isStoreFault, Problem, storeProblem } from "../problem";

/** Samples of a second are stored together: a crash loses at most those. */
const TOGETHER_MS = 1000;

/**
 * The desk that runs measurements: starts a measuring process for each, stores what it reports as
 * it arrives, and tells whoever follows.
 */
export class Desk {
  private readonly active = new Map<string, Active>();
  private closing = false;
  /** Keeps what runs bring, also where the store cannot be written for a while. */
  readonly keeper: Keeper;

  constructor(
    private readonly store: Store,
    private readonly ownFolder: string,
    private readonly version: string,
    private readonly engineFile?: string,
    private readonly fileWith: (sha256: string) => string | null = () => null,
  ) {
    this.keeper = new Keeper(store, ownFolder);
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
    { drill, targets, program }: Order,
    request: Pick<MeasureRequest, "io" | "reserve" | "besideOwnData" | "stated">,
    warmUp = false,
  ): Promise<string> {
    if (this.closing) throw new Problem(409, "Nerrit is shutting down.");
    const id = randomUUID();
    const job: Job = {
      targets,
      program,
      repeats: drill.repeats,
      io: request.io,
      reserve: request.reserve,
      keepOff: request.besideOwnData ? null : this.ownFolder,
      nerrit: this.version,
      recordings: this.recordingsOf(drill),
    };

    const target = targets.join(BETWEEN_TARGETS);
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
    const active: Active = {
      engine: startEngine(job, (event) => this.hear(id, event, accept), this.engineFile),
      drill,
      target,
      followers: new Set(),
      run: null,
    };
    this.active.set(id, active);
    const refused = active.engine.ended.then((end) => {
      this.close(id, end);
      return end;
    });
    const first = await Promise.race([accepted, refused]);
    if (first && first.kind === "refused") {
      throw new Problem(422, first.reason, [], first.code);
    }
    return id;
  }

  /** Where the recordings lie that a drill does again. @throws Problem where one is not here */
  private recordingsOf(drill: Drill): Record<string, string> {
    return Object.fromEntries(
      worksOf(drill).map(({ sha256, name }) => {
        const file = this.fileWith(sha256);
        if (file) return [sha256, file];
        throw new Problem(
          422,
          `The recording “${name}” is not here: it was deleted, or made elsewhere. Add its file, or choose another one.`,
        );
      }),
    );
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
    switch (event.event) {
      case "conditions":
        this.keeper.keep({ do: "conditions", id, conditions: event.conditions });
        accept();
        break;
      case "started":
        active.run = {
          id: randomUUID(),
          repeat: event.repeat,
          steps: [],
          pending: [],
          seq: 0,
          at: null,
        };
        this.keeper.keep({
          do: "begin",
          id,
          runId: active.run.id,
          repeat: event.repeat,
          at: event.at,
        });
        break;
      case "sample": {
        const { event: _, repeat: _repeat, ...sample } = event;
        const [first] = active.run!.pending;
        active.run!.pending.push(sample);
        active.run!.at = { ms: sample.from + sample.ms, heard: performance.now() };
        if (first && sample.ms - first.from >= TOGETHER_MS) this.storeTrace(active);
        break;
      }
      case "reading":
        if (active.run)
          this.keeper.keep({ do: "reading", runId: active.run.id, reading: event.reading });
        break;
      case "happened":
        if (active.run) this.keeper.keep({ do: "event", runId: active.run.id, event: event.what });
        break;
      case "stepped":
        this.storeTrace(active);
        this.keeper.keep({
          do: "step",
          runId: active.run!.id,
          step: event.step,
          result: event.result,
        });
        active.run!.steps.push(event.result);
        break;
      case "finished": {
        const { id: runId, steps } = active.run!;
        this.keeper.keep({
          do: "finish",
          runId,
          result: resultFrom(active.drill, steps),
          errors: event.errors,
          at: now(),
        });
        break;
      }
    }
    for (const follower of active.followers) follower(event);
  }

  private storeTrace({ run }: Active): void {
    if (!run) return;
    if (run.pending.length === 0) return;
    this.keeper.keep({ do: "trace", runId: run.id, seq: run.seq, samples: run.pending });
    run.seq += 1;
    run.pending = [];
  }

  private close(id: string, end: EngineEnd): void {
    const active = this.active.get(id);
    if (active) this.storeTrace(active);
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
    return () => active.followers.delete(follower);
  }

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
   * interrupted, and removes what that left on the drives.
   */
  recover(): void {
    this.keeper.recover();
    const cutOff: CutOff[] = [];
    for (const { id, target } of measurementRows.unfinishedMeasurements(this.store)) {
      if (this.active.has(id)) continue;
      const end = { reason: "Nerrit's server ended during the run.", at: now() };
      this.keeper.keep({ do: "end", id, status: "interrupted", ...end });
      cutOff.push({ id, target, ...end });
    }
    this.clear(cutOff);
  }

  private clear(cutOff: readonly CutOff[]): void {
    clearLeftovers(cutOff, this.keeper, this.engineFile).catch((error: unknown) =>
      log.error(error, "what a run had left could not be removed"),
    );
  }

  /** Stops everything that is under way and waits for it; nothing can begin afterwards. */
  async shutDown(): Promise<void> {
    this.closing = true;
    const ends = [...this.active.values()].map(({ engine }) => {
      engine.stop();
      return engine.ended;
    });
    await Promise.all(ends);
    this.keeper.close();
  }
}

const now = () => new Date().toISOString();
