import fs from "node:fs";
import os from "node:os";
import path from "node:path";
import { afterEach, beforeEach, describe, expect, it } from "vitest";
import { openStore, type Store } from "@/store/database";
import { rigsOfStudy } from "@/store/studies";
import { addPart, retire } from "../shelf/shelf";
import { measureAgeingDrive } from "../testing/ageing-drive";
import { setDemands, setTolerance } from "./change-study";
import { copyStudy, slotsOf, testLike } from "./copy-study";
import { setLabels } from "./labels";
import { createStudy, measurementsOf, openStudy } from "./studies";

let folder: string;
let store: Store;
let study: string;
let box: string;
beforeEach(() => {
  folder = fs.mkdtempSync(path.join(os.tmpdir(), "nerrit-copy-"));
  store = openStore(folder);
  [study] = measureAgeingDrive(store).studies as [string];
  box = openStudy(store, study).rigs[0]!.parts[2]!.id;
});
afterEach(() => {
  store.$client.close();
  fs.rmSync(folder, { recursive: true });
});

const FILM = {
  name: "film",
  copies: [{ what: "a day's film", direction: "read", gigabytes: 500, minutes: 20 }],
};

const newBox = () => {
  const modes = ["usb-10g"];
  const connectors = [
    { side: "up", modes },
    { side: "down", modes: ["pcie-3.0-x2"] },
  ];
  return addPart(store, { kind: "enclosure", name: "New box", connectors });
};

describe("a study is copied", () => {
  it("with its rigs, demands, tolerance and tags, another part in one place, and no runs", () => {
    setTolerance(store, study, { tolerance: 0.1 });
    setLabels(store, study, { title: "Old test", tags: ["boxes"] });
    setDemands(store, study, [FILM]);
    const other = newBox();
    const { id } = copyStudy(store, study, { title: "New test", parts: { [box]: other } });
    const [was, is] = [openStudy(store, study), openStudy(store, id)];
    expect(is.study).toMatchObject({ title: "New test", tolerance: 0.1, tags: ["boxes"] });
    expect(is.study.demands).toEqual(was.study.demands);
    expect(is.rigs).toHaveLength(1);
    expect(is.rigs[0]!.parts.map((part) => part.id)).toEqual(
      was.rigs[0]!.parts.map((part) => (part.id === box ? other : part.id)),
    );
    expect(measurementsOf(store, id)).toEqual([]);
    // The study itself is as it was.
    expect(was.rigs[0]!.parts[2]!.id).toBe(box);
    expect(measurementsOf(store, study).length).toBeGreaterThan(0);
  });

  it("whole or not at all: a part in a place that it does not fit is refused", () => {
    const cable = openStudy(store, study).rigs[0]!.parts[1]!.id;
    const drive = openStudy(store, study).rigs[0]!.parts[3]!.id;
    const count = () => rigsOfStudy(store, study).length;
    const before = [count(), store.$client.prepare("select count(*) as n from studies").get()];
    for (const parts of [{ [drive]: cable }, { [box]: "no such part" }])
      expect(() => copyStudy(store, study, { title: "New test", parts })).toThrow();
    expect(() => copyStudy(store, study, { title: "" })).toThrow();
    expect(() => copyStudy(store, "none", { title: "New test" })).toThrow(/no such study/);
    expect([count(), store.$client.prepare("select count(*) as n from studies").get()]).toEqual(
      before,
    );
  });

  it("and offers for each place its own part first, then others of its kind that are not retired", () => {
    const other = newBox();
    const boxes = () => slotsOf(store, study).find(({ part }) => part.id === box)!.others;
    expect(boxes()[0]!.id).toBe(box);
    expect(boxes().map(({ id }) => id)).toContain(other);
    retire(store, other, true);
    retire(store, box, true);
    expect(boxes().map(({ id }) => id)).not.toContain(other);
    expect(boxes()[0]!.id).toBe(box);
  });

  it("with the drills that it measured, as a test to be done again", () => {
    const test = testLike(store, study)!;
    expect(test.drills).toMatchObject([{ name: "haul", direction: "read", seconds: 2 }]);
    expect(test.drills[0]).not.toHaveProperty("repeats");
    expect(testLike(store, createStudy(store, { title: "Nothing measured" }))).toBeNull();
    expect(testLike(store, "none")).toBeNull();
    expect(testLike(store, null)).toBeNull();
  });
});
