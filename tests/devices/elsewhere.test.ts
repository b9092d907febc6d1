import { execFileSync } from "node:child_process";
import fs from "node:fs";
import path from "node:path";
import { afterAll, afterEach, beforeAll, beforeEach, describe, expect, it } from "vitest";
import { nerrit } from "../support/command";
import { HERE, measuredIn, measureElsewhere, SHORT, whyNoProgram } from "../support/elsewhere";
import { makeFaulty, whyNoFaults } from "../support/faulty-fs";
import { makeDisk, remount, whyNoDevices, type Disk } from "../support/loop-device";
import { LONG } from "../support/long";

const why = whyNoDevices() ?? whyNoProgram();
if (why) console.warn(`skipped: the program that measures elsewhere (${why})`);

/** A measurement that nothing but an outsider ends. */
const ENDLESS = ["--drill", "haul", "--direction", "write", "--seconds", "600", "--span", "16MiB"];

describe.skipIf(why)("the program that measures elsewhere", () => {
  let disk: Disk;
  let out: string;
  let folder: string;
  beforeAll(() => {
    disk = makeDisk(96);
  });
  afterAll(() => disk.remove());
  beforeEach(() => {
    folder = fs.mkdtempSync(path.join("/dev/shm", "nerrit-elsewhere-"));
    out = path.join(folder, "run.jsonl");
  });
  afterEach(() => fs.rmSync(folder, { recursive: true }));

  const measure = (args: string[], heard?: (stderr: string, pid: number) => void) => {
    const where = args.includes("--target") ? [] : ["--target", disk.directory];
    return measureElsewhere(
      HERE,
      [...args, ...where, "--out", out, "--reserve", "1MiB", "--progress"],
      heard,
    );
  };

  it.each(Object.entries(SHORT))("does %s, and nothing is lost of it", async (drill, settings) => {
    const { status, stderr } = await measure(["--drill", drill, ...settings]);
    expect(stderr).toMatch(/Drop this file/);
    expect(status).toBe(0);
    const [one, ...more] = measuredIn(out);
    expect(more).toEqual([]);
    expect(one).toMatchObject({ status: "done", drill: { name: drill }, origin: "measured" });
    expect(one!.conditions).toMatchObject({
      fileSystem: "ext4",
      device: path.basename(disk.device),
      io: "direct",
    });
    for (const run of one!.runs) {
      expect(run.status).toBe("done");
      for (const [i, step] of run.steps.entries()) {
        const rows = run.samples.filter((row) => row[5] === i);
        const bytes = rows.reduce((sum, row) => sum + row[2], 0);
        const requests = rows.reduce((sum, row) => sum + row[4], 0);
        expect([bytes, requests]).toEqual([step.bytes, step.requests]);
        if (step.kind === "rest") continue;
        expect(step.meanMBps).toBeGreaterThan(0);
        // Asked a moment sooner and later; one way only, or another unit, would be off by more.
        expect(step.deviceBytes! / step.bytes).toBeGreaterThan(0.5);
        expect(step.deviceBytes! / step.bytes).toBeLessThan(2);
        expect(step.faults).toEqual([]);
        if (step.kind === "copy") continue;
        const { p50, p99, max } = step.latencyUs;
        expect(p50).toBeGreaterThan(0);
        expect([p50, p99, max]).toEqual([p50, p99, max].toSorted((a, b) => a - b));
      }
    }
    expect(fs.readdirSync(disk.directory)).toEqual([]);
  });

  it("does what an order says, one after another, and keeps the drill as it was ordered", async () => {
    const printed = await measureElsewhere(HERE, [
      "--print-order",
      "--drill",
      "proof",
      "--span",
      "2MiB",
      "--passes",
      "1",
      "--rig",
      "A “quoted” rig",
    ]);
    const order = JSON.parse(printed.stdout);
    order.measurements.push(order.measurements[0]);
    order.reserve = 2 ** 20;
    const file = path.join(folder, "order.json");
    // As some editors save it.
    fs.writeFileSync(file, `\uFEFF${JSON.stringify(order, null, 2)}`);
    const { status } = await measureElsewhere(HERE, [
      "--order",
      file,
      "--target",
      disk.directory,
      "--out",
      out,
    ]);
    expect(status).toBe(0);
    const found = measuredIn(out);
    expect(found.map(({ rig, drill }) => [rig, drill])).toEqual(
      order.measurements.map(({ drill }: { drill: object }) => ["A “quoted” rig", drill]),
    );
    expect(new Set(found.map(({ id }) => id)).size).toBe(2);
  });

  it.each(["SIGINT", "SIGTERM"] as const)("keeps what it has at %s", async (signal) => {
    let sent = false;
    const { status, stderr } = await measure(ENDLESS, (said, pid) => {
      // Said while the scratch file is laid out, too.
      if (sent || !/MB\/s/.test(said) || !fs.readFileSync(out, "utf8").includes("sample")) return;
      sent = true;
      process.kill(pid, signal);
    });
    expect([status, stderr]).toEqual([1, expect.stringMatching(/stopped before the end/)]);
    const [one] = measuredIn(out);
    expect(one).toMatchObject({ status: "stopped", runs: [{ status: "stopped" }] });
    expect(one!.runs[0]!.samples.length).toBeGreaterThan(0);
    expect(fs.readdirSync(disk.directory)).toEqual([]);
  });

  it("leaves nothing on the drive however often it is killed, and a file that can be read", async () => {
    for (let i = 0; i < 12; i++) {
      fs.rmSync(out, { force: true });
      await measure(ENDLESS, (said, pid) => {
        if (i % 3 === 0 ? /Measures in/.test(said) : /MB\/s/.test(said))
          process.kill(pid, "SIGKILL");
      });
      expect(fs.readdirSync(disk.directory)).toEqual([]);
      if (i % 3 === 0) continue;
      expect(measuredIn(out)[0]!.status).toBe("interrupted");
    }
  });

  it("takes away what an earlier run had left, and nothing else", async () => {
    const name = (digit: number) =>
      `.nerrit-scratch-${String(digit).repeat(8)}-1111-4111-8111-111111111111`;
    fs.writeFileSync(path.join(disk.directory, name(1)), "");
    fs.writeFileSync(path.join(disk.directory, name(2)), "a tester’s own");
    fs.symlinkSync(name(2), path.join(disk.directory, name(3)));
    await measure(["--drill", "proof", "--span", "1MiB"]);
    const left = fs.readdirSync(disk.directory).sort();
    for (const each of left) fs.rmSync(path.join(disk.directory, each));
    expect(left).toEqual([name(2), name(3)]);
  });

  it("lets only one run at a time measure a drive, Nerrit’s own included", async () => {
    const others: Promise<{ status: number | null; stderr: string }>[] = [];
    await measure(ENDLESS, (said, pid) => {
      if (others.length > 0 || !/MB\/s/.test(said)) return;
      others.push(
        measureElsewhere(HERE, [
          "--drill",
          "proof",
          "--span",
          "1MiB",
          "--reserve",
          "1MiB",
          "--target",
          disk.directory,
          "--out",
          path.join(folder, "second.jsonl"),
        ]),
        nerrit([
          "measure",
          "--target",
          disk.directory,
          "--direction",
          "read",
          "--seconds",
          "0.5",
          "--span",
          "1MiB",
          "--reserve",
          "1MiB",
        ]),
      );
      void Promise.all(others).finally(() => process.kill(pid, "SIGINT"));
    });
    for (const { status, stderr } of await Promise.all(others)) {
      expect(status).toBe(1);
      expect(stderr).toMatch(/Another run is measuring/);
    }
  });

  it("writes over no file, and says where it cannot write", async () => {
    fs.writeFileSync(out, "something");
    const proof = ["--drill", "proof", "--span", "1MiB"];
    expect(await measure(proof)).toMatchObject({
      status: 1,
      stderr: expect.stringMatching(/is there already/),
    });
    expect(fs.readFileSync(out, "utf8")).toBe("something");
    out = path.join(folder, "no", "such", "run.jsonl");
    expect((await measure(proof)).stderr).toMatch(/could not be made/);
  });

  it(
    "says when the place of its run file is full, and leaves nothing on the drive",
    LONG,
    async () => {
      const small = path.join(folder, "small");
      fs.mkdirSync(small);
      execFileSync("mount", ["-t", "tmpfs", "-o", "size=8k", "tmpfs", small]);
      try {
        out = path.join(small, "run.jsonl");
        const { status, stderr } = await measure(ENDLESS);
        expect([status, stderr]).toEqual([1, expect.stringMatching(/could not be written whole/)]);
        expect(fs.readdirSync(disk.directory)).toEqual([]);
      } finally {
        execFileSync("umount", [small]);
      }
    },
  );

  describe("refuses to measure in", () => {
    const refused = async (target: string, words: RegExp, more: string[] = []) => {
      const args = ["--drill", "proof", "--span", "1MiB", "--target", target, ...more];
      const { status, stderr } = await measure(args);
      expect(stderr).toMatch(words);
      expect(status).toBe(1);
      expect(fs.existsSync(out) && measuredIn(out).some(({ status: end }) => end === "done")).toBe(
        false,
      );
    };
    it("what is not there", () => refused("/no/such/folder", /There is no/));
    it("a file", () => refused(import.meta.filename, /is no folder/));
    it("a device", () => refused(disk.device, /never written to/));
    it("memory", () => refused("/dev/shm", /is memory/));
    it("what is no file system of a drive", () => refused("/proc", /may not|room|create|memory/));
    it("a link", async () => {
      const link = path.join(folder, "link");
      fs.symlinkSync(disk.directory, link);
      await refused(link, new RegExp(`is a link. Name the folder itself: ${disk.directory}`));
    });
    it("a drive that may only be read", async () => {
      remount(disk, "ro");
      try {
        await refused(disk.directory, /mounted read-only/);
      } finally {
        remount(disk, "rw");
      }
    });
    it("a drive that is too full", async () => {
      const { status, stderr } = await measure(["--drill", "proof", "--span", "1GiB"]);
      expect([status, stderr]).toEqual([1, expect.stringMatching(/has room for/)]);
      expect(measuredIn(out)[0]).toMatchObject({ status: "failed" });
    });
  });

  it.skipIf(whyNoFaults())(
    "ends a run on a drive that fills up in its middle, and says so",
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
          [...fill, "--target", faulty.directory],
          (said) => {
            if (/MB\/s/.test(said) && fs.readFileSync(out, "utf8").includes("sample"))
              faulty.commit("full");
          },
        );
        expect([status, stderr]).toEqual([1, expect.stringMatching(/filled up while measuring/)]);
        const [one] = measuredIn(out);
        expect(one).toMatchObject({ status: "failed", reason: expect.stringMatching(/filled up/) });
        expect(one!.runs[0]!.samples.length).toBeGreaterThan(0);
        expect(fs.readdirSync(faulty.directory)).toEqual([]);
      } finally {
        await faulty.remove();
      }
    },
  );

  it.skipIf(whyNoFaults())("finds what a drive loses, and where", async () => {
    const faulty = await makeFaulty();
    try {
      faulty.commit(`lose ${3 * 2 ** 20} 8192`, `flip ${5 * 2 ** 20 + 77}`);
      const { status } = await measureElsewhere(HERE, [
        "--drill",
        "proof",
        "--span",
        "8MiB",
        "--passes",
        "1",
        "--reserve",
        "0",
        "--target",
        faulty.directory,
        "--out",
        out,
      ]);
      expect(status).toBe(0);
      const faults = measuredIn(out)[0]!.runs[0]!.steps.flatMap((step) => step.faults);
      expect(faults).toEqual([
        { kind: "lost", offset: 3 * 2 ** 20, bytes: 8192 },
        { kind: "damaged", offset: 5 * 2 ** 20, bytes: 4096 },
      ]);
    } finally {
      faulty.remove();
    }
  });
});
