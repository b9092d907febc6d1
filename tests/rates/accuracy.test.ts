import { afterAll, afterEach, beforeAll, describe, expect, it, vi } from "vitest";
import { nerrit } from "../support/command";
import { makeDisk, Throttle, whyNoThrottle, type Disk } from "../support/loop-device";

const why = whyNoThrottle();
if (why) console.warn(`skipped: accuracy under the kernel's throttle (${why})`);

type Case = readonly [number, "read" | "write"];
const both = (...figures: number[]): Case[] =>
  figures.flatMap((figure) => (["read", "write"] as const).map((way) => [figure, way] as const));

/** Links of so many MB/s, and devices of so many requests a second. */
const RATES = both(20, 33, 60, 90, 150, 250, 400);
const REQUESTS = both(200, 1000, 4000);

interface Row {
  set: string;
  measured: number;
  off: number;
  kernel: number;
}

describe.skipIf(why)("what the kernel lets through is what is measured", () => {
  let disk: Disk;
  let throttle: Throttle;
  const rows: Row[] = [];
  beforeAll(() => {
    disk = makeDisk(300);
  });
  afterAll(() => {
    disk.remove();
    console.log(
      ["set, measured, off by, kernel’s count off by"]
        .concat(
          rows.map(
            ({ set, measured, off, kernel }) =>
              `${set}: ${measured.toFixed(1)}, ${(100 * off).toFixed(2)} %, ${(100 * kernel).toFixed(3)} %`,
          ),
        )
        .join("\n"),
    );
  });
  afterEach(() => {
    vi.unstubAllEnvs();
    throttle.remove();
  });

  const measure = async (...more: string[]) => {
    const { status, stdout, stderr } = await nerrit(
      [
        "measure",
        "--target",
        disk.directory,
        "--span",
        "64MiB",
        "--reserve",
        "1MiB",
        "--seconds",
        "3",
        "--json",
        ...more,
      ],
      (pid) => throttle.hold(pid),
    );
    expect(stderr).toBe("");
    expect(status).toBe(0);
    return JSON.parse(stdout) as {
      meanMBps: number;
      iops: number;
      bytes: number;
      ms: number;
      requests: number;
      deviceBytes: number;
      samples: { ms: number }[];
      conditions: { lane: string };
    };
  };

  /** Samples come every tenth of a second; where they do not, the whole machine stood still. */
  const stoodStill = (samples: readonly { ms: number }[]) =>
    samples.some(({ ms }, i) => ms - (samples[i - 1]?.ms ?? 0) > 250);

  /**
   * Holds a figure against what was set. Where the whole machine stood still the kernel itself let
   * less through than it was set to, or made up for it; then that is what must have been measured.
   */
  const hold = (
    set: string,
    wanted: number,
    measured: number,
    plain: number,
    kernelOff: number,
    samples: readonly { ms: number }[],
  ) => {
    rows.push({ set, measured, off: measured / wanted - 1, kernel: kernelOff });
    // The two counts are read a moment apart, which a busy machine makes longer.
    expect(Math.abs(kernelOff) * samples.at(-1)!.ms).toBeLessThan(100);
    const asSet = Math.abs(plain / wanted - 1) < 0.013 && !stoodStill(samples);
    if (asSet) expect(Math.abs(measured / wanted - 1)).toBeLessThan(0.015);
    else console.warn(`${set}: disturbed; ${plain.toFixed(1)} came through in all`);
    // Whatever came through: the headline, whose ends are faded, is about its mean.
    expect(Math.abs(measured / plain - 1)).toBeLessThan(0.15);
  };

  it.each(RATES)("Haul at %i MB/s, %s", async (rate, way) => {
    throttle = new Throttle(disk);
    throttle.set(rate);
    const { meanMBps, bytes, ms, deviceBytes, samples } = await measure("--direction", way);
    hold(
      ...([`${rate} MB/s, ${way}`, rate, meanMBps, bytes / ms / 1e3] as const),
      deviceBytes / bytes - 1,
      samples,
    );
  });

  it.each(REQUESTS)("Scatter at %i requests a second, %s", async (count, way) => {
    throttle = new Throttle(disk);
    throttle.setRequests(count);
    const { iops, bytes, ms, requests, deviceBytes, samples } = await measure(
      "--drill",
      "scatter",
      "--direction",
      way,
    );
    hold(
      `${count} a second, ${way}`,
      count,
      iops,
      requests / (ms / 1e3),
      deviceBytes / bytes - 1,
      samples,
    );
  });

  it.each(["native", "ring", "portable"])("threads, ring and the runtime: %s", async (lane) => {
    throttle = new Throttle(disk);
    throttle.set(60);
    vi.stubEnv("NERRIT_LANE", lane);
    const { meanMBps, bytes, ms, deviceBytes, samples, conditions } = await measure(
      "--direction",
      "read",
      "--block",
      "64KiB",
      "--depth",
      "32",
    );
    expect(conditions.lane).toBe(lane);
    hold(
      ...([`60 MB/s, read by ${lane}`, 60, meanMBps, bytes / ms / 1e3] as const),
      deviceBytes / bytes - 1,
      samples,
    );
  });
});
