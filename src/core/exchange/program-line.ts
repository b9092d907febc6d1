import * as z from "zod";
import { StepLabel } from "../run/program";
import { Conditions, RunEvent, type Reading, type StepResult } from "../run/result";
import { blankStep } from "../run/step";
import { CELSIUS, MOST_BYTES, MOST_MS, MOST_STEPS } from "../units/bounds";
import { Copied, copyOf } from "./copied-step";
import { Counted, momentsOf, stepOf } from "./counted-step";
import type { RecordedRun } from "./runs-file";

const count = z.number().int().nonnegative();
const repeat = count.max(49);
const step = count.max(MOST_STEPS);
const bytes = count.max(MOST_BYTES);
const ms = z.number().nonnegative().max(MOST_MS);

/** A line of what the program that measures without Nerrit tells, behind the first (docs/formats.md). */
export const ProgramLine = z.discriminatedUnion("event", [
  z.object({
    event: z.literal("measuring"),
    id: z.uuid(),
    createdAt: z.iso.datetime(),
    drill: z.unknown(),
    target: z.string().min(1).max(4096),
    /** The other end of a copy. */
    other: z.string().min(1).max(4096).nullable().default(null),
  }),
  z.object({ event: z.literal("conditions"), conditions: Conditions }),
  z.object({ event: z.literal("started"), repeat, at: z.iso.datetime() }),
  z.object({
    event: z.literal("sample"),
    repeat,
    /** from, ms, bytes, written, requests, step */
    row: z.tuple([ms, ms, bytes, bytes, count, step]),
  }),
  z.object({
    event: z.literal("reading"),
    repeat,
    ms,
    celsius: z.number().min(CELSIUS.least).max(CELSIUS.most),
  }),
  z.object({ event: z.literal("happened"), repeat, what: RunEvent }),
  z.object({ event: z.literal("rested"), repeat, step, ms, label: StepLabel }),
  Counted,
  Copied,
  z.object({ event: z.literal("finished"), repeat }),
  z.object({
    event: z.literal("ended"),
    status: z.enum(["done", "stopped", "failed"]),
    reason: z.string().max(10_000).nullable(),
  }),
]);
export type ProgramLine = z.infer<typeof ProgramLine>;

type Told<E extends ProgramLine["event"]> = Extract<ProgramLine, { event: E }>;

/** What a line of the drive's temperature tells. */
export const readingOf = ({ ms, celsius }: Told<"reading">): Reading => ({
  ms,
  engine: null,
  machine: null,
  celsius: { drive: celsius },
});

/** What a step gave. @param samples of the run since the step before, as a file of runs holds them */
export function stepResultOf(
  line: Told<"rested" | "counted" | "copied">,
  samples: RecordedRun["samples"],
): StepResult {
  if (line.event === "rested") return { ...blankStep("rest", line.label), ms: line.ms };
  if (line.event === "counted") return stepOf(line, samples);
  return copyOf(line, momentsOf(line, samples));
}
