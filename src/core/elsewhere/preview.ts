import type { Reading, Sample } from "../run/result";
import type { Grid } from "./grid";
import type { LogColumn } from "./log";
import type { LogClock, LogProblem } from "./log-rows";

/** What becomes of a row of a grid: a rig of the study, one to be made, or nothing that is known. */
export type RowPlan =
  | { kind: "rig"; rigId: string; name: string }
  | {
      kind: "make";
      name: string;
      /** Each on the shelf, or to be made like another of its kind. */
      parts: { name: string; partId: string | null; like: string | null }[];
    }
  | { kind: "unknown"; why: string };

/** A grid with what would become of it. */
export interface GridPreview extends Grid {
  plans: RowPlan[];
}

/** The columns of a log, and what makes no sense in it. */
export interface LogColumns {
  columns: LogColumn[];
  shape: string;
  /** Its first lines. */
  head: string[][];
  lines: number;
  /** The first of them, and how many there are. */
  problems: LogProblem[];
  problemCount: number;
}

/** A log's temperatures as they would lie over a run. */
export interface WarmthPreview extends LogColumns {
  clock: LogClock;
  /** Readings within the time of the run, and all that it has. */
  within: number;
  all: number;
  /** The first and the last moment of the log, seconds after the run's first counted one. */
  span: { from: number; to: number } | null;
  /** What would be laid over it, thinned to what a picture shows. */
  readings: Reading[];
}

/** A log with what would become of it. */
export interface LogPreview extends LogColumns {
  bytes: number;
  written: number;
  ms: number;
  wraps: number;
  /** Lines that told the same time as others, and were spread until the next one. */
  spread: number;
  /** Whether no column tells the time, so that each line counts as a second. */
  untimed: boolean;
  /** Thinned to what a picture shows. */
  samples: Sample[];
}
