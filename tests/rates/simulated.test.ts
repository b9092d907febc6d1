import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { iopsOf } from "@/core/drills/kind";
import type { RunResult } from "@/core/run/result";
import { usualDrill } from "@/core/drills/shape";
import { simulateRepeats } from "@/core/simulate/measure";
import { Simulation } from "@/core/simulate/model";
import { statedRig } from "@/core/testing/rigs";
import { nerrit } from "../support/command";
import { makeDisk, Throttle, whyNoThrottle, type Disk } from "../support/loop-device";

const why = whyNoThrottle();
if (why) console.warn(`skipped: the simulated bench against a throttled device (${why})`);

/** What the kernel lets through of the real device, and of the simulated one. */
const MBPS = 60;
const IOPS = 3000;
const MIB = 2 ** 20;

/**
 * A memory-backed loop device under the kernel's throttle: far faster than what is let through, which
 * goes by bytes and by requests a second and holds no single request back.
 */
const RIG = statedRig(5000);
const SIMULATION = Simulation.parse({
  parts: {
    disk: { requestUs: { read: 10, write: 10 }, meter: { mbps: MBPS, iops: IOPS } },
  },
});

describe.skipIf(why)("the simulated bench and a real device under the kernel’s throttle", () => {
  let disk: Disk;
  let throttle: Throttle;
  beforeAll(() => {
    disk = makeDisk(300);
    throttle = new Throttle(disk);
    throttle.set(MBPS);
    throttle.setRequests(IOPS);
  });
  afterAll(() => {
    throttle.remove();
    disk.remove();
  });

  const real = async (...args: string[]): Promise<RunResult> => {
    const { status, stdout, stderr } = await nerrit(
      ["measure", "--target", disk.directory, "--reserve", "1MiB", "--json", ...args],
      (pid) => throttle.hold(pid),
    );
    expect(stderr).toBe("");
    expect(status).toBe(0);
    return (JSON.parse(stdout) as { runs: RunResult[] }).runs[0]!;
  };
  const sizes = Array.from({ length: 6 }, (_, i) => 4096 * 4 ** i);
  const depths = [1, 2, 4, 8, 16, 32];

  it.each<[string, "read" | "write", Record<string, unknown>, string[]]>([
    ["haul", "read", { seconds: 2 }, ["--span", "64MiB", "--seconds", "2"]],
    ["haul", "write", { seconds: 2 }, ["--span", "64MiB", "--seconds", "2"]],
    [
      "stride-ladder",
      "read",
      { blocks: sizes, seconds: 0.7 },
      ["--blocks", sizes.join(), "--span", "64MiB", "--seconds", "0.7"],
    ],
    [
      "depth-ladder",
      "read",
      { depths, seconds: 0.7 },
      ["--depths", depths.join(), "--span", "64MiB", "--seconds", "0.7"],
    ],
  ])("agree within 3 in a hundred: %s, %s", async (name, direction, set, args) => {
    const drill = usualDrill(name, direction, { ...set, span: 64 * MIB });
    const [made] = simulateRepeats(RIG, drill, SIMULATION, { seed: 1 });
    const wanted = made!.result.steps;
    // A machine that stands still lets less through; which steps that meets is another matter each time.
    const off = wanted.map(() => Infinity);
    for (let attempt = 0; attempt < 10 && Math.max(...off) > 0.03; attempt++) {
      const { steps } = await real("--drill", name, "--direction", direction, ...args);
      expect(steps).toHaveLength(wanted.length);
      steps.forEach((step, i) => {
        const { meanMBps } = wanted[i]!;
        // Where the kernel let less through than it was set to, that is what the engine had to find.
        const letThrough = step.deviceBytes! / 1e3 / step.ms;
        const right = letThrough < meanMBps * 0.97 ? letThrough : meanMBps;
        off[i] = Math.min(off[i]!, Math.abs(step.meanMBps / right - 1));
      });
    }
    console.log(
      wanted
        .map(
          (step, i) =>
            `${name}, ${direction}, ${step.label.block ?? step.label.depth ?? ""}: simulated ${step.meanMBps.toFixed(2)} MB/s, ${iopsOf(step).toFixed(0)} a second, off by ${(100 * off[i]!).toFixed(2)} %`,
        )
        .join("\n"),
    );
    expect(Math.max(...off)).toBeLessThan(0.03);
  });
});
