import * as z from "zod";
import { FillLevel } from "../ballast/ballast";
import { DrillDirectionSchema, type Drill } from "../drills/drill";
import { Stated, UNSAID } from "../run/stated";
import { placeOnAnyHost } from "../units/place";
import { line } from "../units/text";

/** Rigs x drills x directions x repeats, worked through in an order, with hands where parts are swapped. */

export const PlanOrder = z.enum(["usual", "alternate", "few swaps"]);
export type PlanOrder = z.infer<typeof PlanOrder>;

/** A drill as it is asked for; what is left out of it is as usual. */
const AskedDrill = z.looseObject({ name: z.string(), direction: DrillDirectionSchema });

const seconds = z
  .number({ error: "must be a number of seconds" })
  .nonnegative("must not be negative")
  .max(86_400, "at most a day");

/** More than a week of runs of a few minutes each. */
const MOST_RUNS = 2000;

/** What is done on every rig of a plan, and how. */
export const PlanFields = {
  title: line(80).default(""),
  drills: z.array(AskedDrill).min(1, "a plan needs a drill").max(30, "at most 30 drills"),
  repeats: z
    .number({ error: "must be a number" })
    .int("must be a whole number")
    .min(1, "must be at least 1")
    .max(50, "must be at most 50")
    .default(3),
  order: PlanOrder.default("usual"),
  /** Runs before the first that counts, of each drill after each change of rig. */
  warmUps: z.number().int().min(0).max(5, "at most five").default(0),
  /** Idleness before the first run. */
  idleSeconds: seconds.default(0),
  /** Idleness before each further run, and how cool the drive has to be, where that can be read. */
  coolSeconds: seconds.default(0),
  coolBelow: z.number().min(0).max(100, "at most 100 °C").nullable().default(null),
  /** Fill levels at which every drill is done, by ballast, which is removed at the end; empty: as the drive is. */
  fillLevels: z.array(FillLevel).max(20, "at most 20 levels").default([]),
  /** Further repeats are left out once the 95 % interval is so narrow, as a share of the mean. */
  narrowEnough: z.number().positive().max(1, "at most 100 %").nullable().default(null),
  reserve: z.number().int().nonnegative().nullable().default(null),
  besideOwnData: z.boolean().default(false),
  stated: Stated.default(UNSAID),
};

/** What a tester asks for. */
export const PlanRequest = z
  .object({
    ...PlanFields,
    /** Each rig with the place where it is measured. */
    rigs: z
      .array(
        z.object({ rigId: z.string(), target: placeOnAnyHost("name where the rig is measured") }),
      )
      .min(1, "a plan needs a rig")
      .max(50, "at most 50 rigs"),
  })
  .superRefine(({ rigs, drills, repeats, warmUps, fillLevels }, context) => {
    const ids = rigs.map(({ rigId }) => rigId);
    if (new Set(ids).size < ids.length) {
      context.addIssue({ code: "custom", path: ["rigs"], message: "names the same rig twice" });
    }
    if (new Set(fillLevels).size < fillLevels.length) {
      const message = "names the same level twice";
      context.addIssue({ code: "custom", path: ["fillLevels"], message });
    }
    const levels = Math.max(1, fillLevels.length);
    const runs = rigs.length * levels * drills.length * (repeats + warmUps);
    if (runs > MOST_RUNS) {
      const message = `comes to ${runs} runs; at most ${MOST_RUNS} in one plan`;
      context.addIssue({ code: "custom", path: ["repeats"], message });
    }
  });
export type PlanRequest = z.infer<typeof PlanRequest>;

/**
 * What is worked through: as asked, with every drill exactly as it will be done. Where there are fill
 * levels, each drill stands once for each of them, level after level.
 */
export type Plan = Omit<PlanRequest, "drills" | "fillLevels"> & {
  drills: Drill[];
  /** Left out in plans from before there was ballast. */
  fillLevels?: number[];
};

/** The fill level at which a drill of a plan is done; null: as the drive is. @param drill its place in the list */
export function levelOf({ drills, fillLevels = [] }: Plan, drill: number): number | null {
  if (fillLevels.length === 0) return null;
  return fillLevels[Math.floor((drill * fillLevels.length) / drills.length)]!;
}

export type StepState = "waiting" | "running" | "done" | "skipped" | "failed" | "not needed";

/** One run of a plan. */
export interface PlanStep {
  id: string;
  rigId: string;
  /** Place in the plan's list of drills. */
  drill: number;
  /** Counted from 0 among the runs that count; of a warm-up, among those. */
  repeat: number;
  warmUp: boolean;
  state: StepState;
  measurementId: string | null;
  /** Why it failed, was skipped or is not needed. */
  note: string | null;
}

/** What a plan does now, or waits for. */
export type PlanState =
  | { kind: "running"; stepId: string; measurementId: string }
  | { kind: "resting"; until: string; why: string }
  | { kind: "cooling"; celsius: number; below: number }
  /** Ballast is written or removed: the level, and how far that is, bytes. */
  | { kind: "filling"; level: number; bytes: number; total: number }
  /** Parts have to be swapped. */
  | {
      kind: "hands";
      rigId: string;
      words: string;
      differs: string[];
      /** What changes at once, each with its minutes; left out where it is one thing. */
      atOnce?: { what: string; minutes: number }[];
    }
  | { kind: "looking" }
  | { kind: "paused"; why: string | null }
  | ({ kind: "done" } & Left)
  | ({ kind: "aborted" } & Left);

/** What a plan that is over could not clear away, in words; left out where it left nothing. */
interface Left {
  left?: string;
}

/** Whether nothing will happen any more. */
export const isOver = ({ kind }: PlanState): boolean => kind === "done" || kind === "aborted";

/** Moves a step that has not begun to before another that has not; others stay as they are. */
export function moveStep(
  steps: readonly PlanStep[],
  id: string,
  before: string | null,
): PlanStep[] {
  const step = steps.find((one) => one.id === id);
  if (!step || step.state !== "waiting" || id === before) return [...steps];
  const others = steps.filter((one) => one.id !== id);
  const firstWaiting = others.findIndex(({ state }) => state === "waiting");
  const wanted = before === null ? -1 : others.findIndex((one) => one.id === before);
  const at = wanted < 0 ? others.length : Math.max(wanted, firstWaiting);
  return others.toSpliced(at, 0, step);
}
