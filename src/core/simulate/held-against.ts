import type { DrillDirection } from "../drills/kind";
import type { RunEvent, Sample, StepResult } from "../run/result";
import type { Origin } from "../study/measurement";
import type { Stretch, StepDifference } from "./differ";
import type { Assumed } from "./drive";
import type { Fault } from "./model";

/** What one side of a comparison gave. Samples are thinned to what a picture shows. */
export interface Side {
  meanMBps: number;
  iops: number;
  bytes: number;
  ms: number;
  /** How long recorded work waited for the drive; null of any other drill. */
  waitedMs: number | null;
  burstMBps: number;
  sustainedMBps: number;
  edgeBytes: number | null;
  /** Pages that did not hold what was written to them. */
  faults: number;
  steps: { label: StepResult["label"]; mbps: number }[];
  samples: Sample[];
}

/** What the run is called that a simulated one is held against. */
export const keptName = (origin: Origin): string =>
  origin === "simulated" ? "simulated before" : origin;

/** A simulated run, held against a measured one where there is one. */
export interface HeldAgainst {
  drill: { title: string; direction: DrillDirection; summary: string };
  simulated: Side;
  measured: (Side & { id: string; origin: Origin }) | null;
  /** Where the two are not the same, over time or step by step. */
  stretches: Stretch[];
  steps: StepDifference[];
  hottest: { part: string; celsius: number } | null;
  events: RunEvent[];
  assumed: Assumed[];
  faults: Fault[];
}
