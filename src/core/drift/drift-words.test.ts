import { describe, expect, it } from "vitest";
import { driftsOf } from "./drift";
import { driftWords } from "./drift-words";
import { relativeDays } from "./relative";
import { madeSeries } from "./testing/made-series";

const SEEDS = Array.from({ length: 20 }, (_, i) => i + 1);

describe("the words of a drift", () => {
  it("say the figure of a change once, and never of a part whose change another one explains", () => {
    for (const seed of SEEDS)
      for (const shape of ["step", "slope"] as const) {
        const change = { of: "drive 1", share: -0.2, shape, atDay: 350 };
        for (const drift of driftsOf(madeSeries({ seed, change })).values()) {
          const { brief, result, evidence } = driftWords(drift, (of) => `the ${of}`);
          expect(brief !== "").toBe(drift.state === "slower");
          expect(result).toMatch(/^[A-Z].*\.$/);
          for (const sentence of [result, ...evidence])
            expect(sentence.split(/\s+/).length, sentence).toBeLessThanOrEqual(25);
          if (brief) for (const of of drift.together) expect(evidence.join(" ")).toContain(of);
          if (drift.open === "another") expect(result).toContain(drift.explainedBy[0]);
        }
      }
  });

  it("stand beside days on one scale: about 1 before a step, and what it lost after", () => {
    const change = { of: "drive 1", share: -0.2, shape: "step", atDay: 350 } as const;
    const drift = driftsOf(madeSeries({ seed: 3, change })).get("drive 1")!;
    const days = relativeDays(drift);
    const level = (side: typeof days) =>
      side.reduce((sum, { share }) => sum + share, 0) / side.length;
    expect(level(days.filter(({ day }) => day < drift.step!.day))).toBeCloseTo(1, 1);
    expect(level(days.filter(({ day }) => day >= drift.step!.day))).toBeCloseTo(0.8, 1);
  });
});
