import fs from "node:fs";
import path from "node:path";
import { afterAll, afterEach, beforeAll, describe, expect, it } from "vitest";
import { EXAMPLE_PLAN } from "@/core/exchange/plan-file";
import { RunsFile } from "@/core/exchange/runs-file";
import { nerrit, nerritAt, until } from "../support/command";
import { makeDisk, whyNoDevices, type Disk } from "../support/loop-device";
import { LONG } from "../support/long";

const why = whyNoDevices();
if (why) console.warn(`skipped: ballast on loop devices (${why})`);

const MIB = 2 ** 20;

describe.skipIf(why)("nerrit ballast on a real disk", () => {
  let disk: Disk;
  let folder: string;
  let state: string;
  beforeAll(() => {
    disk = makeDisk(256);
    folder = path.join(disk.directory, "nerrit-ballast");
    state = fs.mkdtempSync("/dev/shm/nerrit-state-");
    process.env.XDG_STATE_HOME = state;
  });
  afterEach(() => fs.rmSync(folder, { recursive: true, force: true }));
  afterAll(() => {
    disk.remove();
    fs.rmSync(state, { recursive: true, force: true });
    delete process.env.XDG_STATE_HOME;
  });

  const ballast = (...args: string[]) =>
    nerrit(["ballast", disk.directory, "--reserve", "1MiB", "--json", ...args]);
  const used = () => {
    const { bavail, blocks } = fs.statfsSync(disk.directory);
    return 1 - bavail / blocks;
  };
  const measure = async (...args: string[]) => {
    const { stdout, status, stderr } = await nerrit([
      "measure",
      "--target",
      disk.directory,
      "--direction",
      "write",
      "--seconds",
      "1",
      "--span",
      "8MiB",
      "--reserve",
      "1MiB",
      "--json",
      ...args,
    ]);
    expect([status, stderr]).toEqual([0, ""]);
    return JSON.parse(stdout);
  };

  it("fills the disk to a level, higher and lower, and leaves nothing when it is removed", async () => {
    const before = used();
    for (const level of [0.5, 0.8, 0.3]) {
      const { status, stdout } = await ballast("--fill", `${level * 100}%`);
      expect(status).toBe(0);
      const [one] = JSON.parse(stdout).ballast;
      // To a request of a MiB, and what the file system notes of its files.
      expect(Math.abs(used() - level)).toBeLessThan(0.02);
      expect(one.level).toBe(level);
      expect(one.bytes).toBe(
        fs
          .readdirSync(folder)
          .filter((name) => name.startsWith("ballast-"))
          .reduce((sum, name) => sum + fs.statSync(path.join(folder, name)).size, 0),
      );
    }
    expect((await ballast("--remove")).status).toBe(0);
    expect(fs.existsSync(folder)).toBe(false);
    expect(used()).toBeCloseTo(before, 2);
  });

  it("is a condition of every run beside it, and of none without", LONG, async () => {
    await ballast("--fill", "50%");
    const [one] = JSON.parse((await ballast()).stdout).ballast;
    expect((await measure()).conditions.ballast).toEqual({ bytes: one.bytes, level: 0.5 });
    await ballast("--remove");
    expect((await measure()).conditions.ballast).toBeUndefined();
  });

  it("never takes from the reserve, and says what can be asked for", async () => {
    const { status, stderr } = await nerrit([
      "ballast",
      disk.directory,
      "--reserve",
      "100MiB",
      "--fill",
      "90%",
    ]);
    expect(status).toBe(1);
    expect(stderr).toMatch(/at most/);
    expect(used()).toBeLessThan(0.2);
  });

  it("touches nothing that others have put there", LONG, async () => {
    fs.mkdirSync(folder);
    fs.writeFileSync(path.join(folder, "ballast-00000"), "mine");
    for (const args of [["--fill", "50%"], ["--remove"]]) {
      expect((await ballast(...args)).status).toBe(1);
      expect(fs.readFileSync(path.join(folder, "ballast-00000"), "utf8")).toBe("mine");
    }
    fs.rmSync(folder, { recursive: true });
    fs.symlinkSync("/etc", folder);
    expect((await ballast("--remove")).status).toBe(1);
    fs.unlinkSync(folder);
    await ballast("--fill", "30%");
    fs.writeFileSync(path.join(folder, "notes.txt"), "mine");
    expect((await ballast("--remove")).status).toBe(0);
    expect(fs.readdirSync(folder)).toEqual(["notes.txt"]);
  });

  it("goes from a disk that other programs have filled up to the brim", LONG, async () => {
    await ballast("--fill", "50%");
    const other = path.join(disk.directory, "other");
    expect(() => {
      for (;;) fs.appendFileSync(other, Buffer.alloc(MIB));
    }).toThrow(/ENOSPC/);
    const { status } = await ballast("--remove");
    fs.rmSync(other);
    expect(status).toBe(0);
    expect(fs.existsSync(folder)).toBe(false);
  });

  it(
    "is found after a crash, wherever it is asked from, and can be filled up or removed",
    LONG,
    async () => {
      const asked = ["ballast", disk.directory, "--reserve", "1MiB", "--fill", "95%"];
      await nerritAt(asked, /of ballast written/, (pid) => process.kill(pid, "SIGKILL"));
      // The process that writes ends with its parent; until it has, the disk is its own.
      const again = await until("the disk is free again", async () => {
        const { status, stdout } = await ballast("--fill", "60%");
        return status === 0 ? stdout : null;
      });
      expect(JSON.parse(again).ballast[0].level).toBe(0.6);
      const all = JSON.parse((await nerrit(["ballast", "--json"])).stdout).ballast;
      expect(all.map(({ directory }: { directory: string }) => directory)).toContain(
        disk.directory,
      );
      await ballast("--remove");
      expect(fs.existsSync(folder)).toBe(false);
    },
  );

  /** A plan of long fills at three levels, on one rig. */
  const levels = () => {
    const [port, cable, , drive] = EXAMPLE_PLAN.parts;
    const file = path.join(state, "plan.json");
    const rig = { name: "Rig", parts: [port!.name, cable!.name, drive!.name] };
    fs.writeFileSync(
      file,
      JSON.stringify({
        ...EXAMPLE_PLAN,
        parts: [port, cable, { ...drive, serial: "" }],
        rigs: [{ ...rig, target: disk.directory }],
        drills: [{ name: "long-fill", direction: "write" }],
        fillLevels: [0, 0.5, 0.75],
        repeats: 1,
        reserve: MIB,
      }),
    );
    return file;
  };

  it("is changed by a plan before its runs, and removed at the plan's end", async () => {
    const out = path.join(state, "runs.json");
    const { status, stderr } = await nerrit(["plan", levels(), "--out", out]);
    expect([status, stderr]).toEqual([0, expect.stringMatching(/filling the drive to 50/)]);
    const runs = RunsFile.parse(JSON.parse(fs.readFileSync(out, "utf8"))).measurements;
    expect(runs.map(({ conditions }) => conditions?.ballast?.level)).toEqual([
      undefined,
      0.5,
      0.75,
    ]);
    // Each fills what its level leaves: less and less.
    const bytes = runs.map(({ runs: [run] }) => run!.steps[0]!.bytes);
    expect(bytes).toEqual(bytes.toSorted((a, b) => b - a));
    expect(new Set(bytes).size).toBe(3);
    expect(fs.existsSync(folder)).toBe(false);
  });

  it("is removed where a plan is ended before its end", LONG, async () => {
    let pid: number | null = null;
    const { status } = await nerrit(
      ["plan", levels()],
      (its) => (pid = its),
      {},
      (said) => {
        if (pid === null || !/2 of 3:/.test(said)) return;
        process.kill(pid, "SIGINT");
        pid = null;
      },
    );
    expect(status).toBe(1);
    expect(fs.existsSync(folder)).toBe(false);
  });

  it("makes room for a run that its level leaves no room for", LONG, async () => {
    await ballast("--fill", "98%");
    const asked = ["measure", "--target", disk.directory, "--direction", "write", "--json"];
    const { status, stderr } = await nerrit([...asked, "--span", "64MiB", "--reserve", "1MiB"]);
    expect([status, stderr]).toEqual([1, expect.stringMatching(/do not fit/)]);
    await ballast("--fill", "50%");
    expect((await measure()).bytes).toBeGreaterThan(MIB);
  });
});
