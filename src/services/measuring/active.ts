import { randomUUID } from "node:crypto";
import type { Drill } from "@/core/drills/drill";
import { resultFrom } from "@/core/drills/summary";
import { noteAt } from "@/core/run/note";
import type { EngineEvent } from "@/core/run/protocol";
import type { Reading, RunEvent, Sample, StepResult } from "@/core/run/result";
import type { Touch } from "@/core/run/touch";
import type { MeasurementEvent } from "@/core/study/measurement-event";
import type { EngineProcess } from "./engine-process";
import type { Keeper } from "./keeper";

/** A measurement that is under way. */
export interface Active {
  engine: EngineProcess;
  drill: Drill;
  /** As it is stored: several stand apart by BETWEEN_TARGETS. */
  target: string;
  followers: Set<(event: MeasurementEvent) => void>;
  run: {
    id: string;
    repeat: number;
    steps: StepResult[];
    pending: Sample[];
    seq: number;
    /** Where the last sample ended, and when that was heard of. */
    at: { ms: number; heard: number } | null;
  } | null;
  /** Runs that are there already and are told anew, by their repeat. */
  known: ReadonlyMap<number, string>;
  /** How the line to its host stands; null of this machine, and where that was never cut. */
  touch: Touch | null;
  /** Its hosts that are out of touch now. */
  out: Map<string, Touch>;
  /** What was said of its far host before a run of it began. */
  saidOfFar?: string | null;
}

/** Samples of a second are stored together: a crash loses at most those. */
const TOGETHER_MS = 1000;

/** Keeps what a measuring process tells of a measurement. */
export function keepEvent(id: string, active: Active, event: EngineEvent, keeper: Keeper): void {
  const { run } = active;
  switch (event.event) {
    case "conditions":
      return keeper.keep({ do: "conditions", id, conditions: event.conditions });
    case "started": {
      const { repeat, at } = event;
      const runId = active.known.get(repeat) ?? randomUUID();
      active.run = { id: runId, repeat, steps: [], pending: [], seq: 0, at: null };
      keeper.keep({ do: "begin", id, runId, repeat, at });
      if (active.saidOfFar) keepMoment(active, keeper, noted(0, active.saidOfFar));
      active.saidOfFar = null;
      return;
    }
    case "sample": {
      const { event: _, repeat: _repeat, ...sample } = event;
      const [first] = run!.pending;
      run!.pending.push(sample);
      run!.at = { ms: sample.from + sample.ms, heard: performance.now() };
      if (first && sample.ms - first.from >= TOGETHER_MS) storeTrace(active, keeper);
      return;
    }
    case "reading":
      if (run) keeper.keep({ do: "reading", runId: run.id, reading: event.reading });
      return;
    case "happened":
      if (run) keeper.keep({ do: "event", runId: run.id, event: event.what });
      return;
    case "stepped": {
      storeTrace(active, keeper);
      const { step, result } = event;
      run!.steps.push(result);
      return keeper.keep({ do: "step", runId: run!.id, step, result });
    }
    case "finished": {
      const result = resultFrom(active.drill, run!.steps);
      const at = new Date().toISOString();
      return keeper.keep({ do: "finish", runId: run!.id, result, errors: event.errors, at });
    }
  }
}

/** Stores the samples that wait to be stored together. */
export function storeTrace({ run }: Active, keeper: Keeper): void {
  if (!run || run.pending.length === 0) return;
  keeper.keep({ do: "trace", runId: run.id, seq: run.seq, samples: run.pending });
  run.seq += 1;
  run.pending = [];
}

/** The moment of a run that is now, milliseconds after its first counted one; 0 before that. */
export function momentNow({ at }: NonNullable<Active["run"]>): number {
  return at ? at.ms + (performance.now() - at.heard) : 0;
}

/** Something that the engine did not see itself, as an event. */
export const noted = (ms: number, text: string): RunEvent => ({
  ms,
  kind: "note",
  text,
  from: null,
});

/** Keeps an event with the run that goes on, and tells whoever follows. */
export function keepMoment({ run, followers }: Active, keeper: Keeper, event: RunEvent): void {
  keeper.keep({ do: "event", runId: run!.id, event });
  for (const follower of followers)
    follower({ event: "happened", repeat: run!.repeat, what: event });
}

/** The same of a reading. */
export function keepReading({ run, followers }: Active, keeper: Keeper, reading: Reading): void {
  keeper.keep({ do: "reading", runId: run!.id, reading });
  for (const follower of followers) follower({ event: "reading", repeat: run!.repeat, reading });
}

/**
 * Keeps a note with the run that goes on, at the moment of that.
 *
 * @param agoMs how long ago it was, milliseconds
 * @returns false where no run of it goes on
 */
export function noteIn(active: Active, keeper: Keeper, text: string, agoMs: number): boolean {
  const { run } = active;
  if (!run) return false;
  const ms = run.at ? momentNow(run) - agoMs : 0;
  const { event, reading } = noteAt(ms, text);
  keepMoment(active, keeper, event);
  if (reading) keepReading(active, keeper, reading);
  return true;
}
