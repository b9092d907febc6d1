import { describe, expect, it } from "vitest";
import { courseOf, pointsUntil, type ClipRun } from "./clip";

/** A run of so many seconds, a place each second, at a steady rate. */
const run = (seconds: number, startMs = 0): ClipRun => ({
  name: "A",
  trace: {
    startMs,
    places: Array.from({ length: seconds }, (_, i) => ({
      fromMs: startMs + i * 1000,
      toMs: startMs + (i + 1) * 1000,
      bytes: i,
      mean: 100 + i,
      least: 0,
      most: 0,
    })),
  },
});

describe("a clip of traces", () => {
  it.each([
    [8, 1],
    [60, 5],
    [600, 50],
    [1800, 200],
  ])(
    "of %d s goes %d times as fast: at most twelve seconds and a moment at its end",
    (seconds, speed) => {
      const course = courseOf([run(3), run(seconds)]);
      expect(course.speed).toBe(speed);
      expect(course.plays).toBeLessThanOrEqual(13.5);
      expect(course.seconds).toBe(seconds);
    },
  );

  it("begins each run at its own start, and shows it as far as it has come", () => {
    const late = run(10, 5000);
    expect(pointsUntil(late, 3).map(({ seconds }) => seconds)).toEqual([1, 2, 3]);
    expect(pointsUntil(late, Infinity)).toHaveLength(10);
    expect(pointsUntil(late, 0)).toEqual([]);
  });

  it("has a course where nothing was sampled", () => {
    expect(courseOf([{ name: "A", trace: { startMs: 0, places: [] } }]).plays).toBeGreaterThan(0);
  });
});
