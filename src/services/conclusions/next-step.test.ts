import fs from "node:fs";
import os from "node:os";
import path from "node:path";
import { afterAll, afterEach, beforeAll, beforeEach, describe, expect, it } from "vitest";
import type { Conditions } from "@/core/run/result";
import { usualDrill } from "@/core/drills/shape";
import { UNSAID } from "@/core/run/stated";
import { measured } from "@/core/testing/measured";
import { Plugged } from "@/engine/plugged/follow";
import { openStore, type Store } from "@/store/database";
import { putHost } from "@/store/hosts";
import { insertMeasurement } from "@/store/measurements";
import { openCompared } from "./comparison";
import { openDemo } from "../testing/demo-store";
import { thisMachine, type Machines } from "../hosts/machines";
import { Desk } from "../measuring/desk";
import { AS_IT_IS, isAsked, judgedOf, turnsIn, whatIfOf } from "./judged";
import { makeStep, reserveFor } from "./next-step";
import { opinionOf, setOpinion } from "./opinion";
import { Ballasts } from "../ballast/ballasts";
import { PlanBench } from "../plans/plan-bench";
import { Planner } from "../plans/planner";
import { addPart } from "../shelf/shelf";
import { addTyped } from "../elsewhere/typed";
import { addRig, createStudy } from "../studies/studies";
import { setTolerance } from "../studies/change-study";

let folder: string;
let store: Store;
let planner: Planner;
const newFolder = () => fs.mkdtempSync(path.join(os.tmpdir(), "nerrit-step-"));
/** Opens what lies in the folder, and a planner for it. */
function open(): void {
  store = openStore(folder);
  const desk = new Desk(store, folder, "test", path.join(folder, "engine.mjs"));
  // Every host of these tests is this machine.
  const machines: Machines = { ask: (_, question) => thisMachine(folder).ask(null, question) };
  planner = new Planner(store, desk, new PlanBench(new Plugged(folder), machines), {
    ownFolder: folder,
    ballasts: new Ballasts(folder),
  });
}
beforeEach(() => {
  folder = newFolder();
  open();
});
afterEach(async () => {
  await planner.shutDown();
  store.$client.close();
  fs.rmSync(folder, { recursive: true });
});

describe("a step of the sample data", () => {
  const STUDY = "demo-enclosures";
  const ask = (rig: object) => ({ rig, drill: "haul", direction: "read" });
  let seeded: string;
  beforeAll(() => {
    seeded = newFolder();
    openDemo(seeded).$client.close();
  }, 60_000);
  afterAll(() => fs.rmSync(seeded, { recursive: true }));
  beforeEach(() => {
    store.$client.close();
    fs.cpSync(seeded, folder, { recursive: true });
    open();
  });

  it("makes the rig and its simulated runs, with the faults that come with its parts", async () => {
    // K7 drops its link, whatever hangs on it.
    const parts = ["demo-port", "demo-cable-k7", "demo-serac", "demo-moraine"];
    const made = await makeStep(store, planner, STUDY, ask({ like: "demo-box-k7", parts }));
    expect(made.planId).toBeNull();
    const { rigs, measurements } = openCompared(store, STUDY);
    expect(rigs.at(-1)).toMatchObject({
      id: made.rigId,
      name: "Serac · cable K7, with Icefall rear port",
    });
    const done = measurements.find(({ id }) => id === made.measurementId)!;
    expect(done).toMatchObject({ origin: "simulated", rigId: made.rigId });
    expect(done.rig.name).toBe(rigs.at(-1)!.name);
    const rates = done.runs.map(({ result }) => result!.meanMBps);
    expect(rates).toHaveLength(3);
    for (const rate of rates) expect(rate).toBeLessThan(480);
  });

  it("fills a drive once, where other drills are repeated", async () => {
    const asked = { rig: { like: "demo-box-till" }, drill: "long-fill", direction: "write" };
    const { measurementId } = await makeStep(store, planner, STUDY, asked);
    const done = openCompared(store, STUDY).measurements.find(({ id }) => id === measurementId)!;
    expect(done.drill).toMatchObject({ name: "long-fill", repeats: 1 });
    expect(done.runs).toHaveLength(1);
  });

  it("leaves a bad bay where it is: the drive moved away is free, another one put there is not", async () => {
    const CAMP = "demo-base-camp";
    const rateOf = async (like: string, bay: string) => {
      const asked = { rig: { like, bay }, drill: "haul", direction: "read" };
      const { rigId, measurementId } = await makeStep(store, planner, CAMP, asked);
      const { measurements, rigs } = openCompared(store, CAMP);
      expect(rigs.find(({ id }) => id === rigId)!.bay).toBe(bay);
      return measurements.find(({ id }) => id === measurementId)!.runs[0]!.result!.meanMBps;
    };
    expect(await rateOf("demo-camp-bay-3", "1")).toBeGreaterThan(150);
    expect(await rateOf("demo-camp-bay-1", "3")).toBeLessThan(100);
  });

  it("uses a rig that stands there already", async () => {
    const before = openCompared(store, STUDY).rigs.length;
    const { rigId } = await makeStep(store, planner, STUDY, ask({ like: "demo-box-till" }));
    expect(rigId).toBe("demo-box-till");
    expect(openCompared(store, STUDY).rigs).toHaveLength(before);
  });

  it("leaves no rig behind where the drill makes no sense", async () => {
    const parts = ["demo-port", "demo-cable-k5", "demo-till", "demo-moraine"];
    const before = openCompared(store, STUDY).rigs.length;
    for (const drill of ["no such drill", "long-fill"]) {
      const asked = { rig: { like: "demo-box-till", parts }, drill, direction: "read" };
      await expect(makeStep(store, planner, STUDY, asked)).rejects.toThrow(/./);
      expect(openCompared(store, STUDY).rigs).toHaveLength(before);
    }
  });

  it.each<[string, object]>([
    ["a part that is nowhere", { like: "demo-box-till", parts: ["demo-port", "nowhere"] }],
    ["a rig that is nowhere", { like: "nowhere" }],
    ["a rig that is none", { like: "demo-box-till", parts: ["demo-moraine", "demo-port"] }],
  ])("refuses %s, and leaves the study as it was", async (_, rig) => {
    const before = openCompared(store, STUDY).rigs.length;
    await expect(makeStep(store, planner, STUDY, ask(rig))).rejects.toThrow(/./);
    expect(openCompared(store, STUDY).rigs).toHaveLength(before);
  });
});

