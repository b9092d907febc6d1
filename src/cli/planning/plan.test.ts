import { describe, expect, it } from "vitest";
import { EXAMPLE_PLAN, PlanFile } from "@/core/exchange/plan-file";

const whyNot = (more: object) => {
  const parsed = PlanFile.safeParse({ ...EXAMPLE_PLAN, ...more });
  return parsed.success ? [] : parsed.error.issues.map(({ message }) => message);
};
const [rig] = EXAMPLE_PLAN.rigs;

describe("a plan's file", () => {
  it("has an example that is a plan", () => {
    expect(PlanFile.parse(EXAMPLE_PLAN).rigs).toHaveLength(2);
  });

  it.each([
    [{ format: "nerrit-shelf" }, /it is no plan/],
    [{ rigs: [] }, /needs a rig/],
    [{ rigs: [rig, rig] }, /names With K5 twice/],
    [{ rigs: [{ ...rig, parts: ["Icefall rear port", "K9"] }] }, /there is no part "K9"/],
    [{ rigs: [{ ...rig, target: "somewhere" }] }, /./],
    [{ parts: [...EXAMPLE_PLAN.parts, EXAMPLE_PLAN.parts[0]] }, /names Icefall rear port twice/],
    [{ drills: [] }, /needs a drill/],
    [{ repeats: 0 }, /at least 1/],
  ])("is refused by what makes no sense: %j", (more, words) => {
    expect(whyNot(more).join()).toMatch(words);
  });
});
