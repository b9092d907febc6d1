import * as z from "zod";
import type { StepInput } from "../run/program";
import type { StepResult } from "../run/result";
import { iopsOf } from "../drills/kind";
import { summarise, type Repeats } from "../stats/repeats";
import { MOST_MBPS, MOST_REQUESTS } from "../units/bounds";
import { Direction } from "../units/rate";

/** What a machine moved in its own memory by one kind of requests. */
export const CheckedStep = z.object({
  direction: Direction,
  /** Bytes of each request, and how many were in flight. */
  block: z.number().int().positive(),
  depth: z.number().int().positive(),
  /** Of each repeat: MB/s, and requests a second. */
  mbps: z.array(z.number().nonnegative().max(MOST_MBPS)).min(1).max(20),
  iops: z.array(z.number().nonnegative().max(MOST_REQUESTS)).min(1).max(20),
});
export type CheckedStep = z.infer<typeof CheckedStep>;

/** What a machine's processor, kernel and the measuring process carry, by a file in its memory. */
export const MachineCheck = z.object({
  /** As rigs name it: a host, or the machine that Nerrit runs on. */
  machine: z.string().max(255),
  at: z.iso.datetime({ offset: true }),
  kernel: z.string().max(300),
  steps: z.array(CheckedStep).min(1).max(100),
});
export type MachineCheck = z.infer<typeof MachineCheck>;

/** As large as Haul's and Scatter's usual requests (drills/kinds), with as many in flight as both ever ask for. */
export const LARGE_BLOCK = 512 * 2 ** 10;
export const SMALL_BLOCK = 4096;
const DEPTHS: Record<number, readonly number[]> = {
  [LARGE_BLOCK]: [1, 4, 16],
  [SMALL_BLOCK]: [1, 8, 32],
};
/** Larger than a processor's own caches, and little beside the memory of whatever is measured on. */
export const CHECK_SPAN = 256 * 2 ** 20;
const SECONDS = 2;
const LEAD_IN = 0.4;
export const CHECK_REPEATS = 2;

/** What is asked of the machine: each size and depth, both ways. */
const ASKED = [LARGE_BLOCK, SMALL_BLOCK].flatMap((block) =>
  Direction.options.flatMap((direction) =>
    DEPTHS[block]!.map((depth) => ({ block, direction, depth })),
  ),
);

/** The steps of a check; it takes about a minute. */
export const checkProgram = (): StepInput[] =>
  ASKED.map(({ block, direction, depth }) => ({
    do: "flow",
    label: { block, depth },
    writeShare: direction === "read" ? 0 : 1,
    order: block === LARGE_BLOCK ? "sequential" : "random",
    block,
    depth,
    span: CHECK_SPAN,
    seconds: SECONDS,
    leadIn: LEAD_IN,
  }));

/** How long a check takes at least, seconds. */
export const CHECK_SECONDS = ASKED.length * (SECONDS + LEAD_IN) * CHECK_REPEATS;

/** What the steps of a check gave. @param repeats the steps of each, in the order of the program */
export const checkedSteps = (repeats: readonly (readonly StepResult[])[]): CheckedStep[] =>
  ASKED.map((asked, i) => ({
    ...asked,
    mbps: repeats.map((steps) => steps[i]!.meanMBps),
    iops: repeats.map((steps) => iopsOf(steps[i]!)),
  }));

/** The best of some steps by their middle rate; null where there is none. */
const best = (steps: readonly CheckedStep[]): Repeats | null =>
  steps.map(({ mbps }) => summarise(mbps)).toSorted((a, b) => b.median - a.median)[0] ?? null;

/**
 * What a machine was shown to move by such requests, MB/s.
 *
 * @returns null where it was not asked for requests of that size
 */
export const shownTo = (
  { steps }: Pick<MachineCheck, "steps">,
  { block, depth }: { block: number; depth: number },
  direction: Direction,
): Repeats | null =>
  best(
    steps.filter(
      (step) => step.block === block && step.depth <= depth && step.direction === direction,
    ),
  );

/** The most that it was shown to move one way by requests of a size. */
export const mostOf = (
  { steps }: Pick<MachineCheck, "steps">,
  block: number,
  direction: Direction,
): CheckedStep | null =>
  steps
    .filter((step) => step.block === block && step.direction === direction)
    .toSorted((a, b) => summarise(b.mbps).median - summarise(a.mbps).median)[0] ?? null;
