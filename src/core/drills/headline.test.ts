import { describe, expect, it } from "vitest";
import { resultOf } from "../testing/measured";
import { headlineOf, resultOfHeadline } from "./headline";
import { blankStep } from "../run/step";

describe("a headline", () => {
  const step = { ...blankStep("flow", {}), meanMBps: 700, burstMBps: 950, sustainedMBps: 300 };
  const result = { ...resultOf(700), steps: [{ ...step, edgeBytes: 12e9 }, step] };

  it("brings back all figures, and the rates of the first step", () => {
    const back = resultOfHeadline(JSON.parse(JSON.stringify(headlineOf(result))));
    expect({ ...back, steps: [], fit: null }).toEqual({ ...result, steps: [], fit: null });
    expect(back.steps).toHaveLength(1);
    expect(back.steps[0]).toMatchObject({
      meanMBps: 700,
      burstMBps: 950,
      sustainedMBps: 300,
      edgeBytes: 12e9,
    });
  });

  it("keeps how warm the drive was as the run began, where that was told", () => {
    const warm = resultOfHeadline(headlineOf({ ...result, startCelsius: 41 }));
    expect(warm.startCelsius).toBe(41);
    expect(resultOfHeadline(headlineOf(result))).not.toHaveProperty("startCelsius");
  });

  it("keeps what a ladder by block found, and where a copy waited", () => {
    const fit = {
      by: "block" as const,
      overheadUs: 40,
      asymptoteMBps: 900,
      halfRateBytes: 36_000,
      worst: 0.02,
    };
    const copy = {
      files: 3,
      waitedForFromMs: 900,
      waitedForToMs: 20,
      perFileMs: 1,
      perByteMBps: 500,
      fromMemory: 0,
      verified: 3,
      differing: [],
      kept: null,
    };
    const back = resultOfHeadline(
      headlineOf({ ...result, fit, steps: [{ ...step, copy, edgeBytes: null }] }),
    );
    expect(back.fit).toEqual(fit);
    expect(back).not.toHaveProperty("startCelsius");
    expect(back.steps[0]!.copy).toMatchObject({ waitedForFromMs: 900, waitedForToMs: 20 });
    expect(resultOfHeadline(headlineOf(result)).steps[0]!.copy).toBeNull();
  });

  it("has no step where there was none, and knows what is not known", () => {
    const bare = { ...resultOf(100), steps: [], deviceBytes: null, busiestCore: null };
    const back = resultOfHeadline(headlineOf(bare));
    expect(back.steps).toEqual([]);
    expect([back.deviceBytes, back.busiestCore]).toEqual([null, null]);
  });
});
