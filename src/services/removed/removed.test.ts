import fs from "node:fs";
import os from "node:os";
import path from "node:path";
import { afterEach, beforeEach, describe, expect, it } from "vitest";
import { usualDrill } from "@/core/drills/shape";
import { ownModeId } from "@/core/ledger/own-mode";
import { openStore, type Store } from "@/store/database";
import { deleteHost, listHosts, putHost } from "@/store/hosts";
import { getParts } from "@/store/parts";
import { findRun } from "@/store/runs";
import { deleteStudy } from "@/store/studies";
import { addTyped } from "../elsewhere/typed";
import { dropDrill, keepDrill, ownDrills } from "../measuring/own-drills";
import { isProblem } from "../problem";
import { addOwnMode, dropOwnMode, ownModes } from "../shelf/own-modes";
import { addPart, retire } from "../shelf/shelf";
import { setDemands, setReferences } from "../studies/change-study";
import { removeMeasurement, removeStudy, sweepRemoved } from "../studies/removal";
import {
  addRig,
  createStudy,
  dropRig,
  listStudies,
  measurementsOf,
  openStudy,
  restoreRig,
} from "../studies/studies";
import { keepSuite, removeSuite } from "../studies/suites";
import { correctRun } from "../studies/trace";
import { TOLD_HOSTS } from "./lists";
import { noteMissing } from "./note";
import { putBack, removedLately } from "./removed";

const DAY_MS = 86_400e3;
const modes = ["usb-5g", "usb-10g"];

let folder: string;
let store: Store;
let study: string;
let rig: string;
let port: string;
beforeEach(() => {
  folder = fs.mkdtempSync(path.join(os.tmpdir(), "nerrit-removed-"));
  store = openStore(folder);
  study = createStudy(store, { title: "Mine" });
  port = addPart(store, { kind: "host-port", name: "rear", connectors: [{ side: "down", modes }] });
  const disk = addPart(store, {
    kind: "drive",
    name: "Disk",
    connectors: [{ side: "up", modes }],
  });
  rig = addRig(store, study, { name: "first", partIds: [port, disk] });
  addRig(store, study, { name: "second", partIds: [port, disk], fileSystem: "ext4" });
  addTyped(store, study, { rigId: rig, drill: "haul", direction: "read", figures: ["450"] });
});
afterEach(() => {
  store.$client.close();
  fs.rmSync(folder, { recursive: true });
});

const runId = () => measurementsOf(store, study)[0]!.runs[0]!.id;
const stream = (name: string) => ({
  name,
  streams: [
    {
      what: name,
      direction: "write",
      width: 1920,
      height: 1080,
      perSecond: 60,
      bits: 10,
      streams: 1,
    },
  ],
});
const suite = {
  name: "Old suite",
  tests: [{ name: "copy", unit: "s", isLessBetter: true, values: [4] }],
};
const host = { id: "h", name: "lab2", lookedAt: "2026-12-01", facts: null, trouble: null };
const ownMode = {
  name: "Odd link",
  rate: 8,
  lanes: 1,
  code: "64b/66b",
  payload: 1024,
  overhead: 28,
  duplex: "full",
  shared: "no",
  protocol: "nvme",
  low: 0.8,
  high: 0.9,
} as const;

/** Everything that can be removed: how, and what must be the same once it is back. */
const KINDS: [kind: string, make: () => void, remove: () => void, look: () => unknown][] = [
  ["study", () => {}, () => removeStudy(store, study), () => listStudies(store)],
  [
    "measurement",
    () => {},
    () => removeMeasurement(store, measurementsOf(store, study)[0]!.id),
    () => measurementsOf(store, study),
  ],
  ["rig", () => {}, () => void dropRig(store, rig), () => openStudy(store, study).rigs],
  [
    "part",
    () => {},
    () => retire(store, port, true),
    () => getParts(store, [port]).get(port)?.retired,
  ],
  [
    "demand",
    () => setDemands(store, study, ["one", "two", "three"].map(stream)),
    () => setDemands(store, study, ["one", "three"].map(stream)),
    () => openStudy(store, study).study.demands,
  ],
  [
    "reference",
    () => setReferences(store, study, [{ name: "built in", mbps: 5100 }]),
    () => setReferences(store, study, []),
    () => openStudy(store, study).study.references,
  ],
  [
    "suite",
    () => {
      for (const name of [suite.name, "Newer suite"])
        keepSuite(store, study, { ...suite, name, rigIds: [rig] });
    },
    () => void removeSuite(store, study, { name: suite.name }),
    () => openStudy(store, study).study.suites,
  ],
  [
    "correction",
    () => correctRun(store, runId(), { corrections: [added("a", 10), added("b", 20)] }),
    () => correctRun(store, runId(), { corrections: [added("b", 20)] }),
    () => findRun(store, runId())!.run.corrections,
  ],
  [
    "drill",
    () => void keepDrill(store, { ...usualDrill("haul", "read"), title: "Mine" }),
    () => dropDrill(store, ownDrills(store)[0]!.id),
    () => ownDrills(store).map(({ drill }) => drill),
  ],
  [
    "mode",
    () => void addOwnMode(store, ownMode),
    () => dropOwnMode(store, ownModeId(ownMode)),
    () => ownModes(store),
  ],
  [
    "host",
    () => putHost(store, host, "2026-12-01"),
    () => {
      noteMissing(store, TOLD_HOSTS, listHosts(store), []);
      deleteHost(store, host.id);
    },
    () => listHosts(store).map(({ name }) => name),
  ],
];

