import { execFileSync } from "node:child_process";
import fs from "node:fs";
import os from "node:os";
import path from "node:path";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { nerrit } from "../support/command";
import { makeDisk, remount, whyNoDevices, type Disk } from "../support/loop-device";

const why = whyNoDevices();
if (why) console.warn(`skipped: measuring on loop devices (${why})`);

const quick = ["--seconds", "1", "--span", "16MiB", "--reserve", "1MiB", "--json"];

describe.skipIf(why)("nerrit measure on a real disk", () => {
  let disk: Disk;
  beforeAll(() => {
    disk = makeDisk(96);
  });
  afterAll(() => {
    disk.remove();
    fs.rmSync(path.join(os.tmpdir(), `nerrit-link-${process.pid}`), { force: true });
  });

  it.each(["read", "write"])("prints one sound document, %s", async (direction) => {
    const { status, stdout, stderr } = await nerrit([
      "measure",
      "--target",
      disk.directory,
      "--drill",
      "haul",
      "--direction",
      direction,
      "--block",
      "64KiB",
      "--depth",
      "4",
      "--repeats",
      "2",
      ...quick,
    ]);
    expect(stderr).toBe("");
    expect(status).toBe(0);
    const found = JSON.parse(stdout);
    const bytes = found.samples.reduce((sum: number, s: { bytes: number }) => sum + s.bytes, 0);
    expect(bytes).toBe(found.bytes);
    expect(found.requests * 65536).toBe(found.bytes);
    expect(found.repeats.n).toBe(2);
    // The kernel is asked a moment sooner and later, which a busy machine makes long; a count in other
    // units or of one direction only would be off by more. To a hundredth: tests/rates.
    expect(found.deviceBytes / found.bytes).toBeGreaterThan(0.5);
    expect(found.deviceBytes / found.bytes).toBeLessThan(2);
    const means = found.runs.map((r: { meanMBps: number }) => r.meanMBps);
    expect(found.meanMBps).toBeCloseTo((means[0] + means[1]) / 2, 6);
    const { p50, p95, p99, p999, max } = found.latencyUs;
    expect([p50, p95, p99, p999, max]).toEqual(
      [p50, p95, p99, p999, max].toSorted((a, b) => a - b),
    );
    expect(p50).toBeGreaterThan(0);
    expect(found.conditions).toMatchObject({
      fileSystem: "ext4",
      io: "direct",
      device: path.basename(disk.device),
    });
    expect(fs.readdirSync(disk.directory)).toEqual([]);
  });

  it("reads a block device past its end to its beginning, and never writes to one", async () => {
    const measure = ["measure", "--target", disk.device, "--seconds", "1", "--json"];
    const read = await nerrit([...measure, "--direction", "read"]);
    expect(read.status).toBe(0);
    const found = JSON.parse(read.stdout);
    expect(found.bytes).toBeGreaterThan(96 * 2 ** 20);
    const write = await nerrit([...measure, "--direction", "write"]);
    expect(write.status).toBe(2);
    expect(write.stderr).toMatch(/only ever reads/);
  });

  const refusals: [string, (d: Disk) => string[], RegExp][] = [
    ["no such directory", (d) => ["--target", `${d.directory}/none`], /There is no/],
    ["a file", (d) => ["--target", touch(`${d.directory}/file`)], /neither a directory nor/],
    ["a symbolic link", (d) => ["--target", link(d.directory)], /symbolic link/],
    ["too little space", (d) => ["--target", d.directory, "--span", "200MiB"], /do not fit/],
    ["the default reserve", (d) => ["--target", d.directory, "--reserve", "1GiB"], /reserve/],
    ["memory", () => ["--target", "/dev/shm"], /memory/],
  ];
  it.each(refusals)("refuses %s, leaving nothing behind", async (_, args, message) => {
    const given = args(disk);
    const before = fs.readdirSync(disk.directory);
    const { status, stderr } = await nerrit(["measure", "--direction", "read", ...quick, ...given]);
    expect(status).toBe(1);
    expect(stderr).toMatch(message);
    expect(fs.readdirSync(disk.directory)).toEqual(before);
  });

  it("refuses a read-only file system", async () => {
    remount(disk, "ro");
    const { status, stderr } = await nerrit([
      "measure",
      "--direction",
      "read",
      "--target",
      disk.directory,
      ...quick,
    ]);
    remount(disk, "rw");
    expect(status).toBe(1);
    expect(stderr).toMatch(/read-only/);
  });

  it("offers memory buffered, and flags it", async () => {
    // Of its own: the machine's is measured on by other tests, and one run at a time may do so.
    const memory = fs.mkdtempSync(path.join(os.tmpdir(), "nerrit-memory-"));
    execFileSync("mount", ["-t", "tmpfs", "-o", "size=64m", "tmpfs", memory]);
    try {
      const { status, stdout } = await nerrit([
        "measure",
        "--direction",
        "read",
        "--target",
        memory,
        "--buffered",
        ...quick,
      ]);
      expect(status).toBe(0);
      expect(JSON.parse(stdout).conditions.io).toBe("buffered");
    } finally {
      execFileSync("umount", [memory]);
      fs.rmdirSync(memory);
    }
  });

  it.each([
    [["measure"]],
    [["measure", "--target", "/tmp"]],
    [["measure", "--target", "/tmp", "--direction", "up"]],
    [["measure", "--target", "/tmp", "--direction", "read", "--block", "3"]],
    [["measure", "--target", "/tmp", "--direction", "read", "--block", "fast"]],
    [["measure", "--target", "/tmp", "--direction", "read", "--seconds", "-1"]],
    [["measure", "--target", "/tmp", "--direction", "read", "--depth", "1.5"]],
    [["measure", "--target", "/tmp", "--direction", "read", "--drill", "sprint"]],
    [["ceiling"]],
    [["ceiling", "warp-9"]],
    [["ceiling", "usb-5g", "--set", "payload=1"]],
    [["sing"]],
    [[]],
  ])("takes %j for wrong usage", async (args) => {
    const { status, stderr } = await nerrit(args);
    expect(status).toBe(2);
    expect(stderr).not.toBe("");
  });
});

describe("nerrit ceiling", () => {
  it("prints a mode's ledger and the list of modes", async () => {
    const one = JSON.parse((await nerrit(["ceiling", "usb-10g", "--json"])).stdout);
    expect(one.mode.id).toBe("usb-10g");
    expect(one.read.rows.map((row: { step: string }) => row.step)).toEqual([
      "signalling",
      "line code",
      "framing",
      "framing",
      "transport",
    ]);
    const all = JSON.parse((await nerrit(["ceiling", "--list", "--json"])).stdout);
    expect(all.map(({ id }: { id: string }) => id)).toContain("pcie-4.0-x4");
    const listed = all.find(({ id }: { id: string }) => id === "usb-10g");
    expect(listed.hardCeilingMBps.read).toBe(one.read.hardCeilingMBps);
  });
});

function touch(file: string): string {
  fs.writeFileSync(file, "mine");
  return file;
}

function link(directory: string): string {
  const made = path.join(os.tmpdir(), `nerrit-link-${process.pid}`);
  fs.rmSync(made, { force: true });
  fs.symlinkSync(directory, made);
  return made;
}
