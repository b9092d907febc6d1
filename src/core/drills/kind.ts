import type { Parameters, TargetFacts, ValuesOf } from "./parameter";
import { ENOUGH_REQUESTS, type StepInput } from "../run/program";
import type { Fit, StepResult } from "../run/result";

/** Which way a drill moves data; mixed does both at once. */
export type DrillDirection = "read" | "write" | "mixed";

/** What a drill shows of the parts it passes, and so which claims it can be held against. */
export type Shows = "peak" | "sustained" | "iops";

/** Which picture its result is. */
export type Picture =
  | "rate"
  | "by block"
  | "by depth"
  | "fill"
  | "position"
  | "copy"
  | "targets"
  | "proof"
  | "steps"
  | "work";

/** The figures a run is known by. */
export interface Headline {
  meanMBps: number;
  iops: number;
}

/**
 * A drill, described as data: engine, store, command line and pages take it from here and know no
 * drill by its name.
 */
export interface DrillKind<P extends Parameters = Parameters> {
  /** On the command line and in files. */
  name: string;
  title: string;
  /** The trade description, always shown beside the title. */
  what: string;
  /** What it is for, and why it is as it is. */
  why: string;
  directions: readonly DrillDirection[];
  /** The way it goes where none is said; left out where it has to be said. */
  usualDirection?: DrillDirection;
  /** How many targets it takes. */
  targets: "one" | "several";
  /** Whether it needs a folder to copy from, and where it lies. */
  source?: boolean;
  /** Whether it needs a recording to do again; without one it has no steps. */
  recorded?: boolean;
  picture: Picture;
  /** Whether its steps are one flow that is interrupted, so that levels are looked for over all of them. */
  goesOn?: boolean;
  shows: readonly Shows[];
  /** The forms of it that a rig's prediction is given for. */
  everyday?: readonly { what: string; set: Readonly<Record<string, unknown>> }[];
  /** How often it is done unless the tester says otherwise. */
  repeats: number;
  parameters: P;
  /** Makes exact what its values leave open until the target is known. */
  complete?(values: ValuesOf<P>, facts: TargetFacts | null): Partial<ValuesOf<P>>;
  /** What the measuring process is to do. */
  program(values: ValuesOf<P> & { direction: DrillDirection }, setting: Setting): StepInput[];
  /** What the run is known by. @param steps those that count, never empty */
  headline(steps: readonly StepResult[]): Headline;
  /** The curve through its steps, where it is a ladder. */
  fit?(steps: readonly StepResult[]): Fit | null;
  /** In a few words what these values are: "512 KiB blocks, 16 in flight". */
  summary(values: ValuesOf<P>): string;
}

/** What a program depends on beside a drill's own values. */
export interface Setting {
  /** How many targets there are. */
  targets: number;
}

/** Keeps the values' types together with the parameters they follow from. */
export const defineDrill = <P extends Parameters>(kind: DrillKind<P>): DrillKind =>
  kind as unknown as DrillKind;

/** The way that is asked for, where a drill goes it; else the first that it goes. */
export const asWay = (
  { directions }: Pick<DrillKind, "directions">,
  asked: DrillDirection,
): DrillDirection => (directions.includes(asked) ? asked : directions[0]!);

/** The share of requests that write. */
export const writeShareOf = (direction: DrillDirection, mixed = 0.5): number =>
  direction === "read" ? 0 : direction === "write" ? 1 : mixed;

/** Everything together: all bytes over all of the time. */
export function together(steps: readonly StepResult[]): Headline {
  const ms = steps.reduce((sum, step) => sum + step.ms, 0);
  const bytes = steps.reduce((sum, step) => sum + step.bytes, 0);
  const requests = steps.reduce((sum, step) => sum + step.requests, 0);
  return ms > 0
    ? { meanMBps: bytes / 1e3 / ms, iops: requests / (ms / 1e3) }
    : { meanMBps: 0, iops: 0 };
}

/** The only step, or the first of several. */
export function first([step]: readonly StepResult[]): Headline {
  return step ? { meanMBps: step.meanMBps, iops: iopsOf(step) } : { meanMBps: 0, iops: 0 };
}

/** The step that got furthest. */
export const fastest = (steps: readonly StepResult[]): Headline =>
  first(steps.toSorted((a, b) => b.meanMBps - a.meanMBps));

/**
 * Finished requests a second. Where the rate's ends were faded, the requests follow the same rate:
 * they are of one size.
 */
export function iopsOf(step: StepResult): number {
  const { requests, bytes, ms, meanMBps, label } = step;
  // Of a step that somebody wrote down nobody counted its requests; its label says their size.
  if (requests === 0 && label.block) return (meanMBps * 1e6) / label.block;
  if (requests === 0 || bytes === 0) return ms > 0 ? requests / (ms / 1e3) : 0;
  return (meanMBps * 1e6) / (bytes / requests);
}

/**
 * How far off a ladder's step may be for want of requests, as a share: one more or one less may fall
 * into the counted time. Null where that is 3 % or less, or nobody counted.
 */
export const unsureBy = ({ label, requests }: StepResult): number | null =>
  (label.block === undefined && label.depth === undefined) ||
  requests === 0 ||
  requests >= ENOUGH_REQUESTS
    ? null
    : 1 / requests;
