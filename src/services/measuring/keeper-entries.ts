import type {
  Conditions,
  ErrorCount,
  Reading,
  RunEvent,
  RunResult,
  Sample,
  StepResult,
} from "@/core/run/result";
import type { RunStatus } from "@/core/drills/request";
import type { Store } from "@/store/database";
import { updatePlan } from "@/store/plans";
import * as measurementRows from "@/store/measurements";
import * as moments from "@/store/moments";
import * as runs from "@/store/runs";
import { getSetting, putSetting } from "@/store/settings";
import { log } from "../log";

/** What can be changed of a plan. */
export type PlanChange = Parameters<typeof updatePlan>[2];

/** Something of a run that goes on, to be kept in the store. */
export type Entry =
  | { do: "conditions"; id: string; conditions: Conditions }
  | { do: "begin"; id: string; runId: string; repeat: number; at: string }
  | { do: "trace"; runId: string; seq: number; samples: Sample[] }
  | { do: "reading"; runId: string; reading: Reading }
  | { do: "event"; runId: string; event: RunEvent }
  | { do: "step"; runId: string; step: number; result: StepResult }
  | { do: "finish"; runId: string; result: RunResult; errors: ErrorCount[]; at: string }
  | { do: "end"; id: string; status: RunStatus; reason: string | null; at: string }
  | { do: "again"; id: string }
  | { do: "forget"; id: string }
  | { do: "plan"; id: string; change: PlanChange };

/**
 * Stores entries, all of them or none.
 *
 * @param once a name under which it is noted that they were stored: the same file is never stored twice
 */
export function storeAll(store: Store, entries: readonly Entry[], once: string | null): void {
  store.transaction(() => {
    const key = `stored ${once}`;
    if (once !== null && getSetting(store, key) !== null) return;
    for (const entry of entries) {
      try {
        apply(store, entry);
      } catch (error) {
        // One that contradicts what is there must not hold up all others.
        if (!isContradiction(error)) throw error;
        log.error(error, "an entry could not be stored");
      }
    }
    if (once !== null) putSetting(store, key, true);
  });
}

/** Whether an entry does not fit what is stored: its study was removed meanwhile, say. */
export const isContradiction = (error: unknown): boolean =>
  String((error as { code?: string }).code).startsWith("SQLITE_CONSTRAINT");

export function apply(store: Store, entry: Entry): void {
  switch (entry.do) {
    case "conditions":
      return measurementRows.setConditions(store, entry.id, entry.conditions);
    case "begin":
      measurementRows.setStatus(store, entry.id, "running");
      return runs.insertRun(store, {
        id: entry.runId,
        measurementId: entry.id,
        repeat: entry.repeat,
        status: "running",
        startedAt: entry.at,
      });
    case "trace":
      return runs.insertTrace(store, entry.runId, entry.seq, entry.samples);
    case "reading":
      return moments.insertReading(store, entry.runId, entry.reading);
    case "event":
      return moments.insertEvent(store, entry.runId, entry.event);
    case "step":
      return runs.insertStep(store, entry.runId, entry.step, entry.result);
    case "finish":
      return runs.finishRun(store, entry.runId, entry.result, entry.errors, entry.at);
    case "end":
      return measurementRows.endMeasurement(store, entry.id, entry.status, entry.reason, entry.at);
    case "again":
      return runs.emptyRunsOf(store, entry.id);
    case "forget":
      return measurementRows.deleteMeasurement(store, entry.id);
    case "plan":
      return updatePlan(store, entry.id, entry.change);
  }
}
