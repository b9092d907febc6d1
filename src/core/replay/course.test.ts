import { describe, expect, it } from "vitest";
import type { RecordedRequest } from "../recording/request";
import { courseOf, type Asked } from "./course";
import { scheduleOf } from "./schedule";

const GROUND = { first: 0, span: 2 ** 40, smallest: 512 };
const read = (startUs: number, tookUs: number): RecordedRequest => ({
  startUs,
  tookUs,
  kind: "read",
  offset: startUs * 4096,
  bytes: 4096,
  program: 0,
});
const scheduled = (requests: RecordedRequest[], pace: "asap" | "as-recorded" = "asap") =>
  scheduleOf(
    { requests, end: { ms: 100, lost: 0, counted: null, reason: null } },
    { pace, pauses: "kept" },
    GROUND,
  );
const tenMs = (beside = 0) => ({ lane: "one", laneUs: 10_000, besideUs: beside });

describe("the course of a replay", () => {
  it("lets works that are done side by side wait for each other on one lane, and not on two", () => {
    const works = [scheduled([read(0, 5)]), scheduled([read(0, 5)])];
    const ends = (answer: () => { lane: string; laneUs: number; besideUs: number }) =>
      courseOf(works, answer).replayed.map(({ to }) => to[0]);
    expect(ends(() => tenMs())).toEqual([10, 20]);
    let lane = 0;
    expect(ends(() => ({ ...tenMs(), lane: String(lane++) }))).toEqual([10, 10]);
  });

  it("counts the time in which any of them waits once", () => {
    const works = [scheduled([read(0, 5)]), scheduled([read(4000, 5)], "as-recorded")];
    const own = (asked: Asked) => ({ ...tenMs(), lane: String(asked.ms) });
    expect(courseOf(works, own).waitedMs).toBeCloseTo(14, 9);
    expect(courseOf([works[1]!], own).waitedMs).toBeCloseTo(10, 9);
  });

  it("asks in the order in which requests go, with how many of the work are under way", () => {
    const deep = scheduled([read(0, 900), read(1, 900), read(2, 900)]);
    const late = scheduled([read(5000, 10)], "as-recorded");
    const asked: [number, number][] = [];
    courseOf([late, deep], ({ ms, depth }) => {
      asked.push([Math.round(ms), depth]);
      return tenMs(3000);
    });
    expect(asked).toEqual([
      [0, 1],
      [0, 2],
      [0, 3],
      [5, 1],
    ]);
  });

  it("lets a request wait for as many answers as in the recording, and for the pause after them", () => {
    const { replayed } = courseOf([scheduled([read(0, 100), read(600, 100)])], () => tenMs(1000));
    expect([...replayed[0]!.from]).toEqual([0, 11.5]);
    expect([...replayed[0]!.to]).toEqual([11, 22.5]);
  });
});
