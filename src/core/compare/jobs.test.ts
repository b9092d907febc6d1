import { describe, expect, it } from "vitest";
import type { Rig } from "../chain/rig";
import { observationsOf, settingsWords, type Measurement } from "../study/measurement";
import { around, measured } from "../testing/measured";
import { cable, drive, port, rig, USB_5G } from "../testing/rigs";
import { jobsOf } from "./jobs";
import { questionFrom } from "./question";

const fast = rig([port(), cable(), drive()], "fast");
const slow = rig([port(), cable(USB_5G, "old"), drive()], "slow");
const rigs = [fast, slow];
const job = (
  of: Rig,
  seconds: number,
  title = "Copy the card",
  bytes = 81e9,
  direction: "read" | "write" = "write",
): Measurement => ({
  ...measured(of, [bytes / 1e6 / seconds], {
    origin: "watched",
    direction,
    result: { bytes, ms: seconds * 1e3 },
  }),
  drill: { name: "watched", direction, title, repeats: 1 },
});
const all = questionFrom({});

describe("a named job", () => {
  it("is compared over rigs by its seconds and its rate, in the middle of the times it was done", () => {
    const done = [job(fast, 100), job(fast, 104), job(slow, 202, "copy the card ")];
    const [only, ...others] = jobsOf(done, rigs, all);
    expect(others).toEqual([]);
    expect(only).toMatchObject({ name: "Copy the card", direction: "write" });
    expect(only!.rows.map(({ rigId, seconds, n }) => [rigId, seconds, n])).toEqual([
      ["fast", 102, 2],
      ["slow", 202, 1],
    ]);
    expect(only!.rows[1]!.mbps).toBeCloseTo(401, 0);
  });

  it("says of which rig another amount was moved", () => {
    const third = rig([port(), cable(USB_5G, "third"), drive()], "third");
    const done = [job(fast, 100), job(slow, 200), job(third, 50, "Copy the card", 40e9)];
    const [only] = jobsOf(done, [...rigs, third], all);
    expect(only!.rows.map(({ otherAmount }) => otherAmount)).toEqual([false, false, true]);
  });

  it("is pooled with no drill, with no other job, and not with a rig that has changed since", () => {
    const haul = measured(fast, around(800), { direction: "write" });
    const done = [
      haul,
      job(fast, 100),
      job(fast, 90, "Unpack"),
      job(fast, 80, "Copy the card", 81e9, "read"),
    ];
    expect(observationsOf(done)).toHaveLength(1);
    expect(jobsOf(done, rigs, all)).toHaveLength(3);
    const changed = { ...fast, parts: slow.parts };
    expect(jobsOf(done, [changed, slow], all)).toEqual([]);
    expect(jobsOf([job(fast, 100, "")], rigs, all)).toEqual([]);
    expect(settingsWords({ ...job(fast, 100), origin: "typed" })).toMatch(/unknown/);
  });

  it("keeps to the rigs, the drive and the direction that are asked for", () => {
    const done = [job(fast, 100), job(slow, 200)];
    expect(jobsOf(done, rigs, questionFrom({ rigs: "slow" }))[0]!.rows).toHaveLength(1);
    expect(jobsOf(done, rigs, questionFrom({ direction: "read" }))).toEqual([]);
    expect(jobsOf(done, rigs, questionFrom({ drive: "another" }))).toEqual([]);
  });
});
