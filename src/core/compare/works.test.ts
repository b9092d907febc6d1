import { describe, expect, it } from "vitest";
import type { Rig } from "../chain/rig";
import { briefOf } from "../run/brief";
import { blankStep } from "../run/step";
import { RECORDED, replayOf } from "../testing/replayed";
import type { BriefMeasurement, Measurement } from "../study/measurement";
import { measured } from "../testing/measured";
import { cable, drive, enclosure, port, rig, USB_5G } from "../testing/rigs";
import { IN_MB } from "../units/number";
import { questionFrom } from "./question";
import { tellWork, worksShown } from "./works";

const fast = rig([port(), cable(), enclosure(), drive()], "fast");
const slow = rig([port(), cable(USB_5G, "old"), enclosure(), drive()], "slow");
const rigs = [fast, slow];
/** Recorded work that was done again through a rig, in so many seconds. */
function done(of: Rig, seconds: number, waited: number, set: object = {}): BriefMeasurement {
  const replay = replayOf(seconds, waited);
  const measurement: Measurement = {
    ...measured(of, [3e3 / seconds]),
    drill: { name: "encore", direction: "mixed", repeats: 1, recordings: [RECORDED], ...set },
  };
  return {
    ...measurement,
    runs: measurement.runs.map((run) => ({
      ...run,
      result: {
        ...run.result!,
        ...briefOf({
          ...run.result!,
          ms: seconds * 1e3,
          steps: [{ ...blankStep("replay", {}), replay }],
        }),
      },
    })),
  };
}
const all = questionFrom({});
const shown = (...measurements: BriefMeasurement[]) => worksShown(measurements, rigs, all);

describe("recorded work over rigs", () => {
  it("is known by its time, the quickest first, and by how much of that it waited", () => {
    const [only, ...others] = shown(done(slow, 41, 30), done(fast, 12, 4), done(fast, 12.2, 4.2));
    expect(others).toEqual([]);
    expect(only).toMatchObject({ name: "Opening the project", recordedSeconds: 20 });
    expect(only!.rows.map(({ rigId, n }) => [rigId, n])).toEqual([
      ["fast", 2],
      ["slow", 1],
    ]);
    expect(only!.rows[0]!.seconds).toBeCloseTo(12.1, 9);
    expect(only!.rows[1]).toMatchObject({ seconds: 41, waitedSeconds: 30, spread: null });
    const words = tellWork(only!, IN_MB);
    expect(words).toMatch(/^Opening the project takes 41.* s through B and 12.* s through A\./);
    expect(words).toMatch(/Through A it waits 4.* a quicker rig would save no more/);
  });

  it("says from which link on a wider one changes nothing", () => {
    const [only] = shown(done(slow, 12.3, 0.4), done(fast, 12, 0.3));
    const words = tellWork(only!, IN_MB);
    expect(words).toMatch(/about as long through every rig/);
    expect(words).toMatch(/A wider link than that of B, .* changes nothing/);
  });

  it("says that no rig makes it quicker where it hardly waits", () => {
    const [only] = shown(done(fast, 12, 0.3));
    expect(tellWork(only!, IN_MB)).toMatch(
      /takes 12.* through A\. .*a quicker rig changes nothing/,
    );
  });

  it("is held against the same work in the same way only, whatever room the drives had", () => {
    const otherPace = done(slow, 41, 30, { pace: "as-recorded" });
    const other = { ...RECORDED, sha256: "cd".repeat(32), name: "Building" };
    const otherWork = done(slow, 5, 1, { recordings: [other] });
    const smaller = done(slow, 41, 30, { span: 2 ** 30 });
    expect(shown(done(fast, 12, 4), otherPace, otherWork)).toHaveLength(3);
    expect(shown(done(fast, 12, 4), smaller)[0]!.rows).toHaveLength(2);
  });

  it("keeps to the rigs that are asked for, and to rigs as they stand", () => {
    const measurements = [done(fast, 12, 4), done(slow, 41, 30)];
    const asked = questionFrom({ rigs: "slow" });
    expect(worksShown(measurements, rigs, asked)[0]!.rows).toHaveLength(1);
    expect(worksShown(measurements, [{ ...fast, parts: slow.parts }], all)).toEqual([]);
    expect(shown(measured(fast, [900]))).toEqual([]);
  });
});