const added = (id: string, ms: number) => ({
  do: "add" as const,
  id,
  of: "happening" as const,
  name: "stall" as const,
  ms,
});

const refusal = (work: () => void): [number, string] | null => {
  try {
    work();
    return null;
  } catch (error) {
    if (!isProblem(error)) throw error;
    return [error.status, error.message];
  }
};

describe("what was removed", () => {
  it.each(KINDS)("is told and comes back whole, in its place: a %s", (kind, make, remove, look) => {
    make();
    const before = look();
    remove();
    expect(look()).not.toEqual(before);
    const [one, ...others] = removedLately(store);
    expect(others).toEqual([]);
    expect(one).toMatchObject({ kind });
    expect(one!.title).not.toBe("");
    if (kind === "measurement") expect(one!.details).toMatch(/^1 run: 450/);
    putBack(store, one!.id);
    expect(look()).toEqual(before);
    expect(removedLately(store)).toEqual([]);
    expect(refusal(() => putBack(store, one!.id))?.[0]).toBe(404);
  });

  it("is told no more once it was put back another way", () => {
    const place = dropRig(store, rig);
    restoreRig(store, rig, place);
    setReferences(store, study, [{ name: "built in", mbps: 5100 }]);
    setReferences(store, study, []);
    setReferences(store, study, [{ name: "built in", mbps: 5200 }]);
    expect(removedLately(store)).toEqual([]);
  });

  it("survives the end of the server", () => {
    dropRig(store, rig);
    store.$client.close();
    store = openStore(folder);
    putBack(store, removedLately(store)[0]!.id);
    expect(openStudy(store, study).rigs.map(({ id }) => id)).toContain(rig);
  });

  it("waits for its study, where that is removed too", () => {
    dropRig(store, rig);
    removeStudy(store, study);
    const [of, one] = removedLately(store).toSorted((a) => (a.kind === "study" ? -1 : 1));
    expect(one!.study).toEqual({ id: study, title: "Mine", isRemoved: true });
    expect(refusal(() => putBack(store, one!.id))).toEqual([409, expect.stringMatching(/first/)]);
    putBack(store, of!.id);
    putBack(store, one!.id);
    expect(openStudy(store, study).rigs).toHaveLength(2);
  });

  it("never takes the place of what is called the same now", () => {
    setDemands(store, study, [stream("one")]);
    setDemands(store, study, []);
    const [one] = removedLately(store);
    store.transaction(() => {
      setDemands(store, study, [{ ...stream("other"), name: "one" }]);
    });
    // What came in its place is the same thing to whoever reads the list.
    expect(removedLately(store)).toEqual([]);
    expect(refusal(() => putBack(store, one!.id))?.[0]).toBe(404);
  });

  it("is never gone without its note, where the store takes only the one", () => {
    setReferences(store, study, [{ name: "built in", mbps: 5100 }]);
    const before = [openStudy(store, study), listHosts(store)];
    store.$client.exec(
      "create temp trigger full before insert on main.removed begin select raise(abort, 'full'); end",
    );
    for (const remove of [
      () => setReferences(store, study, []),
      () => dropRig(store, rig),
      () => retire(store, port, true),
      () => removeStudy(store, study),
    ])
      expect(remove).toThrow(/full/);
    store.$client.exec("drop trigger temp.full");
    expect([openStudy(store, study), listHosts(store)]).toEqual(before);
    expect(getParts(store, [port]).get(port)?.retired).toBe(false);
  });

  it("goes with a study that is taken out of the database for good", () => {
    dropRig(store, rig);
    deleteStudy(store, study);
    expect(removedLately(store)).toEqual([]);
  });

  it("goes for good after 30 days, with what was removed from a study that goes", () => {
    dropRig(store, rig);
    setReferences(store, study, [{ name: "built in", mbps: 5100 }]);
    setReferences(store, study, []);
    removeStudy(store, study);
    sweepRemoved(store, Date.now() + 29 * DAY_MS);
    expect(removedLately(store)).toHaveLength(3);
    sweepRemoved(store, Date.now() + 31 * DAY_MS);
    expect(removedLately(store)).toEqual([]);
    expect(store.$client.pragma("foreign_key_check")).toEqual([]);
  });
});
