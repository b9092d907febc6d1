import { Flow, type Step } from "../run/program";
import type { StepResult } from "../run/result";
import type { SimulatedRig } from "./bench";
import { simulateFlow } from "./flow";

/**
 * Reads a stretch back on the simulated bench. On a drive that holds less than it says, addresses
 * begin anew where it ends: what was written later lies where earlier data should be.
 */
export function simulateCheck(
  rig: SimulatedRig,
  step: Extract<Step, { do: "check" }>,
  number: number,
): StepResult {
  const { block, depth, span } = step;
  const reading = Flow.parse({
    do: "flow",
    writeShare: 0,
    order: "sequential",
    block,
    depth,
    span,
    bytes: span,
  });
  const read = simulateFlow(rig, reading, number);
  const overwritten = rig.realBytes === null ? 0 : Math.max(0, span - rig.realBytes);
  return {
    ...read,
    label: step.label,
    kind: "check",
    faults:
      overwritten > 0 ? [{ kind: "misdirected", offset: 0, bytes: Math.floor(overwritten) }] : [],
  };
}
