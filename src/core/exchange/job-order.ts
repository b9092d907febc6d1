import type { Job } from "../run/protocol";
import type { OtherEnd } from "./order-file";

/** A job of the measuring process as the program that measures without Nerrit takes it. */
export interface JobOrder {
  /** The order's file. */
  text: string;
  target: string;
  /** The other end of a copy. */
  other: { way: OtherEnd; path: string } | null;
}

/**
 * Puts a job into the words of the program.
 *
 * @throws RangeError that names what the program does not do
 */
export function orderOfJob({ targets, program, repeats, io, reserve, gated }: Job): JobOrder {
  if (gated)
    throw new RangeError("runs on several machines at once need the whole measuring process");
  if (program.some((step) => step.do === "replay"))
    throw new RangeError("recorded work is done again by the whole measuring process alone");
  if (
    program.some((step) => step.do === "flow" && (step.targets.length > 1 || step.targets[0] !== 0))
  )
    throw new RangeError("several drives side by side need the whole measuring process");
  const [target, second] = targets;
  const copy = program.find((step) => step.do === "copy");
  const other =
    second === undefined
      ? null
      : { way: copy?.from === 1 ? ("from" as const) : ("to" as const), path: second };
  const measurements = [{ drill: { repeats }, program }];
  const order = { format: "nerrit-order", version: 1, rig: "", io, reserve, measurements };
  return { text: JSON.stringify(order), target: target!, other };
}
