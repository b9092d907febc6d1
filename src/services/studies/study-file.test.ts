import fs from "node:fs";
import os from "node:os";
import path from "node:path";
import { DEMO_STUDIES } from "@demo/demo";
import { afterAll, afterEach, beforeAll, beforeEach, describe, expect, it } from "vitest";
import { openStore, type Store } from "@/store/database";
import { listParts } from "@/store/parts";
import { listStudies } from "@/store/studies";
import { changePart } from "../shelf/shelf";
import { openDemo } from "../testing/demo-store";
import { dropRig, measurementsOf, openStudy, tracedMeasurementsOf } from "./studies";
import { setReferences } from "./change-study";
import { saveStudy } from "./save-study";
import { takeInStudy } from "./study-file";

describe("a study out and in again", () => {
  let folder: string;
  let store: Store;
  let other: Store;
  // The sample studies are made once; each test has a copy of them.
  beforeAll(() => {
    folder = fs.mkdtempSync(path.join(os.tmpdir(), "nerrit-study-"));
    const made = path.join(folder, "made");
    fs.mkdirSync(made);
    openDemo(made).$client.close();
  });
  afterAll(() => fs.rmSync(folder, { recursive: true }));
  beforeEach(() => {
    fs.cpSync(path.join(folder, "made"), path.join(folder, "one"), { recursive: true });
    store = openStore(path.join(folder, "one"));
    other = openStore(path.join(folder, "two"));
  });
  afterEach(() => {
    for (const one of [store, other]) one.$client.close();
    for (const name of ["one", "two"]) fs.rmSync(path.join(folder, name), { recursive: true });
  });

  /** Everything of a study but the identifiers that were given anew. */
  const contents = (of: Store, id: string) => {
    const { study, rigs } = openStudy(of, id);
    const named = (list: { name: string }[]) => list.map(({ name }) => name);
    return {
      study: {
        title: study.title,
        demands: study.demands,
        references: study.references,
        notes: study.notes,
      },
      rigs: rigs.map(({ id: _, parts, beside, other: far, ...rest }) => ({
        ...rest,
        parts: parts.map(({ id: _part, ...part }) => ({ ...part, demo: null })),
        beside: named(beside),
        other: named(far),
      })),
      runs: tracedMeasurementsOf(of, id).map(({ id: _, rigId: _rig, rig, runs, ...rest }) => ({
        ...rest,
        rig: { name: rig.name, parts: named(rig.parts) },
        runs: runs.map(({ id: _run, ...run }) => run),
      })),
    };
  };

  const [first, ...others] = DEMO_STUDIES.map(({ id, title }) => [title, id] as const);
  it.each([first!])("loses nothing: %s", losesNothing);
  it.each(others)("loses nothing: %s", { tags: "long" }, losesNothing);
  function losesNothing(_: string, id: string) {
    const { bytes, kind } = saveStudy(store, id);
    const taken = takeInStudy(other, bytes);
    expect(contents(other, taken.id)).toEqual(contents(store, id));
    const again = saveStudy(other, taken.id);
    expect(again.kind).toBe(kind);
    expect(Math.abs(again.bytes.length / bytes.length - 1)).toBeLessThan(0.05);
  }

  it("is an archive where its traces are long, and else a document that can be read", () => {
    expect(saveStudy(store, "demo-day").kind).toBe("zip");
    const { bytes, kind } = saveStudy(store, "demo-first");
    expect(kind).toBe("json");
    expect(JSON.parse(Buffer.from(bytes).toString()).format).toBe("nerrit-study");
  });

  it("keeps the rates that its rigs are held against", () => {
    const references = [{ name: "the built-in drive", mbps: 5100 }];
    setReferences(store, "demo-first", references);
    const { id } = takeInStudy(other, saveStudy(store, "demo-first").bytes);
    expect(openStudy(other, id).study.references).toEqual(references);
    expect(() => setReferences(store, "demo-first", [{ name: "", mbps: -1 }])).toThrow(/name it/);
    expect(() => setReferences(store, "nobody", references)).toThrow(/no such study/);
  });

  it("keeps runs of a rig that was taken out, and rigs as they stood when a run was made", () => {
    dropRig(store, "demo-rig-k2");
    const [k5] = listParts(store).filter(({ id }) => id === "demo-cable-k5");
    const { id: _, retired: _r, demo: _d, ...draft } = k5!;
    changePart(store, "demo-cable-k5", { ...draft, name: "K5, cut" });
    const { id } = takeInStudy(other, saveStudy(store, "demo-first").bytes);
    expect(openStudy(other, id).rigs).toHaveLength(1);
    const runs = measurementsOf(other, id);
    expect(runs).toHaveLength(4);
    const names = (rigName: RegExp) =>
      runs.filter(({ rig }) => rigName.test(rig.name)).map(({ rig }) => rig.parts[1]!.name);
    expect(names(/K5/)).toEqual(["K5", "K5"]);
    expect(names(/K2/)).toEqual(["K2", "K2"]);
    expect(openStudy(other, id).rigs[0]!.parts[1]!.name).toBe("K5, cut");
  });

  it("puts nothing on the shelf twice, and is no sample data any more", () => {
    const { bytes } = saveStudy(store, "demo-first");
    expect(takeInStudy(other, bytes).newParts).toBe(5);
    const before = listParts(store).length;
    // Sample parts are none of the tester's own: the first time they are put there as such.
    const own = takeInStudy(store, bytes);
    expect(own.newParts).toBe(5);
    expect(
      openStudy(store, own.id).rigs[0]!.parts.map((part) => (part as { demo?: boolean }).demo),
    ).toEqual([false, false, false, false]);
    expect(takeInStudy(store, saveStudy(store, own.id).bytes).newParts).toBe(0);
    expect(listParts(store)).toHaveLength(before + 5);
    expect(listStudies(other)[0]!.simulated).toBe(false);
  });

  it("changes nothing where the file is wrong", () => {
    const text = Buffer.from(saveStudy(store, "demo-first").bytes).toString();
    const wrong = [
      text.slice(0, 5000),
      text.replace('"rigId": "demo-rig-k2"', '"rigId": "gone"'),
      text.replace('"kind": "cable"', '"kind": "rope"'),
      "",
      "[]",
      "PK\u0003\u0004 no zip",
    ];
    for (const one of wrong) expect(() => takeInStudy(other, Buffer.from(one))).toThrow();
    expect(listStudies(other)).toEqual([]);
    expect(listParts(other)).toEqual([]);
  });
});
