import { execFileSync, spawn } from "node:child_process";
import fs from "node:fs";
import path from "node:path";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { nerrit, ROOT, until } from "../support/command";
import { makeDisk, whyNoDevices, type Disk } from "../support/loop-device";

const why = whyNoDevices();
if (why) console.warn(`skipped: watching loop devices (${why})`);
const MIB = 2 ** 20;

interface Told {
  watched: {
    name: string;
    kind: string;
    seconds: number;
    readBytes: number;
    writtenBytes: number;
    stretches: { from: string; to: string; seconds: number; written: number; writeMBps: number }[];
  }[];
}

describe.skipIf(why)("nerrit watch and nerrit drives, on a loop device", () => {
  let disk: Disk;
  beforeAll(() => {
    disk = makeDisk(128);
  });
  afterAll(() => disk.remove());

  /** Writes so much past memory, in blocks of a mebibyte. */
  const copy = (mebibytes: number) =>
    execFileSync("dd", [
      "if=/dev/zero",
      `of=${path.join(disk.directory, "copied")}`,
      "bs=1M",
      `count=${mebibytes}`,
      "oflag=direct",
      "status=none",
    ]);

  it("counts what another program writes between two marks, as a stopwatch would", async () => {
    const child = spawn(
      process.execPath,
      [
        path.join(ROOT, "bin/nerrit.mjs"),
        "watch",
        disk.device,
        "lo",
        "--every",
        "0.1",
        "--progress",
        "--json",
      ],
      { stdio: ["pipe", "pipe", "pipe"] },
    );
    let said = "";
    let progress = "";
    child.stdout.on("data", (chunk) => (said += chunk));
    child.stderr.on("data", (chunk) => (progress += chunk));
    const over = new Promise((resolve) => child.on("close", resolve));
    // It has looked at the counters before, and again after, each of what happens.
    const saidTwice = (mark: string) =>
      until(`it tells of ${mark}`, () => progress.split(`${mark}: `).length > 2);
    await saidTwice(path.basename(disk.device));
    child.stdin.write("copy starts\n");
    await saidTwice("copy starts");
    copy(48);
    const copied = progress.length;
    await until("it looks at what was copied", () => progress.slice(copied).split("\n").length > 2);
    child.stdin.write("copy ends\n");
    await saidTwice("copy ends");
    child.kill("SIGINT");
    expect(await over).toBe(0);
    const { watched } = JSON.parse(said) as Told;
    expect(watched.map(({ kind }) => kind)).toEqual(["device", "interface"]);
    const [device] = watched;
    expect(device!.writtenBytes).toBeGreaterThanOrEqual(48 * MIB);
    expect(device!.writtenBytes).toBeLessThan(52 * MIB);
    expect(device!.stretches.map(({ from, to }) => `${from} to ${to}`)).toEqual([
      "start to copy starts",
      "copy starts to copy ends",
      "copy ends to end",
    ]);
    const [before, during, after] = device!.stretches;
    expect(during!.written).toBeGreaterThanOrEqual(48 * MIB);
    expect(before!.written + after!.written).toBeLessThan(4 * MIB);
    expect((during!.writeMBps * during!.seconds * 1e6) / during!.written).toBeCloseTo(1, 3);
  });

  it("ends by itself, and reads well on a terminal 80 wide", async () => {
    const { status, stdout } = await nerrit([
      "watch",
      path.basename(disk.device),
      "--seconds",
      "0.5",
    ]);
    expect(status).toBe(0);
    expect(stdout).toMatch(/peak of a second/);
    for (const line of stdout.split("\n")) expect(line.length).toBeLessThanOrEqual(80);
  });

  it.each([
    [["nothing-such"], 1, /counts nothing for nothing-such/],
    [["lo", "--every", "never"], 2, /--every/],
  ])("%j is refused in a sentence", async (args, status, words) => {
    const finished = await nerrit(["watch", ...args]);
    expect(finished.status).toBe(status);
    expect(finished.stderr).toMatch(words);
  });

  it("lists the device with its place, and what it is", async () => {
    const { status, stdout } = await nerrit(["drives", "--json"]);
    expect(status).toBe(0);
    const { drives } = JSON.parse(stdout) as {
      drives: { id: string; kind: string; bytes: number; places: { point: string | null }[] }[];
    };
    const own = drives.find(({ id }) => id === path.basename(disk.device));
    expect(own).toMatchObject({ kind: "loop", bytes: 128 * MIB });
    expect(own!.places[0]!.point).toBe(disk.directory);
    const text = await nerrit(["drives"]);
    expect(text.stdout).toContain(disk.directory);
    expect(fs.existsSync(disk.directory)).toBe(true);
  });
});
