import fs from "node:fs";
import os from "node:os";
import path from "node:path";
import { afterEach, beforeEach, describe, expect, it } from "vitest";
import { openStore, type Store } from "@/store/database";
import { addTyped } from "../elsewhere/typed";
import { isProblem } from "../problem";
import {
  putMeasurementBack,
  putStudyBack,
  removeMeasurement,
  removeStudy,
  sweepRemoved,
} from "./removal";
import { addPart, changePart } from "../shelf/shelf";
import {
  addRig,
  changeRig,
  createStudy,
  dropRig,
  listStudies,
  measurementsOf,
  openStudy,
  restoreRig,
} from "./studies";
import { setNotes } from "./change-study";

describe("what a tester takes away or changes", () => {
  let folder: string;
  let store: Store;
  let study: string;
  let rigId: string;
  let port: string;
  let disk: string;
  const modes = ["usb-5g", "usb-10g"];
  const drive = { kind: "drive", name: "Disk", connectors: [{ side: "up", modes }] };
  beforeEach(() => {
    folder = fs.mkdtempSync(path.join(os.tmpdir(), "nerrit-removal-"));
    store = openStore(folder);
    study = createStudy(store, { title: "Mine" });
    port = addPart(store, {
      kind: "host-port",
      name: "rear",
      connectors: [{ side: "down", modes }],
    });
    disk = addPart(store, drive);
    rigId = addRig(store, study, { name: "bare", partIds: [port, disk] });
    addTyped(store, study, { rigId, drill: "haul", direction: "read", figures: ["450", "452"] });
  });
  afterEach(() => {
    store.$client.close();
    fs.rmSync(folder, { recursive: true });
  });
  const code = (work: () => void): [number, string | null, string] | null => {
    try {
      work();
      return null;
    } catch (error) {
      if (!isProblem(error)) throw error;
      return [error.status, error.code, error.message];
    }
  };

  it("is a study that comes back whole, and is swept after 30 days", () => {
    removeStudy(store, study);
    expect(listStudies(store)).toEqual([]);
    expect(code(() => openStudy(store, study))?.[0]).toBe(404);
    sweepRemoved(store);
    putStudyBack(store, study);
    expect(openStudy(store, study).rigs).toHaveLength(1);
    expect(measurementsOf(store, study)[0]!.runs).toHaveLength(2);
    removeStudy(store, study);
    sweepRemoved(store, Date.now() + 31 * 86_400e3);
    expect(code(() => putStudyBack(store, study))?.[0]).toBe(404);
  });

  it("is a measurement that counts no more, and again once it is put back", () => {
    const [one] = measurementsOf(store, study);
    removeMeasurement(store, one!.id);
    expect(measurementsOf(store, study)).toEqual([]);
    expect(code(() => removeMeasurement(store, one!.id))?.[0]).toBe(404);
    putMeasurementBack(store, one!.id);
    expect(measurementsOf(store, study)[0]!.runs).toHaveLength(2);
    removeMeasurement(store, one!.id);
    sweepRemoved(store, Date.now() + 31 * 86_400e3);
    expect(code(() => putMeasurementBack(store, one!.id))?.[0]).toBe(404);
  });

  it("is not taken away while something of it is measured", () => {
    const [one] = measurementsOf(store, study);
    store.$client.prepare("update measurements set status = 'running'").run();
    expect(code(() => removeStudy(store, study))?.[0]).toBe(409);
    expect(code(() => removeMeasurement(store, one!.id))?.[0]).toBe(409);
    expect(listStudies(store)).toHaveLength(1);
  });

  it("is put back where it stood, and into no other study", () => {
    const other = createStudy(store, { title: "Other" });
    const place = dropRig(store, rigId);
    expect(code(() => restoreRig(store, rigId, { ...place, studyId: other }))?.[0]).toBe(404);
    restoreRig(store, rigId, place);
    expect(openStudy(store, study).rigs).toHaveLength(1);
    const loose = addRig(store, other, { name: "never measured", partIds: [port, disk] });
    const from = dropRig(store, loose);
    expect(code(() => restoreRig(store, loose, { ...from, studyId: study }))?.[0]).toBe(404);
    restoreRig(store, loose, from);
    expect(openStudy(store, other).rigs).toHaveLength(1);
  });

  it("is not written over what another tab wrote meanwhile, unless the tester says so", () => {
    const was = { name: "bare", partIds: [port, disk] };
    changeRig(store, rigId, { ...was, host: "laptop", was });
    const refused = code(() => changeRig(store, rigId, { ...was, name: "direct", was }));
    expect(refused).toMatchObject([409, "changed", expect.stringMatching(/host is “laptop” now/)]);
    expect(openStudy(store, study).rigs[0]).toMatchObject({ name: "bare", host: "laptop" });
    changeRig(store, rigId, { ...was, name: "direct" });
    expect(openStudy(store, study).rigs[0]!.name).toBe("direct");

    changePart(store, disk, { ...drive, notes: "scratched", was: drive });
    const part = code(() => changePart(store, disk, { ...drive, name: "Other", was: drive }));
    expect(part).toMatchObject([409, "changed", expect.stringMatching(/notes/)]);
    // What is the same as before rests on nothing that changed.
    changePart(store, disk, { ...drive, name: "Other", was: { ...drive, notes: "scratched" } });

    setNotes(store, study, { notes: "first", was: { notes: "" } });
    expect(code(() => setNotes(store, study, { notes: "second", was: { notes: "" } }))?.[1]).toBe(
      "changed",
    );
  });
});
