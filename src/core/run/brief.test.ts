import { describe, expect, it } from "vitest";
import { resultOf } from "../testing/measured";
import { BriefResult, briefOf } from "./brief";
import { blankStep } from "./step";

describe("a result in brief", () => {
  const step = { ...blankStep("flow", {}), meanMBps: 700, burstMBps: 950, sustainedMBps: 300 };
  const result = { ...resultOf(700), steps: [{ ...step, edgeBytes: 12e9 }, step] };
  /** As it is read again from where it was kept. */
  const kept = (of: typeof result) => BriefResult.parse(JSON.parse(JSON.stringify(briefOf(of))));

  it("keeps all figures, and the rates of the first step", () => {
    const { steps: _, ...figures } = result;
    expect(kept(result)).toEqual({
      ...figures,
      first: { meanMBps: 700, burstMBps: 950, sustainedMBps: 300, edgeBytes: 12e9 },
      waited: null,
    });
  });

  it("keeps how warm the drive was, and whether the flow stood still, where that was told", () => {
    expect(kept({ ...result, startCelsius: 41 }).startCelsius).toBe(41);
    expect(kept(result)).not.toHaveProperty("startCelsius");
    expect(kept(result).first).not.toHaveProperty("interrupted");
    const [still, moving] = [true, false].map((interrupted) =>
      kept({ ...result, steps: [{ ...step, interrupted }] }),
    );
    expect([still!.first!.interrupted, moving!.first!.interrupted]).toEqual([true, false]);
  });

  it("keeps where a copy waited, and leaves its files to the run itself", () => {
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
    const back = kept({ ...result, steps: [{ ...step, copy, edgeBytes: null }] });
    expect(back.waited).toEqual({ fromMs: 900, toMs: 20 });
  });

  it("has no first step where there was none, and knows what is not known", () => {
    const bare = { ...resultOf(100), steps: [], deviceBytes: null, busiestCore: null };
    expect(briefOf(bare)).toMatchObject({ first: null, deviceBytes: null, busiestCore: null });
  });
});
