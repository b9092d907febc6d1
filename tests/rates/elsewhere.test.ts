import fs from "node:fs";
import os from "node:os";
import path from "node:path";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { nerrit } from "../support/command";
import { HERE, measuredIn, measureElsewhere, whyNoProgram } from "../support/elsewhere";
import { makeDisk, Throttle, whyNoThrottle, type Disk } from "../support/loop-device";

const why = whyNoThrottle() ?? whyNoProgram();
if (why) console.warn(`skipped: the program against the engine (${why})`);

/** The program that measures elsewhere against the engine, on one device that the kernel holds to a rate. */
describe.skipIf(why)("the program that measures elsewhere, beside the engine", () => {
  let disk: Disk;
  let throttle: Throttle;
  let folder: string;
  beforeAll(() => {
    disk = makeDisk(200);
    throttle = new Throttle(disk);
    folder = fs.mkdtempSync(path.join(os.tmpdir(), "nerrit-rates-"));
  });
  afterAll(() => {
    throttle.remove();
    disk.remove();
    fs.rmSync(folder, { recursive: true });
  });

  it.each([
    [40, "read"],
    [40, "write"],
    [150, "read"],
    [150, "write"],
  ])("finds %i MB/s within 1 %, %s", async (mbps, direction) => {
    throttle.set(mbps);
    const out = path.join(folder, `${mbps}-${direction}.jsonl`);
    const settings = [
      "--target",
      disk.directory,
      "--direction",
      direction,
      "--span",
      "32MiB",
      "--seconds",
      "6",
      "--repeats",
      "3",
      "--reserve",
      "1MiB",
    ];
    const engine = await nerrit(["measure", ...settings, "--json"], (pid) => throttle.hold(pid));
    expect(engine.stderr).toBe("");
    const { meanMBps } = JSON.parse(engine.stdout) as { meanMBps: number };
    let held = false;
    const program = await measureElsewhere(
      HERE,
      ["--drill", "haul", ...settings, "--out", out],
      (_, pid) => {
        if (!held) throttle.hold(pid);
        held = true;
      },
    );
    expect(program.status).toBe(0);
    const rates = measuredIn(out)[0]!.runs.map(({ steps }) => steps[0]!.meanMBps);
    const [, median] = rates.toSorted((a, b) => a - b);
    console.log(`${mbps} MB/s, ${direction}: engine ${meanMBps}, program ${median}`);
    expect(Math.abs(median! / meanMBps - 1)).toBeLessThan(0.01);
  });
});
