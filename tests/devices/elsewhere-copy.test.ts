import fs from "node:fs";
import path from "node:path";
import { afterAll, afterEach, beforeAll, beforeEach, describe, expect, it } from "vitest";
import { nerrit } from "../support/command";
import { HERE, measuredIn, measureElsewhere, whyNoProgram } from "../support/elsewhere";
import { makeFaulty, whyNoFaults } from "../support/faulty-fs";
import { makeDisk, whyNoDevices, type Disk } from "../support/loop-device";

const why = whyNoDevices() ?? whyNoProgram();
if (why) console.warn(`skipped: copies by the program that measures elsewhere (${why})`);

/** A made-up copy that lasts until an outsider ends it: more than the disk takes in a moment. */
const LONG = ["--drill", "ferry", "--mix", "60 x 1MB", "--repeats", "50"];

describe.skipIf(why)("a copy by the program that measures elsewhere", () => {
  let disk: Disk;
  let folder: string;
  let source: string;
  let out: string;
  beforeAll(() => {
    disk = makeDisk(96);
  });
  afterAll(() => disk.remove());
  beforeEach(() => {
    folder = fs.mkdtempSync(path.join("/dev/shm", "nerrit-copy-"));
    out = path.join(folder, "run.jsonl");
    source = path.join(folder, "source");
    fs.mkdirSync(path.join(source, "Prüfung 測定", "deep"), { recursive: true });
    fs.writeFileSync(path.join(source, "b"), Buffer.alloc(3_000_001, "b"));
    fs.writeFileSync(path.join(source, "empty"), "");
    fs.writeFileSync(path.join(source, "Prüfung 測定", "deep", "a"), Buffer.alloc(4096, "a"));
    fs.symlinkSync("/etc", path.join(source, "way out"));
  });
  afterEach(() => fs.rmSync(folder, { recursive: true }));

  const measure = (args: string[], heard?: (stderr: string, pid: number) => void) =>
    measureElsewhere(HERE, [...args, "--reserve", "1MiB", "--out", out, "--progress"], heard);
  const onDisk = ["--target", "", "--drill", "ferry"];
  const toDisk = (...more: string[]) => measure([...onDisk.with(1, disk.directory), ...more]);
  const onlyRun = () => measuredIn(out)[0]!.runs[0]!;

  it("takes a folder’s files over whole, follows no link, and says what was left out", async () => {
    const { status, stderr } = await toDisk("--from", source, "--verify", "yes", "--keep", "yes");
    expect([status, stderr]).toEqual([0, expect.stringMatching(/the copy stays/)]);
    const [one] = measuredIn(out);
    expect(one).toMatchObject({ status: "done", targets: [disk.directory, source] });
    const { steps, events, samples } = one!.runs[0]!;
    expect(events.map(({ text }) => text).join()).toMatch(/1 that are links/);
    const { copy, bytes, requests } = steps[0]!;
    expect([bytes, requests]).toEqual([3_004_097, 3]);
    expect(samples.reduce((sum, row) => sum + row[2], 0)).toBe(bytes);
    expect(copy).toMatchObject({ files: 3, verified: 3, differing: [] });
    const kept = copy!.kept!;
    const names = (root: string) => fs.readdirSync(root, { recursive: true }).map(String).sort();
    expect(names(kept)).toEqual(names(source).filter((name) => !name.startsWith("way out")));
    const [there, here] = [kept, source].map(
      (root) => (name: string) => fs.readFileSync(path.join(root, name)),
    );
    for (const name of ["b", "Prüfung 測定/deep/a"])
      expect(there!(name).equals(here!(name))).toBe(true);
    fs.rmSync(kept, { recursive: true });
    expect(fs.readdirSync(disk.directory)).toEqual([]);
  });

  it("counts each side’s waiting, and none for a side that there is not", async () => {
    await toDisk("--mix", "300 x 4KiB, 2 x 5MB");
    const made = onlyRun().steps[0]!;
    expect(made.copy).toMatchObject({ files: 302, waitedForFromMs: 0, fromMemory: null });
    expect(made.copy!.waitedForToMs).toBeLessThanOrEqual(made.ms);
    expect(made.copy!.perFileMs).not.toBeNull();
    fs.rmSync(out);
    await toDisk("--mix", "30 x 64KiB", "--direction", "read");
    const read = onlyRun().steps[0]!;
    expect(read).toMatchObject({ bytes: 30 * 65536, written: 0 });
    expect(read.copy).toMatchObject({ waitedForToMs: 0 });
    expect(read.copy!.waitedForFromMs).toBeGreaterThan(0);
    expect(fs.readdirSync(disk.directory)).toEqual([]);
  });

  it("makes up the files that Nerrit makes up of the same mix and seed", async () => {
    const mix = ["--mix", "450 x 3B, 5 x 70KB", "--seed", "99", "--keep", "yes"];
    await toDisk(...mix);
    const mine = onlyRun().steps[0]!.copy!.kept!;
    const { status, stderr } = await nerrit([
      "measure",
      "--drill",
      "ferry",
      "--to",
      disk.directory,
      "--reserve",
      "1MiB",
      ...mix,
    ]);
    expect([status, stderr]).toEqual([0, ""]);
    const all = fs.readdirSync(disk.directory);
    const sizes = (root: string) =>
      fs
        .readdirSync(root, { recursive: true, withFileTypes: true })
        .filter((entry) => entry.isFile())
        .map(({ name, parentPath }) => [name, fs.statSync(path.join(parentPath, name)).size])
        .sort();
    const [first, second] = all.map((name) => sizes(path.join(disk.directory, name)));
    for (const name of all) fs.rmSync(path.join(disk.directory, name), { recursive: true });
    expect(all).toHaveLength(2);
    expect(all).toContain(path.basename(mine));
    expect(first).toHaveLength(455);
    expect(first).toEqual(second);
  });

  it("leaves nothing behind at Ctrl-C, and at the next start nothing of one that was killed", async () => {
    for (const signal of ["SIGINT", "SIGKILL"] as const) {
      fs.rmSync(out, { force: true });
      let sent = false;
      await measure([...LONG, "--target", disk.directory], (said, pid) => {
        if (sent || !/MB\/s/.test(said)) return;
        sent = true;
        process.kill(pid, signal);
      });
      expect(measuredIn(out)[0]!.status).toBe(signal === "SIGINT" ? "stopped" : "interrupted");
      if (signal === "SIGINT") expect(fs.readdirSync(disk.directory)).toEqual([]);
    }
    // Where a copy goes is looked through, too; a folder that is only read keeps even that.
    const here = path.join(disk.directory, "here");
    const leftIn = [disk.directory, here, folder].map((root) =>
      path.join(root, ".nerrit-scratch-22222222-2222-4222-8222-222222222222"),
    );
    for (const left of leftIn) {
      fs.mkdirSync(left, { recursive: true });
      fs.writeFileSync(path.join(left, ".made-by-nerrit"), "");
    }
    fs.writeFileSync(path.join(here, "file"), "1");
    fs.rmSync(out);
    await measure(["--drill", "ferry", "--target", here, "--to", disk.directory]);
    fs.rmSync(here, { recursive: true });
    fs.rmSync(out);
    await toDisk("--from", folder);
    expect(leftIn.map((left) => fs.existsSync(left))).toEqual([false, false, true]);
    // A folder of that name without the marker is somebody’s own.
    const own = path.join(disk.directory, ".nerrit-scratch-11111111-1111-4111-8111-111111111111");
    fs.mkdirSync(own);
    fs.writeFileSync(path.join(own, "mine"), "mine");
    fs.rmSync(out);
    await toDisk("--mix", "3 x 1KB");
    expect(fs.readdirSync(disk.directory)).toEqual([path.basename(own)]);
    fs.rmSync(own, { recursive: true });
  });

  it("says so where a folder has no file, and where the copy has no room", async () => {
    const bare = path.join(folder, "bare");
    fs.mkdirSync(bare);
    expect(await toDisk("--from", bare)).toMatchObject({
      status: 1,
      stderr: expect.stringMatching(/no file in .* to copy/),
    });
    fs.rmSync(out);
    expect(await toDisk("--mix", "100 x 2MB")).toMatchObject({
      status: 1,
      stderr: expect.stringMatching(/has room for/),
    });
    expect(fs.readdirSync(disk.directory)).toEqual([]);
  });

  it.each([
    ["a second folder that is none", ["--from", "/no/such"], 1, /There is no/],
    ["to copy onto memory", ["--to", "/dev/shm"], 1, /is memory/],
    ["two second folders", ["--from", "/tmp", "--to", "/tmp"], 2, /the other with/],
  ])("refuses %s", async (_, args, exit, words) => {
    const { status, stderr } = await toDisk(...args);
    expect(stderr).toMatch(words);
    expect(status).toBe(exit);
  });

  it("wants the second folder named of an order that copies from one, and takes it for no other use", async () => {
    const order = path.join(folder, "order.json");
    const print = (...args: string[]) =>
      measureElsewhere(HERE, ["--print-order", "--drill", ...args]);
    const steps = await Promise.all([
      print("ferry", "--from", "/there"),
      print("ferry", "--to", "/there"),
      print("proof", "--span", "1MiB"),
    ]);
    const [from, to, proof] = steps.map(({ stdout }) => JSON.parse(stdout));
    const ordered = (whole: object, ...args: string[]) => {
      fs.writeFileSync(order, JSON.stringify(whole));
      return measure(["--order", order, "--target", disk.directory, ...args]);
    };
    const both = { ...from, measurements: [...from.measurements, ...to.measurements] };
    const refused = [
      await ordered(from),
      await ordered(from, "--to", source),
      await ordered(to, "--from", source),
      await ordered(proof, "--from", source),
      await ordered(both, "--from", source),
    ];
    expect(refused.map(({ status }) => status)).toEqual([2, 2, 2, 2, 2]);
    expect(refused[4]!.stderr).toMatch(/one at a time/);
    expect(fs.readdirSync(source)).toHaveLength(4);
  });

  it.skipIf(whyNoFaults())("finds a file that the drive damaged, by its name", async () => {
    const faulty = await makeFaulty();
    try {
      faulty.commit(`flip ${2_000_077}`);
      const { stderr } = await measure([
        ...onDisk.with(1, faulty.directory),
        "--from",
        source,
        "--verify",
        "yes",
      ]);
      expect(stderr).toMatch(/1 of 1: done/);
      expect(onlyRun().steps[0]!.copy).toMatchObject({ verified: 3, differing: ["b"] });
    } finally {
      await faulty.remove();
    }
  });
});
