import fs from "node:fs";
import os from "node:os";
import path from "node:path";
import { afterEach, beforeEach, describe, expect, it } from "vitest";
import { openStore, type Store } from "@/store/database";
import { openDemo } from "../testing/demo-store";
import { saveStudy } from "./save-study";
import { openStudy } from "./studies";
import { takeInStudy } from "./study-file";
import { keepSuite, removeSuite } from "./suites";

const STUDY = "demo-first";
const suite = (value: number, rigIds = ["demo-rig-k2", "demo-rig-k5"]) => ({
  name: "Workday",
  rigIds,
  tests: [
    { name: "Import", unit: "s", isLessBetter: true, values: rigIds.map((_, i) => value + i) },
  ],
});

describe("suites of a study", () => {
  let folder: string;
  let store: Store;
  let other: Store;
  beforeEach(() => {
    folder = fs.mkdtempSync(path.join(os.tmpdir(), "nerrit-suites-"));
    const [one, two] = ["one", "two"].map((name) => path.join(folder, name));
    fs.mkdirSync(one!);
    store = openDemo(one!);
    other = openStore(two!);
  });
  afterEach(() => {
    for (const open of [store, other]) open.$client.close();
    fs.rmSync(folder, { recursive: true });
  });
  const kept = () => openStudy(store, STUDY).study.suites;

  it("are kept by name, replaced by another of the same name, and removed", () => {
    keepSuite(store, STUDY, suite(40));
    keepSuite(store, STUDY, suite(50));
    expect(kept()).toEqual([suite(50)]);
    expect(removeSuite(store, STUDY, { name: "Workday" })).toEqual(suite(50));
    expect(kept()).toEqual([]);
  });

  it("leave nothing where something makes no sense", () => {
    for (const wrong of [
      suite(40, ["demo-rig-k2", "demo-box-serac"]),
      suite(40, ["demo-rig-k2", "demo-rig-k2"]),
      suite(-1),
      { ...suite(40), name: "" },
      { ...suite(40), tests: [{ ...suite(40).tests[0]!, values: [1] }] },
    ])
      expect(() => keepSuite(store, STUDY, wrong)).toThrow();
    expect(() => keepSuite(store, "nobody", suite(40))).toThrow(/no such study/);
    expect(() => removeSuite(store, STUDY, { name: "Workday" })).toThrow(/no such suite/);
    expect(kept()).toEqual([]);
  });

  it("go with the study's file to the rigs as they are called there", () => {
    keepSuite(store, STUDY, suite(40));
    const { id } = takeInStudy(other, saveStudy(store, STUDY).bytes);
    const there = openStudy(other, id);
    const [taken] = there.study.suites;
    expect(taken!.tests).toEqual(suite(40).tests);
    const names = (at: typeof there, ids: readonly string[]) =>
      ids.map((one) => at.rigs.find((rig) => rig.id === one)!.name);
    expect(names(there, taken!.rigIds)).toEqual(names(openStudy(store, STUDY), suite(40).rigIds));
  });
});
