import fs from "node:fs";
import os from "node:os";
import path from "node:path";
import { afterEach, beforeEach, describe, expect, it } from "vitest";
import { BARE_RIG } from "@/core/chain/rig";
import { openStore, type Store } from "@/store/database";
import { findRun, setPhotos } from "@/store/runs";
import { keepPhoto } from "../shelf/photo";
import { saveStudy } from "../studies/save-study";
import { takeInStudy } from "../studies/study-file";
import { addRig, createStudy, tracedMeasurementsOf } from "../studies/studies";
import { openTrace, pictureRun } from "../studies/trace";
import { addPart } from "../shelf/shelf";
import { takeLog } from "./log";
import { clockOf, layWarmthOver, previewWarmth, takeWarmthOff, warmthIn } from "./log-warmth";

/** A fall at 60 s of 120, as a log that a program wrote from 10:00 on. */
const clock = (s: number) =>
  `2026-11-30T10:${String(Math.floor(s / 60)).padStart(2, "0")}:${String(s % 60).padStart(2, "0")}Z`;
const seconds = Array.from({ length: 240 }, (_, i) => i + 1);
const RATES = `time,write MB/s\n${seconds.map((s) => `${clock(s)},${s <= 120 ? 900 + (s % 7) : 300 + (s % 5)}`).join("\n")}\n`;
/** It warms up to the fall, and a little less warm it stays. */
const HEAT = `time,bridge temp\n${seconds
  .map((s) => `${clock(s)},${s <= 120 ? 40 + s * 0.35 : Math.max(79.5, 82 - (s - 120) * 0.1)}`)
  .join("\n")}\n`;

describe("a log laid over a run", () => {
  let folder: string;
  let store: Store;
  let study: string;
  let runId: string;
  beforeEach(() => {
    folder = fs.mkdtempSync(path.join(os.tmpdir(), "nerrit-warmth-"));
    store = openStore(folder);
    study = createStudy(store, { title: "Warm" });
    const modes = ["usb-10g"];
    const parts = [
      { kind: "host-port", name: "rear", connectors: [{ side: "down", modes }] },
      { kind: "drive", name: "Moraine", connectors: [{ side: "up", modes }] },
    ];
    const rigId = addRig(store, study, {
      ...BARE_RIG,
      name: "direct",
      partIds: parts.map((one) => addPart(store, one)),
    });
    takeLog(store, study, { rigId, text: RATES, drill: "long-fill", direction: "write" });
    runId = tracedMeasurementsOf(store, study)[0]!.runs[0]!.id;
  });
  afterEach(() => {
    store.$client.close();
    fs.rmSync(folder, { recursive: true });
  });
  const fall = () => openTrace(store, runId).reading!.marks.filter(({ of }) => of === "level")[1]!;
  const heat = (more: object = {}) =>
    warmthIn({ text: HEAT, name: "heat.csv", ...more }, clockOf(store, runId));

  it("begins when the log of the run says that it began", () => {
    expect(findRun(store, runId)!.run.startedAt).toBe("2026-11-30T10:00:00.000Z");
  });

  it("is by the clocks of where Nerrit runs where it has a date and no zone", () => {
    const local = (text: string) => text.replace(/2026-11-30T(\d\d:\d\d:\d\d)Z/g, "30.11.2026 $1");
    const more = { text: local(RATES), drill: "long-fill", direction: "write" };
    const [first] = tracedMeasurementsOf(store, study);
    const { measurementIds } = takeLog(store, study, { rigId: first!.rigId, ...more });
    const other = `${measurementIds[0]}-0`;
    const here = new Date(2026, 10, 30, 10, 0, 0).toISOString();
    expect(findRun(store, other)!.run.startedAt).toBe(here);
    const logged = warmthIn({ text: local(HEAT) }, clockOf(store, other));
    expect(previewWarmth(logged)).toMatchObject({ clock: "local", within: 240 });
  });

  it("shows where it would lie, and tells heat from cache once it does", () => {
    const preview = previewWarmth(heat());
    expect(preview).toMatchObject({ clock: "world", within: 240, all: 240, problemCount: 0 });
    expect(fall()).toMatchObject({ ms: expect.closeTo(120_000, -3), open: true });
    expect(layWarmthOver(store, runId, heat())).toBe(240);
    expect(fall().name).toBe("throttled");
    expect(fall().open).toBeUndefined();
    const { result } = findRun(store, runId)!.run;
    expect(result!.hottestCelsius).toBeCloseTo(82, 0);
    expect(result!.startCelsius).toBeCloseTo(40.35, 1);
  });

  it("is laid over once, and can be taken off again with all that followed from it", () => {
    const before = openTrace(store, runId);
    layWarmthOver(store, runId, heat());
    layWarmthOver(store, runId, heat({ aheadSeconds: 5 }));
    expect(openTrace(store, runId).readings).toHaveLength(240);
    takeWarmthOff(store, runId, "heat.csv");
    expect(openTrace(store, runId)).toEqual(before);
    expect(findRun(store, runId)!.run.result!.hottestCelsius).toBeUndefined();
  });

  it("of another time or with lines that make no sense changes nothing", () => {
    const late = heat({ aheadSeconds: 7200 });
    expect(previewWarmth(late)).toMatchObject({ within: 0 });
    expect(() => layWarmthOver(store, runId, late)).toThrow(/time of this run/);
    const text = HEAT.replace(",41.05", ",warm");
    expect(() => layWarmthOver(store, runId, heat({ text }))).toThrow(/Line 4/);
    expect(openTrace(store, runId).readings).toEqual([]);
    expect(layWarmthOver(store, runId, heat({ text, leaveOut: true }))).toBe(239);
    expect(() => heat({ text: RATES })).toThrow(/temperature/);
    expect(() => clockOf(store, "nobody")).toThrow(/no such run/);
  });

  it("is not saved with more pictures than a file can hold", () => {
    const photos = Array.from({ length: 401 }, (_, i) => ({
      id: String(i).padStart(64, "0"),
      caption: "fan",
    }));
    setPhotos(store, runId, photos);
    expect(() => saveStudy(store, study)).toThrow(/401 pictures; a file holds 400/);
  });

  it("travels with the study, and so do the pictures of the run", () => {
    const png = fs.readFileSync(path.join(process.cwd(), "docs", "screenshots", "answer.png"));
    const { id } = keepPhoto(store, png);
    pictureRun(store, runId, { photos: [{ id, caption: "the fan" }] });
    expect(() =>
      pictureRun(store, runId, { photos: [{ id: "0".repeat(64), caption: "x" }] }),
    ).toThrow(/no such picture/);
    layWarmthOver(store, runId, heat());
    const other = openStore(fs.mkdtempSync(path.join(folder, "other-")));
    try {
      const taken = takeInStudy(other, saveStudy(store, study).bytes);
      const [there] = tracedMeasurementsOf(other, taken.id);
      const trace = openTrace(other, there!.runs[0]!.id);
      const here = openTrace(store, runId);
      expect(trace.photos).toEqual(here.photos);
      expect(trace.photos).toEqual([{ id, caption: "the fan" }]);
      expect(trace.readings).toEqual(here.readings);
      expect(trace.reading).toEqual(here.reading);
    } finally {
      other.$client.close();
    }
  });
});
