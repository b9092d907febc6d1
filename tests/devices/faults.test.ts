import { execFileSync } from "node:child_process";
import fs from "node:fs";
import path from "node:path";
import { afterEach, beforeEach, describe, expect, it } from "vitest";
import { nerrit, nerritAt, until } from "../support/command";
import { clockThatJumps, whyNoClock } from "../support/clock";
import { makeFaulty, whyNoFaults, type FaultyDirectory } from "../support/faulty-fs";
import { eachFirst, LONG } from "../support/long";
import { asked, documentOf, UNDER_WAY } from "../support/mid-run";
import { makeDisk, Throttle, whyNoThrottle, type Disk } from "../support/loop-device";

/** Bad luck in mid-run: it ends in a sentence, and what was measured until then is kept. */

const faults = whyNoFaults();
if (faults) console.warn(`skipped: faults in mid-run (${faults})`);

describe.skipIf(faults)("on a file system that goes wrong in mid-run", () => {
  let faulty: FaultyDirectory;
  beforeEach(async () => {
    faulty = await makeFaulty();
  });
  afterEach(() => faulty.remove());

  it.each([
    ["I/O errors", "error 0 99999999", "write", /EIO while measuring/],
    ["I/O errors", "error 0 99999999", "read", /EIO while measuring/],
    ["a drive that fills up", "full", "write", /filled up while measuring/],
  ])("%s (%s), %s", async (_, fault, direction, words) => {
    const finished = await nerritAt(asked(faulty.directory, direction, 40), UNDER_WAY, () =>
      faulty.commit(fault),
    );
    expect(finished.status).toBe(1);
    expect(finished.stderr).toMatch(words);
    expect(documentOf(finished).samples.length).toBeGreaterThan(1);
    faulty.commit();
    expect(fs.readdirSync(faulty.directory)).toEqual([]);
  });

  eachFirst(["write"], ["read"])("a device that is detached, %s", async (direction) => {
    const disk = makeDisk(64, faulty.directory);
    try {
      const finished = await nerritAt(asked(disk.directory, direction, 40), UNDER_WAY, () =>
        faulty.die(),
      );
      expect(finished.status).toBe(1);
      expect(finished.stderr).toMatch(/while measuring/);
      expect(documentOf(finished).samples.length).toBeGreaterThan(1);
    } finally {
      disk.remove();
    }
  });

  it("a copy that cannot be written", async () => {
    const source = fs.mkdtempSync("/dev/shm/nerrit-source-");
    for (let i = 0; i < 20; i++)
      fs.writeFileSync(path.join(source, `f${i}`), Buffer.alloc(100_000, i));
    try {
      // The marker of the run's own folder still gets through; the files, which are larger, do not.
      faulty.commit("error 65536 99999999");
      const finished = await nerrit([
        "measure",
        "--drill",
        "ferry",
        "--from",
        source,
        "--to",
        faulty.directory,
        "--reserve",
        "0B",
        "--buffered",
      ]);
      expect(finished.status).toBe(1);
      expect(finished.stderr).toMatch(/EIO while writing the copy/);
      faulty.commit();
      expect(fs.readdirSync(faulty.directory)).toEqual([]);
      // The tester's folder is as it was.
      expect(fs.readdirSync(source)).toHaveLength(20);
      expect(fs.readFileSync(path.join(source, "f7")).equals(Buffer.alloc(100_000, 7))).toBe(true);
    } finally {
      fs.rmSync(source, { recursive: true });
    }
  });
});

const throttles = whyNoThrottle();

describe.skipIf(throttles)("on a disk that is taken away in mid-run", () => {
  let disk: Disk;
  let throttle: Throttle;
  beforeEach(() => {
    disk = makeDisk(64);
    throttle = new Throttle(disk);
    throttle.set(20);
  });
  afterEach(() => {
    throttle.set(1000);
    throttle.remove();
    disk.remove();
  });

  it("its directory replaced by a symbolic link", LONG, async () => {
    const [target, elsewhere] = ["target", "elsewhere"].map((name) =>
      path.join(disk.directory, name),
    );
    fs.mkdirSync(target!);
    fs.mkdirSync(elsewhere!);
    const finished = await nerritAt(
      [
        "measure",
        "--target",
        target!,
        "--direction",
        "write",
        "--seconds",
        "20",
        "--span",
        "4MiB",
        "--reserve",
        "0B",
        "--json",
      ],
      UNDER_WAY,
      () => {
        fs.rmdirSync(target!);
        fs.symlinkSync(elsewhere!, target!);
      },
      (pid) => throttle.hold(pid),
    );
    expect(finished.status).toBe(1);
    expect(finished.stderr).toMatch(/removed or replaced/);
    expect(documentOf(finished).samples.length).toBeGreaterThan(1);
    expect(fs.readdirSync(elsewhere!)).toEqual([]);
  });

  it("slower than 1 KB/s: it says so, and waits for nobody", LONG, async () => {
    fs.writeFileSync(path.join(disk.directory, "data"), Buffer.alloc(8 * 2 ** 20, 7));
    execFileSync("sync");
    throttle.set(0.0008);
    const finished = await nerrit(
      ["measure", "--target", disk.device, "--direction", "read", "--seconds", "2", "--json"],
      (pid) => throttle.hold(pid),
    );
    expect(finished.status).toBe(1);
    expect(finished.stderr).toMatch(/Not one request was answered within \d+ s/);
    // What is asked of it in a block of every lane would take it hours.
    throttle.set(1000);
    await until("the requests are answered", () => enginesOn(disk.device) === 0);
  });
});

const clock = whyNoClock();
if (clock) console.warn(`skipped: a clock that is set back in mid-run (${clock})`);

describe.skipIf(clock)("while the system's clock is set back", () => {
  it("every moment stands where it was, and the rate is right", async () => {
    const target = fs.mkdtempSync("/dev/shm/nerrit-clock-");
    try {
      const finished = await nerrit(
        [
          "measure",
          "--target",
          target,
          "--direction",
          "write",
          "--seconds",
          "5",
          "--span",
          "8MiB",
          "--reserve",
          "0B",
          "--buffered",
          "--json",
        ],
        undefined,
        clockThatJumps(4),
      );
      expect(finished.status).toBe(0);
      const { samples, meanMBps, bytes, ms } = documentOf(finished);
      expect(samples.every((sample, i) => sample.ms > (samples[i - 1]?.ms ?? 0))).toBe(true);
      // An hour in a run of five seconds is far from what any busy machine adds.
      expect(samples.at(-1)!.ms).toBeGreaterThan(4900);
      expect(samples.at(-1)!.ms).toBeLessThan(600_000);
      const off = bytes / 1e3 / ms / meanMBps;
      expect(Math.abs(Math.log10(off))).toBeLessThan(1);
    } finally {
      fs.rmSync(target, { recursive: true });
    }
  });
});

/** Measuring processes that have a device open. */
function enginesOn(device: string): number {
  return fs
    .readdirSync("/proc")
    .filter((name) => /^\d+$/.test(name))
    .filter((pid) => {
      try {
        return fs
          .readdirSync(`/proc/${pid}/fd`)
          .some((fd) => fs.readlinkSync(`/proc/${pid}/fd/${fd}`) === device);
      } catch {
        return false;
      }
    }).length;
}
