import fs from "node:fs";
import os from "node:os";
import path from "node:path";
import { DEMO_STUDIES } from "@demo/demo";
import { afterEach, beforeEach, describe, expect, it } from "vitest";
import { DRILLS } from "@/core/drills/catalogue";
import { studyOf } from "@/core/exchange/study-file";
import { simulatedDrill, simulateRepeats } from "@/core/simulate/measure";
import { openStore, type Store } from "@/store/database";
import { demoParts, listParts } from "@/store/parts";
import { listStudies } from "@/store/studies";
import { demoFile, hasDemo, putDemo, removeDemo, seedDemo } from "./demo";
import { addPart, changePart } from "../shelf/shelf";
import { openDemo } from "../testing/demo-store";
import { addRig, createStudy, measurementsOf, openStudy } from "./studies";
import { setDemands, setNotes, setReferences } from "./change-study";

const DEMAND = {
  name: "take the card in",
  streams: [],
  copies: [{ what: "card", direction: "write", gigabytes: 64, minutes: 5 }],
};

const MINE = ["demo-port", "demo-cable-k5", "demo-serac", "demo-moraine"];

describe("the demo", () => {
  let folder: string;
  let store: Store;
  beforeEach(() => {
    folder = fs.mkdtempSync(path.join(os.tmpdir(), "nerrit-demo-"));
    store = openStore(folder);
  });
  afterEach(() => {
    store.$client.close();
    fs.rmSync(folder, { recursive: true });
  });
  /** In place of the empty database: one in which the demo is. */
  const withDemo = () => {
    store.$client.close();
    store = openDemo(folder);
  };
  const titles = () => listStudies(store).map(({ title }) => title);
  const own = () => {
    const port = {
      kind: "host-port",
      name: "Mine",
      connectors: [{ side: "down", modes: ["usb-5g"] }],
    };
    const drive = {
      kind: "drive",
      name: "My drive",
      connectors: [{ side: "up", modes: ["usb-5g"] }],
    };
    const study = createStudy(store, { title: "My own" });
    const partIds = [addPart(store, port), addPart(store, drive)];
    addRig(store, study, { name: "mine", partIds });
    return study;
  };

  it("is five studies, in their order, every run of them simulated, every rig with a run", () => {
    withDemo();
    expect(seedDemo(store)).toBe(false);
    expect(titles()).toEqual(DEMO_STUDIES.map(({ title }) => title));
    for (const { id } of DEMO_STUDIES) {
      const { study, rigs } = openStudy(store, id);
      const runs = measurementsOf(store, id);
      expect(study.simulated).toBe(true);
      expect(runs.every(({ origin, status }) => origin === "simulated" && status === "done")).toBe(
        true,
      );
      for (const rig of rigs) expect(runs.some(({ rigId }) => rigId === rig.id)).toBe(true);
    }
  });

  it("goes at once and comes back as it was, and the tester’s own stays", { tags: "long" }, () => {
    withDemo();
    const mine = own();
    const before = measurementsOf(store, "demo-first").map(({ runs }) => runs.map((r) => r.result));
    const parts = listParts(store).length;
    expect(removeDemo(store)).toEqual([]);
    expect(titles()).toEqual(["My own"]);
    expect(demoParts(store)).toEqual([]);
    expect(listParts(store)).toHaveLength(2);
    expect(hasDemo(store)).toBe(false);
    putDemo(store);
    putDemo(store);
    expect(listParts(store)).toHaveLength(parts);
    expect(
      measurementsOf(store, "demo-first").map(({ runs }) => runs.map((r) => r.result)),
    ).toEqual(before);
    expect(openStudy(store, mine).rigs).toHaveLength(1);
  });

  it("keeps a study in which the tester has built, and the parts it stands on", () => {
    withDemo();
    addRig(store, "demo-first", { name: "my rig", partIds: MINE });
    expect(removeDemo(store)).toEqual(["Which cable to carry for the Moraine drive"]);
    const { rigs } = openStudy(store, "demo-first");
    expect(rigs.map(({ parts }) => parts.length)).toEqual([4, 4, 4]);
  });

  it("comes back beside a part that was changed meanwhile", { tags: "long" }, () => {
    withDemo();
    addRig(store, "demo-first", { name: "my rig", partIds: MINE });
    removeDemo(store);
    // A part that was changed meanwhile does not keep the others from coming back.
    const [k5] = listParts(store).filter(({ id }) => id === "demo-cable-k5");
    const { id: _, retired: _r, demo: _d, ...draft } = k5!;
    changePart(store, "demo-cable-k5", { ...draft, name: "K5, cut" });
    putDemo(store);
    expect(titles()).toHaveLength(DEMO_STUDIES.length);
  });

  it.each<[string, (store: Store) => void]>([
    ["noted", (at) => setNotes(at, "demo-first", { notes: "my own words" })],
    ["demanded", (at) => setDemands(at, "demo-first", [DEMAND])],
    ["held against", (at) => setReferences(at, "demo-first", [{ name: "built in", mbps: 5100 }])],
    [
      "corrected",
      (at) =>
        void at.$client
          .prepare(
            "update runs set left_out = 'slipped' where measurement_id like 'demo%' or measurement_id in (select id from measurements where study_id = 'demo-first')",
          )
          .run(),
    ],
  ])("keeps a study in which the tester has %s something", (_, change) => {
    withDemo();
    change(store);
    expect(removeDemo(store)).toContain("Which cable to carry for the Moraine drive");
    expect(titles()).toContain("Which cable to carry for the Moraine drive");
  });

  it("has rigs on which every drill can be simulated", { tags: "long" }, () => {
    for (const demo of DEMO_STUDIES) {
      const study = studyOf(demoFile({ ...demo, runs: [] }));
      for (const rig of study.rigs) {
        for (const { name, directions } of DRILLS.filter(({ recorded }) => !recorded)) {
          const simulation = study.simulationOf(rig.id);
          const set = { name, direction: directions[0], repeats: 1 };
          const drill = simulatedDrill(set, rig, simulation);
          const [run] = simulateRepeats(rig, drill, simulation, { seed: 3 });
          expect(run!.result.meanMBps, `${rig.name}, ${name}`).toBeGreaterThan(0);
        }
      }
    }
  });

  it("is not seeded where anything is", () => {
    own();
    expect(seedDemo(store)).toBe(false);
    expect(titles()).toEqual(["My own"]);
  });
});
