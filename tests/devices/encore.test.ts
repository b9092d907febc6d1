import { execFileSync } from "node:child_process";
import fs from "node:fs";
import path from "node:path";
import { afterAll, afterEach, beforeAll, beforeEach, describe, expect, it } from "vitest";
import { nerrit, nerritAt } from "../support/command";
import {
  makeDisk,
  makeLoop,
  Throttle,
  whyNoDevices,
  whyNoThrottle,
  type Disk,
} from "../support/loop-device";
import { LONG } from "../support/long";

const why = whyNoDevices();
if (why) console.warn(`skipped: recorded work done again (${why})`);
const whyNotSlow = why ?? whyNoThrottle();

const KIB = 2 ** 10;
type Row = [seconds: number, operation: string, offset: number, bytes: number, took: number];
const table = (rows: readonly Row[]) =>
  `seconds,operation,offset,bytes,seconds_to_answer,program\n${rows.map((row) => `${row.join()},work`).join("\n")}\n`;

/** Work in which one request waits for the other, with a write that the cache is emptied around now and then. */
const WORK: Row[] = Array.from({ length: 300 }, (_, i): Row => {
  const operation =
    i % 50 === 7 ? "flush+write+flush" : i % 50 === 9 ? "flush" : i % 2 ? "write" : "read";
  const bytes = operation === "flush" ? 0 : (1 + (i % 8)) * 4 * KIB;
  return [i * 0.001, operation, ((i * 37) % 200) * 128 * KIB, bytes, 0.0004];
});
const bytesOf = (rows: readonly Row[], ...operations: string[]) =>
  rows.reduce((sum, [, name, , bytes]) => sum + (operations.includes(name) ? bytes : 0), 0);
const READ = bytesOf(WORK, "read");
const WRITTEN = bytesOf(WORK, "write", "flush+write+flush");

