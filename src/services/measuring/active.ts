import type { Drill } from "@/core/drills/drill";
import { noteAt } from "@/core/run/note";
import type { Sample, StepResult } from "@/core/run/result";
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
}

/**
 * Keeps a note with the run that goes on, at the moment of that.
 *
 * @param agoMs how long ago it was, milliseconds
 * @returns false where no run of it goes on
 */
export function noteIn(
  { run, followers }: Active,
  keeper: Keeper,
  text: string,
  agoMs: number,
): boolean {
  if (!run) return false;
  const { id: runId, at, repeat } = run;
  const ms = at ? at.ms + (performance.now() - at.heard) - agoMs : 0;
  const { event, reading } = noteAt(ms, text);
  keeper.keep({ do: "event", runId, event });
  if (reading) keeper.keep({ do: "reading", runId, reading });
  for (const follower of followers) {
    follower({ event: "happened", repeat, what: event });
    if (reading) follower({ event: "reading", repeat, reading });
  }
  return true;
}
