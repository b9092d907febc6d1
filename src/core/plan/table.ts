import { bottleneckOf } from "../chain/bottleneck";
import { designed } from "../chain/designed";
import type { Rig } from "../chain/rig";
import { kindOf } from "../drills/drill";
import type { BriefResult } from "../run/brief";
import { summarise } from "../stats/repeats";
import { countedLess } from "../study/measurement";
import type { Plan, PlanStep } from "./plan";

/** How far one rig is in one drill of a plan, and what it gave so far. */
export interface PlanCell {
  /** Runs that count: done, and altogether. */
  done: number;
  of: number;
  isRunning: boolean;
  failed: number;
  /** Median of those done: MB/s, or requests a second where those are counted; null before the first. */
  median: number | null;
  counted: boolean;
  /** Of the rig's ceiling, 0 to 1; null where the ledger foresees no rate. */
  share: number | null;
  /** Relative spread of the repeats; null of a single one. */
  spread: number | null;
  /** Whether memory may have answered: the kernel counted less than was moved, or no link carries as much. */
  doubtful: boolean;
  /** The latest of its measurements. */
  measurementId: string | null;
}

/** A plan as a table, rigs by drills, with what its runs were warned of. */
export interface PlanTable {
  /** In the order of the plan; a cell for each of its drills. */
  rows: { rigId: string; cells: PlanCell[] }[];
  /** What was said of runs, each text once, with the number of runs and their rigs. */
  notes: { text: string; runs: number; rigIds: string[] }[];
}

/**
 * A plan's runs as a table.
 *
 * @param resultsOf what a measurement gave, as far as it counts
 */
export function planTable(
  { rigs: planned, drills }: Pick<Plan, "rigs" | "drills">,
  steps: readonly PlanStep[],
  rigs: readonly Rig[],
  resultsOf: (measurementId: string) => readonly BriefResult[],
): PlanTable {
  return {
    rows: planned.map(({ rigId }) => ({
      rigId,
      cells: drills.map((drill, at) => {
        const own = steps.filter(
          (step) => step.rigId === rigId && step.drill === at && !step.warmUp,
        );
        const rig = rigs.find(({ id }) => id === rigId) ?? null;
        return cellOf(own, drill, rig, resultsOf);
      }),
    })),
    notes: notesOf(steps),
  };
}

/** States in which a run will give nothing. */
const WITHOUT: readonly PlanStep["state"][] = ["skipped", "not needed"];

function cellOf(
  steps: readonly PlanStep[],
  drill: Plan["drills"][number],
  rig: Rig | null,
  resultsOf: (measurementId: string) => readonly BriefResult[],
): PlanCell {
  const done = steps.filter(({ state }) => state === "done");
  const ids = done.flatMap(({ measurementId }) => measurementId ?? []);
  const results = ids.flatMap((id) => [...resultsOf(id)]);
  const counted = kindOf(drill).shows.includes("iops");
  const rates = results.length > 0 ? summarise(results.map(({ meanMBps }) => meanMBps)) : null;
  const foresees = rig && !counted && drill.direction !== "mixed";
  const ceiling = foresees
    ? (bottleneckOf(designed(rig), drill.direction as "read" | "write")?.ceiling ?? null)
    : null;
  return {
    done: done.length,
    of: steps.filter(({ state }) => !WITHOUT.includes(state)).length,
    isRunning: steps.some(({ state }) => state === "running"),
    failed: steps.filter(({ state }) => state === "failed").length,
    counted,
    median: rates && (counted ? summarise(results.map(({ iops }) => iops)).median : rates.median),
    share: rates && ceiling ? rates.median / ceiling : null,
    spread: rates && rates.n > 1 ? rates.spread : null,
    doubtful:
      countedLess(results) || (rates !== null && ceiling !== null && rates.median > ceiling),
    measurementId: ids.at(-1) ?? null,
  };
}

const BETWEEN_SENTENCES = /(?<=[.!?]) +(?=[A-Z])/;

function notesOf(steps: readonly PlanStep[]): PlanTable["notes"] {
  const found = new Map<string, PlanTable["notes"][number]>();
  for (const { note, rigId } of steps) {
    for (const text of note?.split(BETWEEN_SENTENCES) ?? []) {
      // The same was said where it differs in its figures alone: "busy for 92 % of 1 s".
      const key = text.replace(/\d[\d.,]*/g, "#");
      const known = found.get(key) ?? { text, runs: 0, rigIds: [] };
      known.runs += 1;
      if (!known.rigIds.includes(rigId)) known.rigIds.push(rigId);
      found.set(key, known);
    }
  }
  return [...found.values()].toSorted((a, b) => b.runs - a.runs);
}
