import fs from "node:fs";
import os from "node:os";
import path from "node:path";
import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";
import type { PreflightFinding } from "@/core/preflight/preflight";
import { Plugged } from "@/engine/plugged/follow";
import { openStore, type Store } from "@/store/database";
import { setStudyRemoved } from "@/store/studies";
import { thisMachine, type Machines } from "../hosts/machines";
import { Desk } from "../measuring/desk";
import { Ballasts } from "../ballast/ballasts";
import { Problem } from "../problem";
import { PlanBench } from "./plan-bench";
import { Planner } from "./planner";
import { addPart } from "../shelf/shelf";
import { steer } from "./steer";
import { addRig, createStudy, measurementsOf } from "../studies/studies";
import { StandInHost } from "../testing/stand-in-host";
import { CONDITIONS, finished, samples, started, stepped, writeEngine } from "../testing/engine";
import { PATIENCE_MS } from "../../../tests/support/patience";

/** Plans on a made-up system of loop devices, with a measuring process that answers at once. */
let folder: string;
let root: string;
let store: Store;
let desk: Desk;
let planner: Planner;
let study: string;
let rigs: Record<"slow" | "fast", string>;

const SECTORS = 2048;

/** What the look before a run finds; the places of these tests are made up. */
let findings: PreflightFinding[] = [];
const makePlanner = (
  bench = new PlanBench(new Plugged(root), thisMachine(root)),
  ballasts = new Ballasts(folder),
) =>
  new Planner(store, desk, bench, { ownFolder: folder, ballasts }, async () => ({
    findings,
    quiet: [],
  }));

/** Attaches a device of so many MiB, mounted at a place; null takes it away. */
function plug(place: string, mebibytes: number | null): void {
  const at = path.join(root, "sys/devices/virtual/block/loop0");
  fs.rmSync(at, { recursive: true, force: true });
  for (const link of ["sys/dev/block/7:0", "sys/class/block/loop0"])
    fs.rmSync(path.join(root, link), { force: true });
  const mounts = path.join(root, "proc/self/mountinfo");
  if (mebibytes === null) return fs.writeFileSync(mounts, "");
  fs.mkdirSync(path.join(at, "loop"), { recursive: true });
  fs.writeFileSync(path.join(at, "dev"), "7:0\n");
  fs.writeFileSync(path.join(at, "size"), `${mebibytes * SECTORS}\n`);
  for (const link of ["sys/dev/block/7:0", "sys/class/block/loop0"])
    fs.symlinkSync("../../devices/virtual/block/loop0", path.join(root, link));
  fs.writeFileSync(mounts, `36 25 7:0 / ${place} rw - ext4 /dev/loop0 rw\n`);
}

const GOOD = [CONDITIONS, started(), ...samples(5), stepped(40), finished(), { event: "done" }];
const SLOW_MS = 400;

beforeEach(() => {
  findings = [];
  folder = fs.mkdtempSync(path.join(os.tmpdir(), "nerrit-planner-"));
  root = path.join(folder, "system");
  for (const place of ["sys/dev/block", "sys/class/block", "proc/self"])
    fs.mkdirSync(path.join(root, place), { recursive: true });
  fs.writeFileSync(path.join(root, "proc/self/mountinfo"), "");
  store = openStore(path.join(folder, "data"));
  desk = new Desk(store, folder, "test", path.join(folder, "engine.mjs"));
  planner = makePlanner();
  writeEngine(path.join(folder, "engine.mjs"), GOOD);
  study = createStudy(store, { title: "Plans" });
  const modes = ["stated-40"];
  const port = addPart(store, {
    kind: "host-port",
    name: "Port",
    connectors: [{ side: "down", modes }],
  });
  const rigOf = (name: string, mebibytes: number) =>
    addRig(store, study, {
      name,
      partIds: [
        port,
        addPart(store, {
          kind: "drive",
          name: `${name} disk`,
          capacityBytes: mebibytes * 2 ** 20,
          connectors: [{ side: "up", modes }],
        }),
      ],
    });
  rigs = { slow: rigOf("slow", 100), fast: rigOf("fast", 300) };
});
afterEach(async () => {
  await Promise.all([desk.shutDown(), planner.shutDown()]);
  store.$client.close();
  fs.rmSync(folder, { recursive: true });
});