describe("a step on real parts", () => {
  const modes = ["usb-5g", "usb-10g"];
  let study: string;
  let ids: Record<"port" | "k1" | "k2" | "box" | "disk", string>;
  let rig: string;
  beforeEach(() => {
    study = createStudy(store, { title: "Real" });
    const add = (kind: string, name: string, ...connectors: object[]) =>
      addPart(store, { kind, name, connectors });
    ids = {
      port: add("host-port", "Port", { side: "down", modes }),
      k1: add("cable", "K1", { side: "through", modes }),
      k2: add("cable", "K2", { side: "through", modes }),
      box: add("enclosure", "Box", { side: "up", modes }, { side: "down", modes: ["pcie-3.0-x2"] }),
      disk: add("drive", "Disk", { side: "up", modes: ["pcie-3.0-x2"] }),
    };
    rig = addRig(store, study, {
      name: "as found",
      partIds: [ids.port, ids.k1, ids.box, ids.disk],
    });
  });
  const swapped = () => ({
    rig: { like: rig, parts: [ids.port, ids.k2, ids.box, ids.disk] },
    drill: "haul",
    direction: "read",
  });

  it("keeps as little free as the run before it did, whatever that drill was", () => {
    const { rigs } = openCompared(store, study);
    const conditions = (freeBytes: number) => ({ io: "direct", freeBytes }) as Conditions;
    const done = (freeBytes: number) =>
      measured(rigs[0]!, [400], { conditions: conditions(freeBytes) });
    // With a span of 1 GiB there were 200 MB left.
    expect(reserveFor({ measurements: [done(1.27e9)] }, rig)).toBe(0);
    expect(reserveFor({ measurements: [done(9e9), done(1.27e9)] }, rig)).toBeNull();
    expect(reserveFor({ measurements: [done(1.27e9)] }, "another rig")).toBeNull();
    expect(reserveFor({ measurements: [] }, rig)).toBeNull();
  });

  it("is a rig without a plan where nobody knows where its drive is measured", async () => {
    const made = await makeStep(store, planner, study, swapped());
    expect(made).toMatchObject({ planId: null, measurementId: null });
    expect(openCompared(store, study).rigs.map(({ name }) => name)).toEqual([
      "as found",
      "as found, with K2",
    ]);
    // What was only typed names no place either.
    addTyped(store, study, {
      rigId: rig,
      drill: "haul",
      direction: "read",
      figures: ["400 MB/s"],
    });
    expect((await makeStep(store, planner, study, swapped())).planId).toBeNull();
  });

  it.each([
    ["haul", 3],
    ["long-fill", 1],
  ])("is planned where its drive was measured: %s, %d times", async (drill, repeats) => {
    const [before] = openCompared(store, study).rigs;
    insertMeasurement(store, {
      id: "earlier",
      studyId: study,
      rigId: rig,
      rig: before!,
      origin: "measured",
      drill: usualDrill("haul", "read"),
      target: "/mnt/disk",
      warmUp: false,
      stated: UNSAID,
      conditions: null,
      status: "running",
      createdAt: "2026-01-01",
    });
    const asked = { ...swapped(), drill, direction: "write" };
    const { planId } = await makeStep(store, planner, study, asked);
    const { plan } = planner.view(planId!);
    expect(plan).toMatchObject({ repeats, drills: [{ name: drill, direction: "write" }] });
    expect(plan.rigs).toMatchObject([{ target: "/mnt/disk" }]);
  });

  it("is planned on the machine that the rig names, and not where its drive was on another one", async () => {
    const [before] = openCompared(store, study).rigs;
    const row = (id: string, target: string, createdAt: string) =>
      insertMeasurement(store, {
        id,
        studyId: study,
        rigId: rig,
        rig: before!,
        origin: "measured",
        drill: usualDrill("haul", "read"),
        target,
        warmUp: false,
        stated: UNSAID,
        conditions: null,
        status: "running",
        createdAt,
      });
    row("here", "/mnt/disk", "2026-01-01");
    row("there", "lab2:/media/disk", "2026-01-02");
    const facts = null;
    for (const name of ["lab2", "lab3"])
      putHost(store, { id: name, name, lookedAt: "", facts, trouble: null }, "");
    const targetOn = async (host: string) => {
      const asked = { ...swapped(), rig: { ...swapped().rig, host } };
      const { planId } = await makeStep(store, planner, study, asked);
      return planner.view(planId!).plan.rigs[0]!.target;
    };
    expect(await targetOn("")).toBe("/mnt/disk");
    expect(await targetOn("desk")).toBe("/mnt/disk");
    expect(await targetOn("lab2")).toBe("lab2:/media/disk");
    // It was never on that one: the path is a guess, and the plan finds the drive by its serial number.
    expect(await targetOn("lab3")).toBe("lab3:/media/disk");
  });

  it("judges without a run that is left out, with another tolerance, or on another rig", () => {
    const kept = () => openCompared(store, study);
    const claims = [{ kind: "peak", direction: "read", mbps: 440 }];
    const claiming = addPart(store, {
      kind: "enclosure",
      name: "Claims",
      claims,
      connectors: [
        { side: "up", modes },
        { side: "down", modes: ["pcie-3.0-x2"] },
      ],
    });
    const own = addRig(store, study, {
      name: "own",
      partIds: [ids.port, ids.k1, claiming, ids.disk],
    });
    addTyped(store, study, {
      rigId: own,
      drill: "haul",
      direction: "read",
      figures: ["400 MB/s", "402 MB/s", "401 MB/s"],
    });
    const verdict = (query: Record<string, string | string[]>) =>
      judgedOf(store, kept(), "MB/s", whatIfOf(query, kept())).judged.find(
        ({ part }) => part.name === "Claims",
      )!;
    expect(verdict({}).kind).toBe("Can't tell yet");
    expect(verdict({ tolerance: "0.2" }).kind).toBe("Delivers");
    const runs = [...kept().runs.values()].flat().map(({ id }) => id);
    expect(verdict({ without: runs.slice(0, 2) }).reasons.join()).toMatch(
      /one run has no interval/,
    );
    expect(verdict({ on: rig }).reasons.join()).toMatch(/stands in no rig/);
    // What makes no sense is as if left out.
    const odd = whatIfOf({ tolerance: "7", without: "nowhere", on: "nowhere" }, kept());
    expect(odd).toEqual(AS_IT_IS);
    expect(isAsked(odd)).toBe(false);
    setTolerance(store, study, { tolerance: 0.2 });
    const delivered = verdict({});
    expect(delivered.kind).toBe("Delivers");
    expect(turnsIn(store, kept(), "MB/s", delivered)).toMatchObject([{ to: "Delivers" }]);
  });
});

describe("what a tester believes", () => {
  it("is kept, and the usual until then", () => {
    expect(opinionOf(store)).toEqual({ priors: {}, minutes: {}, fewest: "steps" });
    setOpinion(store, { priors: { pairing: 0.1 }, fewest: "minutes" });
    setOpinion(store, { priors: { pairing: 0.2 }, fewest: "minutes" });
    expect(opinionOf(store)).toEqual({ priors: { pairing: 0.2 }, minutes: {}, fewest: "minutes" });
    expect(() => setOpinion(store, { priors: { pairing: 7 } })).toThrow(/at most 90/);
    expect(opinionOf(store).priors).toEqual({ pairing: 0.2 });
  });
});
