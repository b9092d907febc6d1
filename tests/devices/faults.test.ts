import { execFileSync } from "node:child_process";
import fs from "node:fs";
import path from "node:path";
import { afterEach, beforeEach, describe, expect, it } from "vitest";
import { nerrit, until, type Finished } from "../support/command";
import { clockThatJumps, whyNoClock } from "../support/clock";
import { makeFaulty, whyNoFaults, type FaultyDirectory } from "../support/faulty-fs";
import { makeDisk, Throttle, whyNoThrottle, type Disk } from "../support/loop-device";

/** Bad luck in mid-run: it ends in a sentence, and what was measured until then is kept. */

interface Document {
  meanMBps: number;
  bytes: number;
  ms: number;
  samples: { ms: number; bytes: number }[];
  events: { kind: string; text: string }[];
}
const documentOf = ({ stdout }: Finished) => JSON.parse(stdout) as Document;

const faults = whyNoFaults();
if (faults) console.warn(`skipped: faults in mid-run (${faults})`);

describe.skipIf(faults)("on a file system that goes wrong in mid-run", () => {
  let faulty: FaultyDirectory;
  beforeEach(async () => {
    faulty = await makeFaulty();
  });
  afterEach(() => faulty.remove());

  const run = (direction: string, seconds: number, ...more: string[]) =>
    nerrit([
      ...[
        "measure",
        "--target",
        faulty.directory,
        "--direction",
        direction,
        "--seconds",
        String(seconds),
      ],
      ...[
        "--span",
        "8MiB",
        "--block",
        "64KiB",
        "--depth",
        "4",
        "--reserve",
        "0B",
        "--json",
        ...more,
      ],
    ]);
  /** Lets a run get into its counted time. */
  const laterOn = (work: () => void, ms = 4000) => setTimeout(work, ms);

  /** Samples that show a run to have been under way. */
  const UNDER_WAY = 3;
  /** Tries again, later into the run, where a busy machine had hardly begun it. */
  async function inMidRun(attempt: (ms: number) => Promise<Finished>): Promise<Finished> {
    for (const ms of [4000, 12_000]) {
      const finished = await attempt(ms);
      const begun = !/while preparing/.test(finished.stderr);
      if (begun && documentOf(finished).samples.length > UNDER_WAY) return finished;
      faulty.remove();
      faulty = await makeFaulty();
    }
    return attempt(24_000);
  }

  it.each([
    ["I/O errors", "error 0 99999999", "write", /EIO while measuring/],
    ["I/O errors", "error 0 99999999", "read", /EIO while measuring/],
    ["a drive that fills up", "full", "write", /filled up while measuring/],
  ])("%s (%s), %s", async (_, fault, direction, words) => {
    const finished = await inMidRun(async (ms) => {
      const timer = laterOn(() => faulty.commit(fault), ms);
      const ended = await run(direction, 40);
      clearTimeout(timer);
      return ended;
    });
    expect(finished.status).toBe(1);
    expect(finished.stderr).toMatch(words);
    expect(documentOf(finished).samples.length).toBeGreaterThan(UNDER_WAY);
    faulty.commit();
    expect(fs.readdirSync(faulty.directory)).toEqual([]);
  });

  /** `npm run soak` asks for a minute. */
  const silence = Number(process.env.NERRIT_SILENCE_SECONDS ?? 6);
  it("a drive that stops answering for a while, and comes back", async () => {
    laterOn(() => faulty.commit("hang"));
    setTimeout(() => faulty.commit(), 4000 + silence * 1000);
    const finished = await run("write", silence + 6);
    expect(finished.stderr).toBe("");
    expect(finished.status).toBe(0);
    const { events, samples, meanMBps } = documentOf(finished);
    const stalled = events.find(({ kind }) => kind === "stalled");
    expect(Number(/([\d.]+) s/.exec(stalled!.text)![1])).toBeGreaterThan(silence - 2);
    expect(samples.at(-1)!.ms).toBeGreaterThan((silence + 6) * 1000 - 100);
    expect(meanMBps).toBeGreaterThan(0);
  }, 180_000);

  it.each(["read", "write"])("a device that is detached, %s", async (direction) => {
    const finished = await inMidRun(async (ms) => {
      const disk = makeDisk(64, faulty.directory);
      const timer = laterOn(() => faulty.die(), ms);
      try {
        return await nerrit([
          ...["measure", "--target", disk.directory, "--direction", direction, "--seconds", "40"],
          ...["--span", "8MiB", "--reserve", "0B", "--json"],
        ]);
      } finally {
        clearTimeout(timer);
        disk.remove();
      }
    });
    expect(finished.status).toBe(1);
    expect(finished.stderr).toMatch(/while measuring/);
    expect(documentOf(finished).samples.length).toBeGreaterThan(UNDER_WAY);
  });

  it("a drive that stops answering for good", async () => {
    laterOn(() => faulty.commit("hang"));
    const finished = await run("write", 5);
    expect(finished.status).toBe(1);
    expect(finished.stderr).toMatch(/did not answer/);
    expect(documentOf(finished).samples.length).toBeGreaterThan(UNDER_WAY);
  });

  it("a drive so slow that nothing comes", async () => {
    faulty.commit("slow 3000000");
    const finished = await nerrit([
      ...["measure", "--target", faulty.directory, "--drill", "long-fill", "--size", "8MiB"],
      ...["--seconds", "1", "--reserve", "0B", "--json"],
    ]);
    faulty.commit();
    expect(finished.status).toBe(1);
    expect(finished.stderr).toMatch(/Not one request was answered/);
  });

  it("a copy that cannot be written", async () => {
    const source = fs.mkdtempSync("/dev/shm/nerrit-source-");
    for (let i = 0; i < 20; i++)
      fs.writeFileSync(path.join(source, `f${i}`), Buffer.alloc(100_000, i));
    try {
      // The marker of the run's own folder still gets through; the files, which are larger, do not.
      faulty.commit("error 65536 99999999");
      const finished = await nerrit([
        ...["measure", "--drill", "ferry", "--from", source, "--to", faulty.directory],
        ...["--reserve", "0B", "--buffered"],
      ]);
      expect(finished.status).toBe(1);
      expect(finished.stderr).toMatch(/EIO while writing the copy/);
      faulty.commit();
      expect(fs.readdirSync(faulty.directory)).toEqual([]);
      // The tester's folder is as it was.
      expect(fs.readdirSync(source)).toHaveLength(20);
      expect(fs.readFileSync(path.join(source, "f7"))).toEqual(Buffer.alloc(100_000, 7));
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
  const run = (target: string, ...more: string[]) =>
    nerrit(
      [
        ...["measure", "--target", target, "--seconds", "20", "--span", "4MiB"],
        ...["--reserve", "0B", "--json", ...more],
      ],
      (pid) => throttle.hold(pid),
    );

  it("its directory replaced by a symbolic link", async () => {
    const [target, elsewhere] = ["target", "elsewhere"].map((name) =>
      path.join(disk.directory, name),
    );
    fs.mkdirSync(target!);
    fs.mkdirSync(elsewhere!);
    setTimeout(() => {
      fs.rmdirSync(target!);
      fs.symlinkSync(elsewhere!, target!);
    }, 4000);
    const finished = await run(target!, "--direction", "write");
    expect(finished.status).toBe(1);
    expect(finished.stderr).toMatch(/removed or replaced/);
    expect(documentOf(finished).samples.length).toBeGreaterThan(3);
    expect(fs.readdirSync(elsewhere!)).toEqual([]);
  });

  it("slower than 1 KB/s: it says so, and waits for nobody", async () => {
    fs.writeFileSync(path.join(disk.directory, "data"), Buffer.alloc(8 * 2 ** 20, 7));
    execFileSync("sync");
    throttle.set(0.0008);
    const began = Date.now();
    const finished = await nerrit(
      ["measure", "--target", disk.device, "--direction", "read", "--seconds", "2", "--json"],
      (pid) => throttle.hold(pid),
    );
    expect(finished.status).toBe(1);
    expect(finished.stderr).toMatch(/Not one request was answered within \d+ s/);
    expect(Date.now() - began).toBeLessThan(60_000);
    throttle.set(1000);
    await until("the requests are answered", () => enginesOn(disk.device) === 0, 60_000);
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
          ...["measure", "--target", target, "--direction", "write", "--seconds", "5"],
          ...["--span", "8MiB", "--reserve", "0B", "--buffered", "--json"],
        ],
        undefined,
        clockThatJumps(4),
      );
      expect(finished.status).toBe(0);
      const { samples, meanMBps, bytes, ms } = documentOf(finished);
      expect(samples.every((sample, i) => sample.ms > (samples[i - 1]?.ms ?? 0))).toBe(true);
      expect(samples.at(-1)!.ms).toBeGreaterThan(4900);
      expect(samples.at(-1)!.ms).toBeLessThan(8000);
      expect(bytes / 1e3 / ms / meanMBps).toBeCloseTo(1, 0);
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