const create = (more: object = {}) =>
  planner.create(study, {
    rigs: [{ rigId: rigs.slow, target: "/mnt/a" }],
    drills: [{ name: "haul", direction: "read", span: 2 ** 20, seconds: 0.5 }],
    repeats: 2,
    ...more,
  });
const both = (target = "/mnt/b") => ({
  rigs: [
    { rigId: rigs.slow, target: "/mnt/a" },
    { rigId: rigs.fast, target },
  ],
});
const stateOf = (id: string) => planner.view(id).state;
const reaches = (id: string, kind: string) =>
  vi.waitFor(() => expect(stateOf(id).kind).toBe(kind), { timeout: PATIENCE_MS, interval: 20 });
const states = (id: string) => planner.view(id).steps.map(({ state }) => state);
const slowly = () =>
  writeEngine(
    path.join(folder, "engine.mjs"),
    GOOD.slice(0, 3),
    `setTimeout(() => process.stdout.write(${JSON.stringify(
      GOOD.slice(3)
        .map((line) => `${JSON.stringify(line)}\n`)
        .join(""),
    )}, () => process.exit(0)), ${SLOW_MS})`,
  );

describe("a plan", () => {
  it("says at its end what ballast stays on a drive that has gone away", async () => {
    const place = path.join(folder, "gone");
    plug(place, 100);
    const ballasts = new Ballasts(folder);
    // The drive takes its ballast, and is not there any more when it is to be removed.
    vi.spyOn(ballasts, "place").mockResolvedValue(null);
    vi.spyOn(ballasts, "begin").mockImplementation(async (asked) => {
      if ((asked as { level: number }).level === 0)
        throw new Problem(422, "There is no directory gone.");
      const end = { kind: "done" as const, left: null };
      return { ended: Promise.resolve(end as never), stop: () => undefined, go: () => undefined };
    });
    await planner.shutDown();
    planner = makePlanner(undefined, ballasts);
    const id = await create({ rigs: [{ rigId: rigs.slow, target: place }], fillLevels: [0.5] });
    planner.go(id);
    await reaches(id, "done");
    await vi.waitFor(() => expect(stateOf(id)).toHaveProperty("left"), { timeout: PATIENCE_MS });
    expect((stateOf(id) as { left: string }).left).toContain(place);
  });

  it("works through its runs, each of which counts for the same set-up", async () => {
    plug("/mnt/a", 100);
    const id = await create();
    const told: string[] = [];
    const leave = planner.follow(id, ({ state }) => told.push(state.kind));
    planner.go(id);
    await reaches(id, "done");
    leave();
    expect(states(id)).toEqual(["done", "done"]);
    expect(told[0]).toBe("paused");
    expect(told).toContain("running");
    expect(told).not.toContain("hands");
    expect(measurementsOf(store, study).map(({ runs }) => runs.length)).toEqual([1, 1]);
    expect(planner.view(id).secondsLeft).toBe(0);
  });

  it("is still followed where another tab removed its study", async () => {
    const id = await create();
    setStudyRemoved(store, study, new Date().toISOString());
    const told: number[] = [];
    planner.follow(id, ({ table }) => told.push(table.rows.length))();
    expect(told).toEqual([planner.view(id).plan.rigs.length]);
  });

  it("waits for hands, tells what to swap, sees a wrong rig, and goes on by itself when it is right", async () => {
    plug("/mnt/a", 100);
    const id = await create({ ...both(), repeats: 1 });
    planner.go(id);
    await reaches(id, "hands");
    expect(stateOf(id)).toMatchObject({
      rigId: rigs.fast,
      words: "unplug drive slow disk\nplug in drive fast disk, same port",
    });
    plug("/mnt/b", 100);
    await vi.waitFor(
      () =>
        expect(stateOf(id)).toMatchObject({
          differs: [expect.stringMatching(/holds 315 MB.*105 MB/)],
        }),
      { timeout: PATIENCE_MS },
    );
    plug("/mnt/b", 300);
    await reaches(id, "done");
    expect(states(id)).toEqual(["done", "done"]);
  });

  it("at one and the same place waits until the first drive has gone", async () => {
    plug("/mnt/a", 100);
    const id = await create({ ...both("/mnt/a"), repeats: 1 });
    planner.go(id);
    await reaches(id, "hands");
    await new Promise((resolve) => setTimeout(resolve, 1300));
    expect(stateOf(id).kind).toBe("hands");
    plug("/mnt/a", null);
    await new Promise((resolve) => setTimeout(resolve, 1300));
    plug("/mnt/a", 300);
    await reaches(id, "done");
  });

  it("asks once more where the drive never went away and the tester goes on all the same", async () => {
    plug("/mnt/a", 100);
    const id = await create({ ...both("/mnt/a"), repeats: 1 });
    planner.go(id);
    await reaches(id, "hands");
    steer(planner, id, { do: "go" });
    await vi.waitFor(
      () =>
        expect(stateOf(id)).toMatchObject({
          kind: "hands",
          differs: [expect.stringMatching(/has not gone away since/)],
        }),
      { timeout: PATIENCE_MS },
    );
    steer(planner, id, { do: "go" });
    await reaches(id, "done");
    expect(states(id)).toEqual(["done", "done"]);
  });

  it("takes the tester's word where the system sees nothing", async () => {
    const id = await create();
    planner.go(id);
    await reaches(id, "hands");
    expect(stateOf(id)).toMatchObject({ words: "plug in Port, drive slow disk" });
    steer(planner, id, { do: "go" });
    await reaches(id, "done");
  });

  it.each(["go", "pause", "abort"] as const)(
    "hears %s while it looks at what is plugged in",
    async (what) => {
      const bench = new PlanBench(new Plugged(root), thisMachine(root));
      const looks = vi.spyOn(bench, "look");
      planner = makePlanner(bench);
      const id = await create();
      let see = (_: null) => undefined as void;
      looks
        .mockResolvedValueOnce(null)
        .mockReturnValueOnce(new Promise((resolve) => (see = resolve)));
      planner.go(id);
      await reaches(id, "hands");
      await vi.waitFor(() => expect(looks).toHaveBeenCalledTimes(2), { timeout: PATIENCE_MS });
      steer(planner, id, { do: what });
      see(null);
      await reaches(id, { go: "done", pause: "paused", abort: "aborted" }[what]);
      await planner.shutDown();
    },
  );

  it("leaves out repeats once the interval is narrow enough, and warms up without counting", async () => {
    plug("/mnt/a", 100);
    const id = await create({ repeats: 6, narrowEnough: 0.02, warmUps: 1 });
    planner.go(id);
    await reaches(id, "done");
    expect(states(id)).toEqual([...Array(4).fill("done"), ...Array(3).fill("not needed")]);
    expect(measurementsOf(store, study).filter(({ warmUp }) => warmUp)).toHaveLength(1);
  });

  it("pauses after the run that goes on, and goes on where it was", async () => {
    plug("/mnt/a", 100);
    slowly();
    const id = await create();
    planner.go(id);
    await reaches(id, "running");
    steer(planner, id, { do: "pause" });
    await reaches(id, "paused");
    expect(states(id)).toEqual(["done", "waiting"]);
    steer(planner, id, { do: "go" });
    await reaches(id, "done");
  });

  it("skips, repeats and moves runs, and ends when it is aborted", async () => {
    plug("/mnt/a", 100);
    slowly();
    const id = await create({ repeats: 3 });
    planner.go(id);
    await reaches(id, "running");
    steer(planner, id, { do: "skip", step: "3" });
    steer(planner, id, { do: "again", step: "1" });
    steer(planner, id, { do: "skip", step: "1" });
    await vi.waitFor(
      () => expect(states(id)).toEqual(["skipped", "running", "waiting", "skipped"]),
      PATIENCE_MS,
    );
    expect(planner.view(id).steps.map((step) => step.id)).toEqual(["1", "4", "2", "3"]);
    steer(planner, id, { do: "abort" });
    await vi.waitFor(() => expect(states(id)[1]).toBe("failed"), PATIENCE_MS);
    expect(stateOf(id).kind).toBe("aborted");
    expect(() => planner.go(id)).toThrow(/over/);
    expect(() => steer(planner, id, { do: "skip", step: "77" })).toThrow(/no such run/);
  });

  it("does not begin a run that was left out while its drive was rested", async () => {
    plug("/mnt/a", 100);
    const id = await create({ idleSeconds: 600 });
    planner.go(id);
    await reaches(id, "resting");
    steer(planner, id, { do: "skip", step: "1" });
    steer(planner, id, { do: "go" });
    await reaches(id, "done");
    expect(states(id)).toEqual(["skipped", "done"]);
    expect(measurementsOf(store, study)).toHaveLength(1);
  });

  it("stops before it wastes time where a run is refused, and says why", async () => {
    plug("/mnt/a", 100);
    writeEngine(path.join(folder, "engine.mjs"), [
      { event: "refused", code: "busy", reason: "The drive is being measured already." },
    ]);
    const id = await create();
    planner.go(id);
    await vi.waitFor(
      () =>
        expect(stateOf(id)).toMatchObject({
          kind: "paused",
          why: expect.stringMatching(/measured already/),
        }),
      PATIENCE_MS,
    );
    expect(states(id)).toEqual(["failed", "waiting"]);
  });

  it("does not begin what the look before a run finds to be wrong, until the tester has seen to it", async () => {
    plug("/mnt/a", 100);
    const finding = { level: "stop" as const, text: "No room.", from: [], fix: null };
    findings = [finding];
    const id = await create();
    planner.go(id);
    await vi.waitFor(() => expect(stateOf(id)).toMatchObject({ why: "No room." }), PATIENCE_MS);
    expect(states(id)).toEqual(["waiting", "waiting"]);
    findings = [{ ...finding, level: "beware", text: "It is warm." }];
    planner.go(id);
    await reaches(id, "done");
    expect(planner.view(id).steps[0]!.note).toBe("It is warm.");
  });

  it("is there after a restart, and does the run again that was cut short", async () => {
    plug("/mnt/a", 100);
    slowly();
    const id = await create();
    planner.go(id);
    await reaches(id, "running");
    await desk.shutDown();
    await reaches(id, "paused");
    const next = makePlanner();
    next.recover();
    expect(states(id)).toEqual(["waiting", "waiting"]);
    expect(next.ofStudy(study)).toHaveLength(1);
    desk = new Desk(store, folder, "test", path.join(folder, "engine.mjs"));
    planner = makePlanner();
    planner.go(id);
    await reaches(id, "done");
  });

  /** A plan on a host whose server was killed in its first run; the next server has found the run again. */
  async function foundAgain(host: StandInHost): Promise<string> {
    plug("/mnt/a", 100);
    const machines: Machines = { ask: (_, question) => thisMachine(root).ask(null, question) };
    const bench = new PlanBench(new Plugged(root), machines);
    const boot = () => {
      desk = new Desk(store, folder, "test", undefined, { startOn: host.start });
      desk.recover();
      planner = makePlanner(bench);
      planner.recover();
    };
    boot();
    const id = await create({ rigs: [{ rigId: rigs.slow, target: "lab2:/mnt/a" }] });
    planner.go(id);
    await vi.waitFor(() => expect(host.runs).toHaveLength(1), PATIENCE_MS);
    host.tell(CONDITIONS, started(), ...samples(3));
    await reaches(id, "running");
    boot();
    expect(host.runs.at(-1)).toMatchObject({ host: "lab2", job: null });
    expect(states(id)).toEqual(["running", "waiting"]);
    return id;
  }

  it("waits after a restart for the end of a run on a host, which went on meanwhile", async () => {
    const host = new StandInHost();
    const id = await foundAgain(host);
    planner.go(id);
    host.tell(CONDITIONS, started(), ...samples(5), stepped(40), finished());
    host.end({ kind: "done" });
    await vi.waitFor(() => expect(host.runs).toHaveLength(3), PATIENCE_MS);
    host.tell(CONDITIONS, started(), ...samples(5), stepped(40), finished());
    host.end({ kind: "done" });
    await reaches(id, "done");
    const counts = measurementsOf(store, study).map(({ runs }) => runs.length);
    expect(counts).toEqual([1, 1]);
  });

  it.each(["abort", "skip"] as const)(
    "stops a run on a host that was found again: %s",
    async (what) => {
      const host = new StandInHost();
      const id = await foundAgain(host);
      steer(planner, id, what === "abort" ? { do: what } : { do: what, step: "1" });
      expect(host.runs.at(-1)!.isStopped).toBe(true);
    },
  );

  it("rests before the first run and between runs, and cuts a rest short when told to go on", async () => {
    plug("/mnt/a", 100);
    const id = await create({ idleSeconds: 600, coolSeconds: 600 });
    planner.go(id);
    await reaches(id, "resting");
    expect(states(id)).toEqual(["waiting", "waiting"]);
    steer(planner, id, { do: "go" });
    await vi.waitFor(() => expect(states(id)[0]).toBe("done"), PATIENCE_MS);
    await reaches(id, "resting");
    steer(planner, id, { do: "go" });
    await reaches(id, "done");
  });

  it.each([
    [{ rigs: [] }, /needs a rig/],
    [{ drills: [] }, /needs a drill/],
    [{ drills: [{ name: "sprint", direction: "read" }] }, /not one of the drills/],
    [{ drills: [{ name: "convoy", direction: "read" }] }, /at least two drives|several drives/],
    [{ repeats: 0 }, /at least 1/],
    [{ rigs: Array(2).fill({ rigId: "a", target: "/x" }) }, /same rig twice/],
    [{ rigs: [{ rigId: "gone", target: "/x" }] }, /not in this study/],
    [{ rigs: [{ rigId: "gone", target: "x" }] }, /target/],
  ])("%j makes none", async (more, words) => {
    await expect(create(more)).rejects.toThrow(words);
    expect(planner.ofStudy(study)).toEqual([]);
  });
});

