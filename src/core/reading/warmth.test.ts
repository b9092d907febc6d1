import { describe, expect, it } from "vitest";
import { startCelsius, warmthOf } from "./warmth";

const reading = (ms: number, celsius: Record<string, number>) => ({
  ms,
  engine: null,
  machine: null,
  celsius,
});

describe("how warm a drive is", () => {
  it("is told by its warmest sensor, and not by the processor’s", () => {
    const readings = [
      reading(0, { "nvme composite": 38, "nvme sensor 2": 45, "cpu package": 90 }),
      reading(1000, { "nvme composite": 40, "nvme sensor 2": 61 }),
    ];
    expect(warmthOf(readings).map(({ celsius }) => celsius)).toEqual([45, 61]);
    expect(startCelsius(readings)).toBe(45);
  });

  it("is not known where nothing told", () => {
    expect(startCelsius([])).toBeNull();
    expect(startCelsius([reading(0, { "cpu package": 70 })])).toBeNull();
  });
});
