import type { Fault, StepResult } from "../run/result";

/** What was checked of a Proof, and every fault once, however many passes showed it. */
export function proofOf(steps: readonly StepResult[]): {
  checkedBytes: number;
  faults: Fault[];
  moreFaults: number;
} {
  const checks = steps.filter(({ kind }) => kind === "check");
  const faults = new Map(
    checks.flatMap((step) => step.faults.map((fault) => [`${fault.kind} ${fault.offset}`, fault])),
  );
  return {
    checkedBytes: checks.reduce((sum, { bytes }) => sum + bytes, 0),
    faults: [...faults.values()].toSorted((a, b) => a.offset - b.offset),
    moreFaults: checks.reduce((sum, { moreFaults }) => sum + moreFaults, 0),
  };
}
