import * as z from "zod";
import { RunResult, StepResult, type CopyResult } from "./result";

/** The rates of a run's first step. */
export const FirstStep = StepResult.pick({
  meanMBps: true,
  burstMBps: true,
  sustainedMBps: true,
  edgeBytes: true,
  interrupted: true,
});
export type FirstStep = z.infer<typeof FirstStep>;

/**
 * A result in brief: its figures, the rates of its first step, and where a copy waited. A study of
 * thousands of runs is read by these; its steps are read with the run itself.
 */
export const BriefResult = RunResult.omit({ steps: true }).extend({
  /** Null where it came to no step. */
  first: FirstStep.nullable(),
  /** Time that each side of a copy stood still for the other, milliseconds; null for what is no copy. */
  waited: z.object({ fromMs: z.number().nonnegative(), toMs: z.number().nonnegative() }).nullable(),
  /** How long recorded work waited for the drive as it was done again; left out where nothing was. */
  replayWaitedMs: z.number().nonnegative().optional(),
  /** What each fill after a rest took up to the end of the cache; left out where nothing rested. */
  rested: z
    .array(
      z.object({
        restSeconds: z.number().nonnegative(),
        bytes: z.number().nonnegative(),
        /** Null where the fill met no edge. */
        edgeBytes: z.number().nonnegative().nullable(),
      }),
    )
    .optional(),
});
export type BriefResult = z.infer<typeof BriefResult>;

/** A result in brief. */
export function briefOf({ steps, ...figures }: RunResult): BriefResult {
  const [first] = steps;
  const copy = steps.find((step) => step.copy)?.copy ?? null;
  const rested = restedIn(steps);
  const replays = steps.flatMap(({ replay }) => replay?.replayed ?? []);
  return {
    ...figures,
    first: first ? firstOf(first) : null,
    waited: copy && waitedIn(copy),
    ...(replays.length > 0
      ? { replayWaitedMs: replays.reduce((sum, { waitedMs }) => sum + waitedMs, 0) }
      : {}),
    ...(rested.length > 0 ? { rested } : {}),
  };
}

/** Fills that followed a rest. */
const restedIn = (steps: readonly StepResult[]) =>
  steps.flatMap(({ kind, label: { restSeconds }, bytes, edgeBytes }) =>
    kind === "flow" && restSeconds ? [{ restSeconds, bytes, edgeBytes }] : [],
  );

const firstOf = ({
  meanMBps,
  burstMBps,
  sustainedMBps,
  edgeBytes,
  interrupted,
}: StepResult): FirstStep => ({
  meanMBps,
  burstMBps,
  sustainedMBps,
  edgeBytes,
  ...(interrupted === undefined ? {} : { interrupted }),
});

const waitedIn = ({ waitedForFromMs, waitedForToMs }: CopyResult) => ({
  fromMs: waitedForFromMs,
  toMs: waitedForToMs,
});
