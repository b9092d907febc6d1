import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { Tally, type Look } from "./tally";

const look = (ms: number, read: number, written = 0, more: Partial<Look> = {}): Look => ({
  ms,
  read,
  written,
  requests: 0,
  busyMs: null,
  ...more,
});

/** Looks a tenth of a second apart at a steady flow each way, MB/s. */
function steady(tally: Tally, from: number, to: number, readMBps: number, writeMBps: number): void {
  for (let ms = from; ms <= to; ms += 100) {
    tally.add(look(ms, readMBps * 1e3 * ms + 5e9, writeMBps * 1e3 * ms + 7e9));
  }
}

describe("a tally", () => {
  it("counts from the first look on, whatever was moved before", () => {
    const tally = new Tally();
    expect(tally.figures).toBeNull();
    steady(tally, 0, 2000, 40, 10);
    const { seconds, read, written, now, mean, peak } = tally.figures!;
    expect([seconds, read, written]).toEqual([2, 80e6, 20e6]);
    for (const rates of [now, mean, peak]) {
      expect(rates.read).toBeCloseTo(40, 6);
      expect(rates.write).toBeCloseTo(10, 6);
    }
  });

  it("takes no burst that is shorter than a second for the peak", () => {
    const tally = new Tally();
    tally.add(look(0, 0));
    tally.add(look(100, 50e6));
    for (let ms = 200; ms <= 3000; ms += 100) tally.add(look(ms, 50e6));
    expect(tally.figures!.peak.read).toBeCloseTo(50, 6);
    expect(tally.figures!.now.read).toBe(0);
  });

  it("begins anew where a count went back, and loses nothing of what it had", () => {
    const tally = new Tally();
    tally.add(look(0, 1e9));
    tally.add(look(100, 1.01e9));
    tally.add(look(200, 0));
    tally.add(look(300, 5e6));
    expect(tally.figures!.read).toBe(15e6);
  });

  it("tells what moved between any two marks, and parts add up to the whole", () => {
    fc.assert(
      fc.property(
        fc.array(fc.integer({ min: 0, max: 5000 }), { minLength: 2, maxLength: 6 }),
        (at) => {
          const tally = new Tally();
          steady(tally, 0, 5000, 40, 0);
          const marks = at.sort((a, b) => a - b).map((ms, i) => ({ ms, name: `${i}` }));
          const parts = marks.slice(1).map((mark, i) => tally.between(marks[i]!, mark));
          const whole = tally.between(marks[0]!, marks.at(-1)!);
          const sum = parts.reduce((total, { read }) => total + read, 0);
          expect(Math.abs(sum - whole.read)).toBeLessThanOrEqual(parts.length);
          for (const { seconds, readMBps } of parts)
            if (seconds > 0) expect(readMBps).toBeCloseTo(40, 3);
        },
      ),
    );
  });

  it("tells for how much of the time there was work, where that is counted", () => {
    const tally = new Tally();
    for (let ms = 0; ms <= 2000; ms += 100) tally.add(look(ms, 0, 0, { busyMs: 7000 + ms / 4 }));
    const [start, end] = [0, 2000].map((ms) => ({ ms, name: "" }));
    expect(tally.between(start!, end!).busy).toBeCloseTo(0.25, 6);
    const uncounted = new Tally();
    steady(uncounted, 0, 2000, 1, 1);
    expect(uncounted.between(start!, end!).busy).toBeNull();
  });

  it("gives the stretch between two marks as a trace that begins at 0 and loses no byte", () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 0, max: 2500 }),
        fc.integer({ min: 1, max: 2500 }),
        (at, long) => {
          const tally = new Tally();
          steady(tally, 0, 5000, 40, 13);
          const [from, to] = [at, at + long].map((ms) => ({ ms, name: "" }));
          const samples = tally.samples(from!, to!);
          const whole = tally.between(from!, to!);
          expect(samples[0]!.from).toBe(0);
          expect(samples.at(-1)!.ms).toBeCloseTo(long, 6);
          const sum = (pick: (one: (typeof samples)[number]) => number) =>
            samples.reduce((total, one) => total + pick(one), 0);
          expect(Math.abs(sum(({ written }) => written) - whole.written)).toBeLessThanOrEqual(1);
          expect(
            Math.abs(sum(({ bytes }) => bytes) - whole.read - whole.written),
          ).toBeLessThanOrEqual(2);
          samples.slice(1).forEach((one, i) => expect(one.from).toBe(samples[i]!.ms));
        },
      ),
    );
  });
});
