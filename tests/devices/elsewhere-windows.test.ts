import { spawn } from "node:child_process";
import { once } from "node:events";
import fs from "node:fs";
import path from "node:path";
import { afterAll, beforeAll, beforeEach, describe, expect, it } from "vitest";
import { until } from "../support/command";
import { makeWine, measuredIn, measureElsewhere, SHORT, whyNoWine } from "../support/elsewhere";
import { makeFaulty, whyNoFaults } from "../support/faulty-fs";
import { eachFirst, LONG } from "../support/long";
import { makeDisk, whyNoDevices, type Disk } from "../support/loop-device";

const why = whyNoDevices() ?? whyNoWine();
if (why) console.warn(`skipped: the program for Windows (${why})`);

/** A terminal, in which Ctrl-C can be pressed: Windows knows it from nowhere else. */
const SCRIPT = "/usr/bin/script";

/** What is not Latin, and is longer than Windows takes a path to be without being asked. */
const FAR = ["Prüfstand 測定", ..."abcdef"].map((word) => word.padEnd(60, "-")).join("/");

/** The program for Windows under Wine. Its rates are Wine's, so nothing is held against them. */
describe.skipIf(why)("the program for Windows", () => {
  let wine: ReturnType<typeof makeWine>;
  let disk: Disk;
  let folder: string;
  let out: string;
  let count = 0;
  beforeAll(() => {
    wine = makeWine();
    disk = makeDisk(96);
    folder = fs.mkdtempSync(path.join("/dev/shm", "nerrit-windows-"));
  });
  afterAll(() => {
    wine.remove();
    disk.remove();
    fs.rmSync(folder, { recursive: true });
  });
  beforeEach(() => {
    out = path.join(folder, `run-${(count += 1)}.jsonl`);
  });

  const measure = (
    args: string[],
    heard?: (stderr: string, pid: number) => void,
    target = disk.directory,
  ) =>
    measureElsewhere(
      wine,
      [
        ...args,
        "--reserve",
        "1MiB",
        "--progress",
        "--target",
        wine.pathOf(target),
        "--out",
        wine.pathOf(out),
      ],
      heard,
    );

  eachFirst(...Object.entries(SHORT))(
    "does %s, and nothing is lost of it",
    async (drill, settings) => {
      const { status, stderr } = await measure(["--drill", drill, ...settings]);
      expect(stderr).toMatch(/Drop this file/);
      expect(status).toBe(0);
      const [one] = measuredIn(out);
      expect(one).toMatchObject({ status: "done", drill: { name: drill } });
      expect(one!.conditions!.kernel).toMatch(/^Windows \d/);
      expect(one!.conditions!.notes.join(" ")).toMatch(/Not told by this system/);
      for (const [i, step] of one!.runs[0]!.steps.entries()) {
        const rows = one!.runs[0]!.samples.filter((row) => row[5] === i);
        expect(rows.reduce((sum, row) => sum + row[2], 0)).toBe(step.bytes);
        if (step.kind !== "rest") expect(step.meanMBps).toBeGreaterThan(0);
        expect(step.faults).toEqual([]);
      }
      expect(fs.readdirSync(disk.directory)).toEqual([]);
    },
  );

  it("measures in a folder whose path is long and not Latin, by an order beside it", async () => {
    const deep = path.join(disk.directory, FAR);
    fs.mkdirSync(deep, { recursive: true });
    const printed = await measureElsewhere(wine, [
      "--print-order",
      "--drill",
      "proof",
      "--span",
      "1MiB",
      "--rig",
      "Gehäuse 測",
    ]);
    const order = path.join(deep, "Auftrag 注文.json");
    fs.writeFileSync(order, printed.stdout.replace('"reserve":null', '"reserve":1048576'));
    const { status, stderr } = await measureElsewhere(wine, [
      "--order",
      wine.pathOf(order),
      "--target",
      wine.pathOf(deep),
      "--out",
      wine.pathOf(out),
    ]);
    expect([status, stderr]).toEqual([0, expect.stringContaining("1 of 1: done")]);
    expect(measuredIn(out)[0]).toMatchObject({ rig: "Gehäuse 測", targets: [wine.pathOf(deep)] });
    expect(fs.readdirSync(deep)).toEqual([path.basename(order)]);
    fs.rmSync(path.join(disk.directory, FAR.split("/")[0]!), { recursive: true });
  });

  it("copies a folder whose names are not Latin, and finds the copy the same", async () => {
    const source = path.join(folder, "Quelle 元");
    fs.mkdirSync(path.join(source, "tief"), { recursive: true });
    fs.writeFileSync(path.join(source, "tief", "測"), Buffer.alloc(2_000_001, "a"));
    fs.writeFileSync(path.join(source, "leer"), "");
    const from = ["--from", wine.pathOf(source), "--verify", "yes", "--keep", "yes"];
    const { status, stderr } = await measure(["--drill", "ferry", ...from]);
    expect([status, stderr]).toEqual([0, expect.stringMatching(/the copy stays/)]);
    const { bytes, copy } = measuredIn(out)[0]!.runs[0]!.steps[0]!;
    expect(bytes).toBe(2_000_001);
    expect(copy).toMatchObject({ files: 2, verified: 2, differing: [] });
    const [kept] = fs.readdirSync(disk.directory);
    const copied = path.join(disk.directory, kept!);
    const there = fs.readFileSync(path.join(copied, "tief", "測"));
    expect(there.equals(Buffer.alloc(2_000_001, "a"))).toBe(true);
    fs.rmSync(copied, { recursive: true });
  });

  it.skipIf(!fs.existsSync(SCRIPT))("keeps what it has at Ctrl-C", async () => {
    const quoted = [
      wine.command,
      ...wine.first,
      "--drill",
      "haul",
      "--direction",
      "write",
      "--seconds",
      "90",
      "--span",
      "8MiB",
      "--repeats",
      "1",
      "--reserve",
      "1MiB",
      "--target",
      wine.pathOf(disk.directory),
      "--out",
      wine.pathOf(out),
    ].map((word) => `'${word}'`);
    const child = spawn(SCRIPT, ["-qfec", quoted.join(" "), "/dev/null"], {
      stdio: ["pipe", "ignore", "ignore"],
      env: { ...process.env, ...wine.env },
    });
    const ended = once(child, "close");
    await until(
      "some samples were written",
      () => fs.existsSync(out) && /("sample"[^]*){3}/.test(fs.readFileSync(out, "utf8")),
    );
    child.stdin.write("\u0003");
    await ended;
    expect(measuredIn(out)[0]).toMatchObject({ status: "stopped", reason: null });
    expect(fs.readdirSync(disk.directory)).toEqual([]);
  });

  it("refuses a drive that is too full, and says how much fits", async () => {
    const { status, stderr } = await measure(["--drill", "proof", "--span", "1GiB"]);
    expect([status, stderr]).toEqual([1, expect.stringMatching(/has room for/)]);
    expect(measuredIn(out)[0]).toMatchObject({ status: "failed" });
    expect(fs.readdirSync(disk.directory)).toEqual([]);
  });

  it.skipIf(whyNoFaults())(
    "ends a run on a drive that fills up in its middle, and says so",
    LONG,
    async () => {
      const faulty = await makeFaulty();
      try {
        const fill = [
          "--drill",
          "haul",
          "--direction",
          "write",
          "--seconds",
          "600",
          "--span",
          "8MiB",
        ];
        const { status, stderr } = await measure(
          fill,
          (said) => {
            if (/MB\/s/.test(said) && fs.readFileSync(out, "utf8").includes("sample"))
              faulty.commit("full");
          },
          faulty.directory,
        );
        expect([status, stderr]).toEqual([1, expect.stringMatching(/filled up while measuring/)]);
        expect(measuredIn(out)[0]).toMatchObject({ status: "failed" });
        expect(fs.readdirSync(faulty.directory)).toEqual([]);
      } finally {
        await faulty.remove();
      }
    },
  );

  it.each([
    ["what is not there", "/no/such/folder", /There is no/],
    ["a file", import.meta.filename, /is no folder/],
  ])("refuses %s", async (_, target, words) => {
    const { status, stderr } = await measure(["--drill", "proof"], undefined, target);
    expect([status, stderr]).toEqual([1, expect.stringMatching(words)]);
  });

  it("has a status of its own for what makes no sense", async () => {
    expect((await measure(["--drill", "hual"])).status).toBe(2);
  });
});
