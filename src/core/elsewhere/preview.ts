import type { Sample } from "../run/result";
import type { Grid } from "./grid";
import type { LogColumn } from "./log";
import type { LogProblem } from "./log-trace";

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

/** A log with what would become of it. */
export interface LogPreview {
  columns: LogColumn[];
  shape: string;
  /** Its first lines. */
  head: string[][];
  lines: number;
  bytes: number;
  written: number;
  ms: number;
  wraps: number;
  /** Lines that told the same time as others, and were spread until the next one. */
  spread: number;
  /** Whether no column tells the time, so that each line counts as a second. */
  untimed: boolean;
  /** The first of them, and how many there are. */
  problems: LogProblem[];
  problemCount: number;
  /** Thinned to what a picture shows. */
  samples: Sample[];
}
