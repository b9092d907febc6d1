import fs from "node:fs";
import os from "node:os";
import path from "node:path";
import { eq } from "drizzle-orm";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { UNSAID } from "@/core/run/stated";
import { usualDrill } from "@/core/drills/shape";
import type { Store } from "@/store/database";
import { putHost } from "@/store/hosts";
import { insertMeasurement } from "@/store/measurements";
import { insertRun, insertTrace, setLeftOut } from "@/store/runs";
import { putSetting } from "@/store/settings";
import { studyBriefs } from "@/store/schema";
import { benchVersion, studyVersion } from "@/store/version";
import { openDemo } from "../testing/demo-store";
import { addPart, retire } from "../shelf/shelf";
import { changeRig, createStudy } from "../studies/studies";
import { setNotes, setTolerance } from "../studies/change-study";
import { openCompared } from "./comparison";
import { briefOfStudy } from "./study-brief";

const FIRST = "demo-first";
const OTHER = "demo-enclosures";
const BUILD = "one build";

let folder: string;
let store: Store;
beforeAll(() => {
  folder = fs.mkdtempSync(path.join(os.tmpdir(), "nerrit-brief-"));
  store = openDemo(folder);
});
afterAll(() => {
  store.$client.close();
  fs.rmSync(folder, { recursive: true });
});

const someRun = (studyId: string) =>
  openCompared(store, studyId).measurements.find(({ runs }) => runs.length > 1)!.runs[0]!.id;

describe("what is written of studies", () => {
  const versions = () => ({
    first: studyVersion(store, FIRST),
    other: studyVersion(store, OTHER),
    bench: benchVersion(store),
  });
  /** Which versions are others after something was written. */
  const changed = (write: () => void) => {
    const before = versions();
    write();
    const after = versions();
    return Object.keys(before).filter(
      (key) => before[key as keyof typeof before] !== after[key as keyof typeof after],
    );
  };
  const rig = () => openCompared(store, FIRST).rigs[0]!;
  const asDraft = () => {
    const { id: _, parts, beside, other, ...rest } = rig();
    const ids = (some: readonly { id: string }[]) => some.map(({ id }) => id);
    return { ...rest, partIds: ids(parts), besideIds: ids(beside), otherIds: ids(other) };
  };
  /** An order to measure with one run that has begun. */
  const begin = (id: string) => {
    insertMeasurement(store, {
      id,
      studyId: FIRST,
      rigId: rig().id,
      drill: usualDrill("haul", "read"),
      target: "/dev/none",
      status: "running",
      rig: rig(),
      stated: UNSAID,
      createdAt: "2026-12-01T10:00:00.000Z",
    });
    insertRun(store, {
      id: `${id} run`,
      measurementId: id,
      repeat: 0,
      status: "running",
      startedAt: "2026-12-01T10:00:00.000Z",
    });
  };

  it.each<[string, () => void]>([
    ["its tolerance", () => setTolerance(store, FIRST, { tolerance: 0.07 })],
    ["its notes", () => setNotes(store, FIRST, { notes: "looked at twice" })],
    ["a rig of it", () => changeRig(store, rig().id, { ...asDraft(), name: "Renamed" })],
    ["an order to measure", () => begin("begun")],
    ["a run left out", () => setLeftOut(store, someRun(FIRST), "the lead was loose")],
  ])("are counted for that study alone: %s", (_, write) => {
    expect(changed(write)).toEqual(["first"]);
  });

  it.each<[string, () => void]>([
    [
      "a part",
      () =>
        void addPart(store, {
          kind: "drive",
          name: "New drive",
          connectors: [{ side: "up", modes: ["usb-10g"] }],
        }),
    ],
    ["a retired part", () => retire(store, rig().parts[0]!.id, true)],
    ["a setting", () => putSetting(store, "some setting", 1)],
    [
      "a host",
      () => putHost(store, { id: "h", name: "lab2", lookedAt: "", facts: null, trouble: null }, ""),
    ],
  ])("are counted for all studies: %s", (_, write) => {
    expect(changed(write)).toEqual(["first", "other", "bench"]);
  });

  it("are not counted for what a run stores while it goes on", () => {
    begin("goes on");
    const trace = [{ ms: 10, from: 0, bytes: 1, written: 0, requests: 1, step: 0, target: 0 }];
    const kept = openCompared(store, FIRST);
    expect(changed(() => insertTrace(store, "goes on run", 0, trace))).toEqual([]);
    expect(openCompared(store, FIRST)).toBe(kept);
  });

  it("leave what is kept in memory of other studies as it is", () => {
    const [first, other] = [FIRST, OTHER].map((id) => openCompared(store, id));
    setNotes(store, FIRST, { notes: "and again" });
    expect(openCompared(store, OTHER)).toBe(other);
    expect(openCompared(store, FIRST)).not.toBe(first);
  });
});

describe("a study in brief", () => {
  const keptOf = (studyId: string) =>
    store.select().from(studyBriefs).where(eq(studyBriefs.studyId, studyId)).all();

  it("is the same from what was kept as worked out", () => {
    const worked = briefOfStudy(store, FIRST, "MB/s", BUILD);
    expect(keptOf(FIRST)).toHaveLength(1);
    expect(briefOfStudy(store, FIRST, "MB/s", BUILD)).toEqual(worked);
    expect(briefOfStudy(store, FIRST, "MB/s", null)).toEqual(worked);
  });

  it("is worked out anew where a run was left out since, by another build, or in another unit", () => {
    const marked = { direction: "read" as const, headline: "old", hasSimulated: false, rigs: [] };
    const spoil = () => store.update(studyBriefs).set({ brief: marked }).run();
    briefOfStudy(store, OTHER, "MB/s", BUILD);
    spoil();
    expect(briefOfStudy(store, OTHER, "MB/s", BUILD).headline).toBe("old");
    expect(briefOfStudy(store, OTHER, "MB/s", "another build").headline).not.toBe("old");
    spoil();
    expect(briefOfStudy(store, OTHER, "MiB/s", "another build").headline).not.toBe("old");
    spoil();
    setLeftOut(store, someRun(OTHER), "the lead was loose");
    expect(briefOfStudy(store, OTHER, "MB/s", "another build").headline).not.toBe("old");
  });

  it("is worked out all the same where the store takes nothing", () => {
    const id = createStudy(store, { title: "Nothing yet" });
    store.$client.pragma("query_only = on");
    try {
      expect(briefOfStudy(store, id, "MB/s", BUILD).rigs).toEqual([]);
    } finally {
      store.$client.pragma("query_only = off");
    }
  });
});
