import fs from "node:fs";
import os from "node:os";
import path from "node:path";
import { afterEach, beforeEach, describe, expect, it } from "vitest";
import { compare, evidenceOf } from "@/core/compare/comparison";
import { jobsOf } from "@/core/compare/jobs";
import { questionFrom } from "@/core/compare/question";
import { outcomesOf } from "@/core/study/outcome";
import { observationsOf, settingsWords } from "@/core/study/measurement";
import { openStore, type Store } from "@/store/database";
import { listParts } from "@/store/parts";
import { RigDraft } from "@/core/chain/rig";
import * as studyRows from "@/store/studies";
import { previewGrid, takeGrid } from "./grid";
import { previewLog, takeLog } from "./log";
import { addOutcome } from "./outcome";
import { undoable, untake } from "./taken";
import { addTyped } from "./typed";
import { addPart } from "../shelf/shelf";
import { saveStudy } from "../studies/save-study";
import { takeInStudy } from "../studies/study-file";
import {
  addRig,
  createStudy,
  measurementsOf,
  openStudy,
  tracedMeasurementsOf,
} from "../studies/studies";

describe("results from elsewhere", () => {
  let folder: string;
  let store: Store;
  let study: string;
  let rigId: string;
  beforeEach(() => {
    folder = fs.mkdtempSync(path.join(os.tmpdir(), "nerrit-elsewhere-"));
    store = openStore(folder);
    study = createStudy(store, { title: "Elsewhere" });
    const modes = ["usb-5g", "usb-10g"];
    const parts = [
      { kind: "host-port", name: "rear", connectors: [{ side: "down", modes }] },
      { kind: "cable", name: "K5", connectors: [{ side: "through", modes }] },
      { kind: "drive", name: "Moraine", connectors: [{ side: "up", modes }] },
    ];
    rigId = addRig(store, study, {
      name: "with K5",
      partIds: parts.map((one) => addPart(store, one)),
    });
  });
  afterEach(() => {
    store.$client.close();
    fs.rmSync(folder, { recursive: true });
  });
  const all = () => tracedMeasurementsOf(store, study);

  it("are typed, each figure a repeat, with where it was read off", () => {
    const figures = ["320 GB in 6:40", "795"];
    addTyped(store, study, {
      rigId,
      drill: "haul",
      direction: "write",
      figures,
      source: "stopwatch",
    });
    const [only] = all();
    expect(only).toMatchObject({ origin: "typed", target: "stopwatch", conditions: null });
    expect(only!.runs.map(({ result }) => result!.meanMBps)).toEqual([800, 795]);
    expect(only!.runs[0]!.result).toMatchObject({ bytes: 320e9, ms: 400e3 });
    const wrong = { rigId, drill: "haul", direction: "write", figures: ["795", "fast"] };
    expect(() => addTyped(store, study, wrong)).toThrow(/"fast" is no figure/);
    expect(all()).toHaveLength(1);
  });

  const grid =
    "Rig\tHaul read\tScatter read, IOPS\nwith K5\t1.050,5\t41.000,0\nWith k5\t1.048,0\t\n";
  it("are pasted: rows of one rig are its repeats", () => {
    expect(previewGrid(store, study, { text: grid }).plans.map(({ kind }) => kind)).toEqual([
      "rig",
      "rig",
    ]);
    expect(all()).toEqual([]);
    const { measurementIds } = takeGrid(store, study, { text: grid });
    expect(measurementIds).toHaveLength(2);
    const means = all().map(({ drill, runs }) => [
      drill.name,
      runs.map(({ result }) => result!.iops),
    ]);
    expect(means).toContainEqual(["scatter", [41000]]);
    const haul = all().find(({ drill }) => drill.name === "haul")!;
    expect(haul.runs.map(({ result }) => result!.meanMBps)).toEqual([1050.5, 1048]);
  });

  it("are matched to rigs by the part that differs, where rows name only that", () => {
    const { partIds } = RigDraft.parse(studyRows.rigsOfStudy(store, study)[0]);
    const through = { side: "through", modes: ["usb-5g"] };
    const part = { kind: "cable", name: "K2", tag: "blue tape", connectors: [through] };
    const other = addRig(store, study, {
      name: "the slow one",
      partIds: partIds.with(1, addPart(store, part)),
    });
    const plansOf = (rows: string[]) =>
      previewGrid(store, study, {
        text: ["Rig\tHaul read", ...rows.map((r) => `${r}\t400`)].join("\n"),
      }).plans;
    const slow = { kind: "rig", rigId: other, name: "the slow one" };
    expect(plansOf(["K2", "cable k2", "blue tape", "rear + K2", "K2 and Moraine"])).toEqual(
      Array(5).fill(slow),
    );
    expect(plansOf(["K5"])).toEqual([{ kind: "rig", rigId, name: "with K5" }]);
    expect(plansOf(["Moraine", "K9", "K2 + K5"]).map(({ kind }) => kind)).toEqual(
      Array(3).fill("unknown"),
    );
    expect(plansOf(["Moraine"])[0]).toMatchObject({ why: expect.stringMatching(/2 rigs/) });
  });

  it("of other requests are other results: one in flight is never pooled with 32", () => {
    const text = "Rig\t4K Q1 read, IOPS\t4K Q32 read, IOPS\nwith K5\t9000\t85000\n";
    takeGrid(store, study, { text });
    addTyped(store, study, {
      rigId,
      drill: "scatter",
      direction: "read",
      block: 4096,
      depth: 32,
      figures: ["84k IOPS"],
    });
    const seen = observationsOf(all());
    const found = seen.map(({ drill, results }) => [
      (drill as unknown as { depth: number }).depth,
      results.map(({ iops }) => iops),
    ]);
    expect(found).toHaveLength(2);
    expect(found).toContainEqual([1, [9000]]);
    expect(found.find(([depth]) => depth === 32)![1]).toEqual(
      expect.arrayContaining([85000, 84000]),
    );
    const { rigs } = openStudy(store, study);
    const compared = compare(questionFrom({}), evidenceOf(rigs, all()), 0.03);
    expect(compared.columns.map(({ depth }) => depth)).toEqual([1, 32]);
    expect(new Set(compared.columns.map(({ title }) => title)).size).toBe(2);
    expect(compared.rows[0]!.cells.map((cell) => Math.round(cell!.iops / 1000))).toEqual([9, 85]);
    expect(
      all()
        .map((one) => settingsWords(one))
        .join(),
    ).toMatch(/4 KiB, 32 in flight/);
  });

  it("may be a job by a stopwatch: named, with an amount and a time, and never a drill", () => {
    const job = { rigId, drill: "watched", direction: "write", figures: ["81 GB in 6:45"] };
    expect(() => addTyped(store, study, job)).toThrow(/Name the job/);
    const named = { ...job, title: "copy the card" };
    expect(() => addTyped(store, study, { ...named, figures: ["200 MB/s"] })).toThrow(
      /in which time/,
    );
    expect(all()).toEqual([]);
    addTyped(store, study, named);
    expect(observationsOf(all())).toEqual([]);
    const { rigs } = openStudy(store, study);
    expect(jobsOf(all(), rigs, questionFrom({}))).toMatchObject([
      {
        name: "copy the card",
        rows: [{ seconds: 405, mbps: 200, bytes: 81e9, origins: ["typed"] }],
      },
    ]);
  });

  it("go out with the study's file and come in again: a job, a rig that does not work, other requests", () => {
    const named = { rigId, title: "copy the card", direction: "write" };
    addTyped(store, study, { ...named, drill: "watched", figures: ["81 GB in 6:45"] });
    addOutcome(store, study, { rigId, outcome: "drops-off", words: "after a minute" });
    const deep = { drill: "scatter", direction: "read", block: 4096, depth: 32 };
    addTyped(store, study, { rigId, ...deep, figures: ["84k IOPS"] });
    takeGrid(store, study, { text: "QD\tread (IOPS)\n1\t9000\n4\t30000\n", rigId });
    const again = takeInStudy(store, saveStudy(store, study).bytes);
    const told = (id: string) =>
      tracedMeasurementsOf(store, id).map(({ drill, origin, status, reason, runs }) => ({
        drill,
        origin,
        status,
        reason,
        results: runs.map(({ result }) => result),
      }));
    expect(told(again.id)).toEqual(told(study));
    expect(
      outcomesOf(measurementsOf(store, again.id), openStudy(store, again.id).rigs),
    ).toHaveLength(1);
  });

  it("are taken as a whole ladder, with its fit", () => {
    const text = "Size\tRead\tWrite\n4 KiB\t40\t38\n64 KiB\t300\t280\n1 MiB\t430\t410\n";
    expect(previewGrid(store, study, { text }).ladder!.rows).toHaveLength(3);
    expect(() => takeGrid(store, study, { text })).toThrow(/rig/);
    expect(takeGrid(store, study, { text, rigId, common: 1 }).measurementIds).toHaveLength(2);
    const [one] = all().filter(({ drill }) => drill.direction === "read");
    const { result } = one!.runs[0]!;
    expect(one!.drill).toMatchObject({ name: "stride-ladder", blocks: [4096, 65536, 2 ** 20] });
    expect(result!.meanMBps).toBe(430);
    expect(result!.fit).toMatchObject({ by: "block", overheadUs: expect.any(Number) });
    const deep = "In flight\tread (IOPS)\n1\t9000\n4\t30000\n32\t90000\n";
    takeGrid(store, study, { text: deep, rigId });
    const fit = all().find(({ drill }) => drill.name === "depth-ladder")!.runs[0]!.result!.fit;
    expect(fit).toMatchObject({ by: "depth", rises: true });
  });

  it("make rigs and parts where columns name them, and all of it is undone at once", () => {
    const text = "port;cable;drive;Haul read\nrear;K5;Moraine;1050\nrear;K9;Moraine;450\n";
    const taken = takeGrid(store, study, { text });
    expect(taken).toMatchObject({ rigIds: [expect.any(String)], partIds: [expect.any(String)] });
    expect(openStudy(store, study).rigs.map(({ parts }) => parts[1]!.name)).toEqual(["K5", "K9"]);
    expect(listParts(store).find(({ name }) => name === "K9")!.notes).toMatch(/connectors of K5/);
    untake(store, study, undoable(study, taken));
    expect(all()).toEqual([]);
    expect(openStudy(store, study).rigs).toHaveLength(1);
    expect(listParts(store)).toHaveLength(3);
  });

  it("belong to the rig that has what a row names, and are asked about where it is no whole rig", () => {
    const one = "cable\tHaul read\nK5\t1050\n";
    expect(previewGrid(store, study, { text: one }).plans).toEqual([
      { kind: "rig", rigId, name: "with K5" },
    ]);
    const none = previewGrid(store, study, { text: one.replace("K5", "K9") });
    expect(none.plans[0]).toMatchObject({
      kind: "unknown",
      why: expect.stringMatching(/no rig .* has K9/),
    });
    expect(() => takeGrid(store, study, { text: one.replace("K5", "K9") })).toThrow(
      /Line 2: no rig of this study has K9/,
    );
    expect(all()).toEqual([]);
  });

  it("are taken whole or not at all", () => {
    const text = "Rig\tHaul read\nwith K5\t450\nnowhere\t300\n";
    expect(() => takeGrid(store, study, { text })).toThrow(
      /Line 3: no rig of this study is called "nowhere"/,
    );
    expect(() => takeGrid(store, study, { text: text.replace("300", "fast") })).toThrow(
      /Line 3, column 2/,
    );
    expect(all()).toEqual([]);
    takeGrid(store, study, { text, rigs: { 3: "" } });
    expect(all()).toHaveLength(1);
  });

  const log = ["seconds,write MB/s,temperature C"]
    .concat(Array.from({ length: 200 }, (_, i) => `${i + 1},${i < 80 ? 900 : 250},${30 + i / 10}`))
    .join("\n");
  it("are imported from a log, with its trace, its cache edge and its temperatures", () => {
    const seen = previewLog({ text: log });
    expect(seen).toMatchObject({ lines: 200, problemCount: 0, ms: 200_000 });
    takeLog(store, study, {
      text: log,
      rigId,
      drill: "long-fill",
      direction: "write",
      name: "a.csv",
    });
    const [only] = all();
    expect(only).toMatchObject({ origin: "imported", target: "a.csv" });
    const [run] = only!.runs;
    expect(run!.samples).toHaveLength(200);
    expect(run!.readings.at(-1)!.celsius).toEqual({ log: 49.9 });
    const [step] = run!.steps;
    expect(step!.edgeBytes! / 72e9).toBeCloseTo(1, 1);
    expect(step!.sustainedMBps / 250).toBeCloseTo(1, 1);
    expect(step!.meanMBps).toBeCloseTo((80 * 900 + 120 * 250) / 200, 0);
  });

  it("name the line of a log that makes no sense, and take it only where that is left out", () => {
    const text = log.replace("\n100,250", "\n100,oops");
    const asked = { text, rigId, drill: "long-fill", direction: "write" };
    expect(() => takeLog(store, study, asked)).toThrow(/Line 101, column 2: "oops"/);
    expect(all()).toEqual([]);
    takeLog(store, study, { ...asked, leaveOut: true });
    expect(all()[0]!.runs[0]!.samples).toHaveLength(199);
    expect(() => takeLog(store, study, { ...asked, text: "hello" })).toThrow(/numbers/);
  });

  it("are taken back only where they were typed or imported, and from their own study", () => {
    const taken = addTyped(store, study, {
      rigId,
      drill: "haul",
      direction: "read",
      figures: ["1"],
    });
    const other = createStudy(store, { title: "Other" });
    const { undo } = undoable(study, taken);
    expect(() => untake(store, other, { undo })).toThrow(/cannot be undone/);
    // What nobody took in is never taken back, whatever it is called.
    expect(() => untake(store, study, { ...taken, rigIds: [rigId], undo: "guessed" })).toThrow();
    expect(all()).toHaveLength(1);
    expect(untake(store, study, { undo })).toEqual({ stay: [] });
    expect(all()).toEqual([]);
    expect(() => untake(store, study, { undo })).toThrow();
  });

  it("leave a rig that was measured since, with its parts", () => {
    const text = "port;cable;drive;Haul read\nrear;K9;Moraine;450\n";
    const taken = undoable(study, takeGrid(store, study, { text }));
    const made = taken.rigIds[0]!;
    addTyped(store, study, { rigId: made, drill: "haul", direction: "read", figures: ["451"] });
    const { name } = openStudy(store, study).rigs.find(({ id }) => id === made)!;
    expect(untake(store, study, taken)).toEqual({ stay: [name] });
    expect(all()).toHaveLength(1);
    expect(openStudy(store, study).rigs.some(({ id }) => id === made)).toBe(true);
    expect(listParts(store).some((part) => part.name === "K9")).toBe(true);
  });
});
