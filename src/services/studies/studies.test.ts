import fs from "node:fs";
import os from "node:os";
import path from "node:path";
import { afterEach, beforeEach, describe, expect, it } from "vitest";
import { answered } from "@/core/testing/answered";
import { usualDrill } from "@/core/drills/shape";
import { plainSample } from "@/core/run/step";
import { openStore, type Store } from "@/store/database";
import * as measurementRows from "@/store/measurements";
import * as runs from "@/store/runs";
import type { Problem } from "../problem";
import { checked, isProblem } from "../problem";
import { addPart, changePart } from "../shelf/shelf";
import { openDemo } from "../testing/demo-store";
import {
  addRig,
  changeRig,
  createStudy,
  dropRig,
  findRig,
  listStudies,
  measurement,
  measurementsOf,
  openStudy,
} from "./studies";
import { StudyDraft } from "@/core/study/study";

let folder: string;
let store: Store;
beforeEach(() => {
  folder = fs.mkdtempSync(path.join(os.tmpdir(), "nerrit-studies-"));
  store = openStore(folder);
});
afterEach(() => {
  store.$client.close();
  fs.rmSync(folder, { recursive: true });
});

const port = { kind: "host-port", name: "Port", connectors: [{ side: "down", modes: ["usb-5g"] }] };
const stick = { kind: "drive", name: "Stick", connectors: [{ side: "up", modes: ["usb-5g"] }] };
const disk = { kind: "drive", name: "Disk", connectors: [{ side: "up", modes: ["sata-6g"] }] };

describe("a study", () => {
  it("keeps its rigs in the order they were added, and lets go of them", () => {
    const study = createStudy(store, { title: "Order" });
    const [a, b] = [addPart(store, port), addPart(store, stick)];
    const first = addRig(store, study, { name: "one", partIds: [a, b] });
    const second = addRig(store, study, { name: "two", partIds: [a, b], fileSystem: "exFAT" });
    expect(openStudy(store, study).rigs.map(({ name }) => name)).toEqual(["one", "two"]);
    changeRig(store, first, { name: "uno", partIds: [a, b] });
    expect(findRig(store, first)).toMatchObject({ studyId: study, rig: { name: "uno" } });
    dropRig(store, first);
    expect(openStudy(store, study).rigs.map(({ id }) => id)).toEqual([second]);
    expect(() => findRig(store, first)).toThrow(/no such rig/);
    expect(listStudies(store)).toHaveLength(1);
  });

  it("refuses rigs that cannot be, with the reason, and stores none of them", () => {
    const study = createStudy(store, { title: "Wrong" });
    const [a, b, c] = [port, stick, disk].map((part) => addPart(store, part));
    for (const [partIds, reason] of [
      [[a, c], /will not link/],
      [[b, a], /starts at a host port/],
      [[a, "gone"], /not on the shelf/],
      [[a], /at least/],
    ] as const) {
      expect(() => addRig(store, study, { name: "x", partIds })).toThrow(reason);
    }
    expect(openStudy(store, study).rigs).toEqual([]);
    expect(() => openStudy(store, "none")).toThrow(/no such study/);
  });
});

describe("a measurement", () => {
  function begun() {
    const study = createStudy(store, { title: "Runs" });
    const [a, b] = [addPart(store, port), addPart(store, stick)];
    const rigId = addRig(store, study, { name: "rig", partIds: [a, b] });
    const { rig } = findRig(store, rigId);
    const drill = usualDrill("haul", "read");
    measurementRows.insertMeasurement(store, {
      id: "m",
      studyId: study,
      rigId,
      drill,
      target: "/x",
      status: "running",
      rig,
      createdAt: "2026-01-01",
    });
    runs.insertRun(store, {
      id: "r",
      measurementId: "m",
      repeat: 0,
      status: "running",
      startedAt: "2026-01-01",
    });
    return { study, partId: b };
  }

  it("keeps its samples in order when it is interrupted", () => {
    begun();
    runs.insertTrace(store, "r", 1, [plainSample(100.5, 200, 2)]);
    runs.insertTrace(store, "r", 0, [plainSample(0, 100.5, 1)]);
    expect(measurementRows.unfinishedMeasurements(store).map(({ id }) => id)).toEqual(["m"]);
    measurementRows.endMeasurement(store, "m", "interrupted", "power", "2026-01-02");
    const found = measurement(store, "m");
    expect(found).toMatchObject({ status: "interrupted", reason: "power" });
    expect(found.runs[0]).toMatchObject({
      status: "interrupted",
      samples: [
        { ms: 100.5, bytes: 1 },
        { ms: 200, bytes: 2 },
      ],
    });
    expect(measurementRows.unfinishedMeasurements(store)).toEqual([]);
  });

  it("keeps the rig as it was when a part is changed afterwards", () => {
    const { study, partId } = begun();
    changePart(store, partId, { ...stick, name: "Renamed", limits: { read: 5 } });
    const [kept] = measurementsOf(store, study);
    expect(kept!.rig.parts[1]).toMatchObject({ name: "Stick", limits: {} });
    expect(openStudy(store, study).rigs[0]!.parts[1]!.name).toBe("Renamed");
  });
});

describe("the demo", () => {
  it("tells its story: a cable that costs half, an enclosure that delivers", () => {
    store.$client.close();
    store = openDemo(folder);
    const [open] = listStudies(store);
    const measured = measurementsOf(store, open!.study.id);
    for (const direction of ["read", "write"] as const) {
      const told = answered(open!.study, open!.rigs, measured, direction);
      const text = told.headline.flat().map((segment) => segment.text);
      expect(text.join("")).toMatch(/Cable K2 .*limits rig B/);
      expect(told.verdicts.map(({ kind }) => kind)).toEqual(["Delivers"]);
      expect(told.next).toBeNull();
    }
  });
});

describe("a problem", () => {
  it("names each field that is wrong", () => {
    try {
      checked(StudyDraft, { title: "", tolerance: 7 });
      expect.unreachable();
    } catch (error) {
      expect(isProblem(error)).toBe(true);
      expect((error as Problem).status).toBe(422);
      expect((error as Problem).fields.map(({ path }) => path)).toEqual(["title", "tolerance"]);
    }
    expect(isProblem(new Error("other"))).toBe(false);
  });
});
