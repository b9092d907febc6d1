import fs from "node:fs";
import os from "node:os";
import path from "node:path";
import { execFileSync, spawn, type ChildProcess } from "node:child_process";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { EXAMPLE_PLAN } from "@/core/exchange/plan-file";
import { RunsFile } from "@/core/exchange/runs-file";
import { nerrit, ROOT, until } from "../support/command";
import { eachFirst, LONG } from "../support/long";
import { makeDisk, makeLoop, whyNoDevices, type Disk } from "../support/loop-device";

const why = whyNoDevices();
if (why) console.warn(`skipped: plans on the command line (${why})`);
const MIB = 2 ** 20;

describe.skipIf(why)("nerrit plan and files of runs, on loop devices", () => {
  let disks: Disk[];
  let folder: string;
  beforeAll(() => {
    disks = [makeDisk(96), makeDisk(96)];
    folder = fs.mkdtempSync(path.join(os.tmpdir(), "nerrit-files-"));
  });
  /** What waits for hands goes on waiting if its test fails. */
  const running: ChildProcess[] = [];
  afterAll(() => {
    for (const child of running) child.kill("SIGKILL");
    for (const disk of disks) disk.remove();
    fs.rmSync(folder, { recursive: true });
  });

  const [port, cable, , drive] = EXAMPLE_PLAN.parts;
  const short = { seconds: 0.6, span: 8 * MIB };
  /** Two disks, each on a socket of its own: no parts are swapped. */
  const plan = (more: object = {}) => ({
    ...EXAMPLE_PLAN,
    parts: [
      port,
      { ...port, name: "Second port" },
      cable,
      { ...cable, name: "Second cable" },
      { ...drive, name: "One", serial: "" },
      { ...drive, name: "Two", serial: "" },
      { ...drive, name: "Three", serial: "" },
    ],
    rigs: [
      { name: "First", parts: [port!.name, cable!.name, "One"], target: disks[0]!.directory },
      {
        name: "Second",
        parts: ["Second port", "Second cable", "Two"],
        target: disks[1]!.directory,
      },
    ],
    drills: [{ name: "haul", direction: "read", ...short }],
    repeats: 2,
    reserve: 0,
    ...more,
  });
  const write = (name: string, document: object) => {
    const file = path.join(folder, name);
    fs.writeFileSync(file, JSON.stringify(document));
    return file;
  };
  /** Data folders of plans. */
  const leftBehind = () =>
    fs.readdirSync(os.tmpdir()).filter((name) => name.startsWith("nerrit-plan-"));
  const read = (file: string) =>
    RunsFile.parse(JSON.parse(fs.readFileSync(file, "utf8"))).measurements;

  it("works through what needs no hands, in turns, and keeps every sample", async () => {
    const before = leftBehind();
    const out = path.join(folder, "turns.json");
    const file = write("plan.json", plan());
    const { status, stdout, stderr } = await nerrit(["plan", file, "--out", out, "--json"]);
    expect(status).toBe(0);
    expect(stderr).toMatch(/no parts are swapped between its runs/);
    const told = JSON.parse(stdout) as { state: string; results: { rig: string; n: number }[] };
    expect(told.state).toBe("done");
    expect(told.results.map(({ rig, n }) => `${rig} ${n}`).sort()).toEqual(["First 2", "Second 2"]);
    const kept = read(out);
    expect(kept.map(({ rig }) => rig)).toEqual(["First", "Second", "First", "Second"]);
    for (const { runs, conditions, targets } of kept) {
      expect(conditions).toMatchObject({ fileSystem: "ext4", io: "direct" });
      expect(disks.map(({ directory }) => directory)).toContain(targets[0]);
      const [run] = runs;
      const moved = run!.samples.reduce((sum, [, , bytes]) => sum + bytes, 0);
      expect(moved).toBe(run!.steps[0]!.bytes);
    }
    expect(leftBehind().filter((name) => !before.includes(name))).toEqual([]);
  });

  /** A plan of one rig in a process of its own, and how far it has said it is. */
  const begun = (file: string, out: string) => {
    const child = spawn(
      process.execPath,
      [path.join(ROOT, "bin/nerrit.mjs"), "plan", file, "--out", out],
      { stdio: ["ignore", "ignore", "pipe"], env: { ...process.env, XDG_STATE_HOME: folder } },
    );
    running.push(child);
    let said = "";
    child.stderr.on("data", (chunk) => (said += chunk));
    const over = new Promise<number | null>((resolve) => child.on("close", resolve));
    return {
      child,
      over,
      at: (run: number) => until(`run ${run} begins`, () => said.includes(`${run} of 3:`)),
    };
  };
  const three = (name: string) =>
    write(
      name,
      plan({
        rigs: [plan().rigs[0]],
        repeats: 3,
        title: name,
        // So long that what is done in the middle of it comes in the middle of it.
        drills: [{ name: "haul", direction: "read", ...short, seconds: 5 }],
      }),
    );
  const again = (file: string, out: string) =>
    nerrit(["plan", file, "--out", out], undefined, { XDG_STATE_HOME: folder });

  eachFirst(["SIGKILL"], ["SIGHUP"])(
    "ended by %s has written what had ended, and goes on by the same command",
    async (signal) => {
      const out = path.join(folder, `${signal}.json`);
      const file = three(`${signal}-plan.json`);
      const { child, over, at } = begun(file, out);
      await at(2);
      child.kill(signal);
      await over;
      expect(read(out).filter(({ status }) => status === "done").length).toBeGreaterThan(0);
      const { status, stderr } = await again(file, out);
      expect(stderr).toMatch(/goes on: \d of 3 runs were done before/);
      expect(status).toBe(0);
      const kept = read(out).filter(({ status: how }) => how === "done");
      expect(kept).toHaveLength(3);
      expect(new Set(kept.map(({ id }) => id)).size).toBe(3);
      // Nothing is left but the file, and a third time it is not written over.
      expect(fs.readdirSync(path.join(folder, "nerrit", "plans"))).toEqual([]);
      expect(await again(file, out)).toMatchObject({
        status: 2,
        stderr: expect.stringMatching(/is there already/),
      });
    },
  );

  const noExfat = !fs.existsSync("/usr/sbin/mount.exfat-fuse");
  it.skipIf(noExfat)(
    "writes to a medium without hard links, and leaves no part behind",
    LONG,
    async () => {
      const loop = makeLoop(16);
      const at = path.join(folder, "fat");
      fs.mkdirSync(at);
      execFileSync("mkfs.exfat", [loop.device]);
      execFileSync("mount.exfat-fuse", [loop.device, at]);
      try {
        const out = path.join(at, "runs.json");
        expect(await again(three("fat-plan.json"), out)).toMatchObject({ status: 0 });
        expect(read(out)).toHaveLength(3);
        const single = path.join(at, "single.json");
        const { status } = await nerrit([
          "measure",
          "--target",
          disks[0]!.directory,
          "--direction",
          "read",
          "--out",
          single,
          "--seconds",
          "0.5",
          "--span",
          "8MiB",
          "--reserve",
          "0",
        ]);
        expect(status).toBe(0);
        expect(fs.readdirSync(at).toSorted()).toEqual(["runs.json", "single.json"]);
      } finally {
        execFileSync("umount", [at]);
        loop.remove();
      }
    },
  );

  it(
    "on a disk that is full in the end loses nothing, and writes it once there is room",
    LONG,
    async () => {
      const small = makeDisk(8);
      const filler = path.join(small.directory, "filler");
      try {
        const out = path.join(small.directory, "runs.json");
        const file = three("full-plan.json");
        const { over, at } = begun(file, out);
        await at(1);
        expect(() => fs.writeFileSync(filler, Buffer.alloc(16 * MIB))).toThrow(/ENOSPC/);
        expect(await over).toBe(1);
        // Before anything is measured it is seen that there is no room.
        expect((await again(file, out)).stderr).toMatch(/nothing can be written/);
        fs.rmSync(filler);
        const { status } = await again(file, out);
        expect(status).toBe(0);
        expect(read(out)).toHaveLength(3);
      } finally {
        small.remove();
      }
    },
  );

  it(
    "asks for hands, goes on when the drive is there, and keeps what it has when it is ended",
    LONG,
    async () => {
      const place = path.join(folder, "place");
      fs.mkdirSync(place);
      const [one, two] = disks as [Disk, Disk];
      const out = path.join(folder, "hands.json");
      const shared = [port!.name, cable!.name];
      const file = write(
        "hands-plan.json",
        plan({
          rigs: [
            { name: "First", parts: [...shared, "One"], target: one.directory },
            { name: "Second", parts: [...shared, "Two"], target: place },
            { name: "Third", parts: [...shared, "Three"], target: path.join(folder, "never") },
          ],
          order: "few swaps",
          repeats: 1,
        }),
      );
      const child = spawn(
        process.execPath,
        [path.join(ROOT, "bin/nerrit.mjs"), "plan", file, "--out", out],
        { stdio: ["ignore", "ignore", "pipe"] },
      );
      let said = "";
      child.stderr.on("data", (chunk) => (said += chunk));
      running.push(child);
      const over = new Promise<number | null>((resolve) => child.on("close", resolve));
      const hands = (count: number) =>
        until("hands are asked for", () => (said.match(/HANDS:/g)?.length ?? 0) >= count);
      await hands(1);
      expect(said).toMatch(/unplug drive One; plug in drive Two, same port/);
      execFileSync("umount", [two.directory]);
      execFileSync("mount", [two.device, place]);
      await hands(2);
      child.kill("SIGINT");
      expect(await over).toBe(1);
      execFileSync("umount", [place]);
      execFileSync("mount", [two.device, two.directory]);
      expect(read(out).map(({ rig, status }) => `${rig} ${status}`)).toEqual([
        "First done",
        "Second done",
      ]);
    },
  );

  it("refuses a plan that makes no sense, and a file that is there already, before anything is done", async () => {
    const bad = await nerrit(["plan", write("bad.json", plan({ repeats: 0 }))]);
    expect(bad).toMatchObject({ status: 2, stdout: "" });
    expect(bad.stderr).toMatch(/repeats: must be at least 1/);
    fs.writeFileSync(path.join(folder, "cut.json"), '{"format":"nerrit-plan",');
    const cut = await nerrit(["plan", path.join(folder, "cut.json")]);
    expect(cut).toMatchObject({ status: 2 });
    expect(cut.stderr).toMatch(/is no JSON/);
    const there = write("there.json", {});
    const refused = await nerrit([
      "measure",
      "--target",
      disks[0]!.directory,
      "--direction",
      "read",
      "--out",
      there,
    ]);
    expect(refused).toMatchObject({ status: 2, stdout: "" });
    expect(fs.readFileSync(there, "utf8")).toBe("{}");
    const example = await nerrit(["plan", "--example"]);
    expect(JSON.parse(example.stdout)).toEqual(EXAMPLE_PLAN);
  });

  it("keeps what nerrit measure did, and what nerrit watch saw", LONG, async () => {
    const measured = path.join(folder, "measured.json");
    const args = ["--span", "8MiB", "--seconds", "0.6", "--reserve", "0B", "--repeats", "2"];
    const run = await nerrit([
      "measure",
      "--target",
      disks[0]!.directory,
      "--direction",
      "write",
      ...args,
      "--json",
      "--out",
      measured,
      "--rig",
      "Straight",
    ]);
    expect(run.status).toBe(0);
    const [kept] = read(measured);
    expect(kept).toMatchObject({ rig: "Straight", origin: "measured", status: "done" });
    const means = kept!.runs.map(({ steps }) => steps[0]!.meanMBps);
    const told = (JSON.parse(run.stdout) as { runs: { meanMBps: number }[] }).runs;
    expect(means).toEqual(told.map(({ meanMBps }) => meanMBps));
    const watched = path.join(folder, "watched.json");
    const watch = await nerrit([
      "watch",
      disks[0]!.device,
      "lo",
      "--seconds",
      "0.6",
      "--out",
      watched,
    ]);
    expect(watch.status).toBe(0);
    expect(read(watched).map(({ origin, targets }) => [origin, targets[0]])).toEqual([
      ["watched", disks[0]!.device],
      ["watched", "lo"],
    ]);
  });
});
