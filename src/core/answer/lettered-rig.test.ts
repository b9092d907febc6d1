import { describe, expect, it } from "vitest";
import { conclude } from "../conclude/conclusions";
import { DRILLS } from "../drills/catalogue";
import { checkProgram, checkedSteps, type MachineCheck } from "../machine/check";
import { blankStep } from "../run/step";
import { drive, port, rig } from "../testing/rigs";
import { letteredRigs } from "./lettered-rig";

const steps = checkProgram().map(() => ({ ...blankStep("flow", {}), meanMBps: 3000, ms: 1000 }));
const check: MachineCheck = {
  machine: "lab2",
  at: "2026-11-30T10:00:00.000Z",
  kernel: "6.1",
  steps: checkedSteps([steps]),
};

describe("the rigs of a study, lettered", () => {
  it("have what their host was shown to carry, whatever drill is asked for, recorded work included", () => {
    const there = { ...rig([port(), drive()]), host: "lab2" };
    const basis = { rigs: [there], measurements: [], tolerance: 0.05, checks: [check] };
    const conclusions = conclude(basis);
    const shown = DRILLS.map((kind) => {
      const direction = kind.directions.find((way) => way !== "mixed") ?? "read";
      const [one] = letteredRigs(conclusions, kind, direction);
      return [kind.name, one!.machine?.mbps ?? null];
    });
    expect(shown).toContainEqual(["haul", 3000]);
    expect(shown).toContainEqual(["encore", null]);
  });
});