describe("what a plan sees of the bench", () => {
  it("is how warm a drive is, and not the limit that it names", async () => {
    plug("/mnt/a", 100);
    const disk = path.join(
      root,
      "sys/devices/pci0000:00/0000:00:17.0/ata1/host0/target0:0:0/0:0:0:0",
    );
    fs.mkdirSync(path.join(disk, "block/sda"), { recursive: true });
    fs.mkdirSync(path.join(disk, "hwmon/hwmon1"), { recursive: true });
    fs.writeFileSync(path.join(disk, "hwmon/hwmon1/temp1_input"), "41000\n");
    fs.writeFileSync(path.join(disk, "hwmon/hwmon1/temp1_max"), "70000\n");
    fs.writeFileSync(path.join(disk, "block/sda/dev"), "8:0\n");
    fs.writeFileSync(path.join(disk, "block/sda/size"), "2048\n");
    fs.symlinkSync("../..", path.join(disk, "block/sda/device"));
    for (const link of ["sys/dev/block/8:0", "sys/class/block/sda"])
      fs.symlinkSync(
        path.relative(path.join(root, path.dirname(link)), path.join(disk, "block/sda")),
        path.join(root, link),
      );
    const bench = new PlanBench(new Plugged(root), thisMachine(root));
    expect(await bench.temperature("/dev/sda")).toBe(41);
    expect(await bench.temperature("/dev/loop0")).toBeNull();
  });
});