describe.skipIf(why)("recorded work, done again on real disks", () => {
  let disk: Disk;
  let folder: string;
  let file: string;
  beforeAll(() => {
    disk = makeDisk(200);
  });
  afterAll(() => disk.remove());
  beforeEach(() => {
    folder = fs.mkdtempSync("/dev/shm/nerrit-encore-");
    file = path.join(folder, "work.csv");
    fs.writeFileSync(file, table(WORK));
  });
  afterEach(() => fs.rmSync(folder, { recursive: true }));

  const asked = (target: string, ...more: string[]) => [
    "measure",
    "--drill",
    "encore",
    "--target",
    target,
    "--reserve",
    "1MiB",
    ...more,
  ];
  const encore = async (target: string, ...more: string[]) => {
    const { status, stdout, stderr } = await nerrit([...asked(target, ...more), "--json"]);
    expect([status, stderr]).toEqual([0, ""]);
    return JSON.parse(stdout);
  };

  it("moves what the recording moved, by the kernel’s count too, and says how long it waited", async () => {
    const done = await encore(disk.directory, "--recording", file);
    expect(done).toMatchObject({
      requests: WORK.length - 6,
      bytes: READ + WRITTEN,
      flushes: 6 + 2 * 6,
      leftOut: 0,
      folded: false,
    });
    expect(done.deviceBytes / done.bytes).toBeGreaterThan(0.999);
    expect(done.deviceBytes / done.bytes).toBeLessThan(1.02);
    expect(done.runs[0].steps[0]).toMatchObject({ kind: "replay", written: WRITTEN });
    expect(done.waitedSeconds).toBeGreaterThan(0);
    expect(done.waitedSeconds).toBeLessThanOrEqual(done.seconds);
    // It waits for its pauses, which are most of the recording.
    expect(done.seconds).toBeGreaterThan(0.6 * done.recordedSeconds);
    const moved = done.samples.reduce((sum: number, one: { bytes: number }) => sum + one.bytes, 0);
    expect(moved).toBe(done.bytes);
    expect(fs.readdirSync(disk.directory)).toEqual([]);
  });

  it(
    "goes at its recorded times, or without its pauses, as often as it is told",
    LONG,
    async () => {
      const timed = await encore(disk.directory, "--recording", file, "--pace", "as-recorded");
      expect(timed.seconds).toBeGreaterThanOrEqual(timed.recordedSeconds);
      const bare = await encore(
        disk.directory,
        "--recording",
        file,
        "--pauses",
        "left-out",
        "--repeats",
        "2",
      );
      expect(bare.runs).toHaveLength(2);
      expect(bare.bytes).toBe(2 * (READ + WRITTEN));
    },
  );

  it("does several one after another, or side by side", LONG, async () => {
    const other = path.join(folder, "other.csv");
    fs.writeFileSync(other, table(WORK.slice(0, 40)));
    const both = ["--recording", file, "--recording", other];
    const inTurn = await encore(disk.directory, ...both);
    expect(inTurn.runs[0].steps).toHaveLength(2);
    const atOnce = await encore(disk.directory, ...both, "--order", "at-once");
    expect(atOnce.runs[0].steps).toHaveLength(1);
    expect(atOnce.bytes).toBe(inTurn.bytes);
    expect(atOnce.recordedSeconds).toBeLessThan(inTurn.recordedSeconds);
  });

  it("is folded into a drive that is too small for it, and says so", LONG, async () => {
    const wide = WORK.map(([at, operation, offset, bytes, took]): Row => [
      at,
      operation,
      offset * 8,
      bytes * 8,
      took,
    ]);
    fs.writeFileSync(file, table(wide));
    const { stdout, status } = await nerrit(
      asked(disk.directory, "--recording", file, "--span", "2MiB"),
    );
    expect(status).toBe(0);
    expect(stdout).toMatch(/less room than the work touched/);
    const done = await encore(disk.directory, "--recording", file, "--span", "2MiB");
    expect(done).toMatchObject({ folded: true, bytes: 8 * (READ + WRITTEN) });
  });

  it("reads a block device where the work only reads, and writes to none", LONG, async () => {
    const loop = makeLoop(32);
    try {
      fs.writeFileSync(file, table(WORK.filter(([, operation]) => operation === "read")));
      const done = await encore(loop.device, "--recording", file);
      expect(done).toMatchObject({ bytes: READ });
      fs.writeFileSync(file, table(WORK));
      const refused = await nerrit(asked(loop.device, "--recording", file));
      expect(refused).toMatchObject({
        status: 2,
        stderr: expect.stringMatching(/only ever reads/),
      });
    } finally {
      loop.remove();
    }
  });

  it.skipIf(whyNotSlow)(
    "takes as long as the link lets it, and can be stopped in the middle",
    async () => {
      const throttle = new Throttle(disk);
      throttle.set(2);
      try {
        const [command, ...words] = throttle.begin;
        const slow = [
          ...words,
          process.execPath,
          "bin/nerrit.mjs",
          ...asked(disk.directory, "--recording", file, "--json"),
        ];
        const done = JSON.parse(execFileSync(command, slow, { encoding: "utf8" }));
        // Each way has its own limit, of which the kernel gives a little before.
        expect(done.seconds).toBeGreaterThan((0.7 * Math.max(READ, WRITTEN)) / 2e6);
        expect(done.waitedSeconds / done.seconds).toBeGreaterThan(0.5);
      } finally {
        throttle.remove();
      }
      const long = WORK.map(([at, ...rest]): Row => [at * 2000, ...rest]);
      fs.writeFileSync(file, table(long));
      const stopped = await nerritAt(asked(disk.directory, "--recording", file), /MB\/s/, (pid) =>
        process.kill(pid, "SIGINT"),
      );
      expect(stopped.stderr).toMatch(/stopped before the end/);
      expect(fs.readdirSync(disk.directory)).toEqual([]);
    },
  );

  it.skipIf(whyNotSlow)(
    "can be stopped while many writes wait for flushes before them",
    LONG,
    async () => {
      const throttle = new Throttle(disk);
      try {
        // None waits for another, and the drive is too slow for all of them.
        const deep = Array.from({ length: 500 }, (_, i): Row => [
          i / 1e4,
          "flush+write",
          i * 64 * KIB,
          64 * KIB,
          60,
        ]);
        fs.writeFileSync(file, table(deep));
        const stopped = await nerritAt(
          asked(disk.directory, "--recording", file, "--pace", "as-recorded"),
          /MB\/s/,
          (pid) => process.kill(pid, "SIGINT"),
          (pid) => {
            throttle.set(20);
            throttle.hold(pid);
          },
        );
        expect(stopped.stderr).toMatch(/stopped before the end/);
        expect(fs.readdirSync(disk.directory)).toEqual([]);
      } finally {
        throttle.remove();
      }
    },
  );

  it.each([
    ["what is no recording", "seconds,rate\n1,2\n", /work\.csv/],
    [
      "a recording that moves nothing",
      table([[0, "flush", 0, 0, 0.1]]),
      /nothing was read or written/,
    ],
    [
      "a request that no system sends",
      table([[0, "read", 0, 2 ** 31, 0.1]]),
      /longer than any system/,
    ],
  ])("refuses %s", async (_, text, words) => {
    fs.writeFileSync(file, text);
    const { status, stderr } = await nerrit(asked(disk.directory, "--recording", file));
    expect([status, stderr]).toEqual([2, expect.stringMatching(words)]);
  });

  it("asks for a recording, and takes one for no other drill", async () => {
    expect(await nerrit(asked(disk.directory))).toMatchObject({
      status: 2,
      stderr: expect.stringMatching(/--recording/),
    });
    const haul = [
      "measure",
      "--target",
      disk.directory,
      "--direction",
      "read",
      "--recording",
      file,
    ];
    expect(await nerrit(haul)).toMatchObject({ status: 2, stderr: expect.stringMatching(/haul/) });
  });
});
