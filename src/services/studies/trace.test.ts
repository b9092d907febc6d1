import fs from "node:fs";
import os from "node:os";
import path from "node:path";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { questionFrom } from "@/core/compare/question";
import { copyRate } from "@/core/study/demand";
import { samplesOfRun } from "@/store/runs";
import type { Store } from "@/store/database";
import { versionOf } from "@/store/version";
import {
  answerQuestion,
  openCompared,
  openComparedOf,
  studyOfRun,
  tracesOf,
} from "../conclusions/comparison";
import { openDemo } from "../testing/demo-store";
import { demandFromRun } from "./demand-of-run";
import { saveStudy } from "./save-study";
import { takeInStudy } from "./study-file";
import { measurementsOf, openStudy } from "./studies";
import { correctRun, leaveOut, openTrace, traceStretch } from "./trace";

const FILL = "demo-day-talus-long-fill-write-0";

describe("runs that were kept", () => {
  let folder: string;
  let store: Store;
  beforeAll(() => {
    folder = fs.mkdtempSync(path.join(os.tmpdir(), "nerrit-trace-"));
    store = openDemo(folder);
  });
  afterAll(() => {
    store.$client.close();
    fs.rmSync(folder, { recursive: true });
  });

  it("are read, and drawn in few places that end where the trace ends", () => {
    const { reading, places, endMs, samples, ceiling, smallBlock } = openTrace(store, FILL);
    expect(Math.abs(reading!.cacheEdge!.bytes / 73.7e9 - 1)).toBeLessThan(0.02);
    expect(places.length).toBeLessThanOrEqual(1500);
    expect(samples).toBeGreaterThan(10_000);
    expect(places.at(-1)!.toMs).toBe(endMs);
    expect(ceiling!.mbps).toBeGreaterThan(1000);
    expect(smallBlock).toBeNull();
    // The steps of a ladder change the rate by themselves.
    const ladder = store.$client
      .prepare("select id from runs where measurement_id like '%ladder%' limit 1")
      .get() as { id: string };
    expect(openTrace(store, ladder.id).reading).toBeNull();
  });

  it("show a stretch sample by sample, and refuse one that is none", () => {
    const close = traceStretch(store, FILL, { from: "1000", to: "2000" });
    expect(close.every(({ least, most }) => least === most)).toBe(true);
    expect(() => traceStretch(store, FILL, { from: "9", to: "1" })).toThrow(/before it begins/);
    expect(() => traceStretch(store, "nowhere", { from: "0", to: "1" })).toThrow(/no such run/);
  });

  it("are demanded of every rig: the whole of them, and their busy seconds, each way that they moved", () => {
    const { studyId } = demandFromRun(store, FILL, { keptUpWith: "peak" });
    const made = openStudy(store, studyId).study.demands.at(-1)!;
    expect(made.copies.map(({ what, direction }) => `${what}, ${direction}`)).toEqual([
      "the whole of the work, write",
      "its busiest second, write",
    ]);
    const [whole, second] = made.copies;
    const bytes = samplesOfRun(store, FILL).reduce((sum, sample) => sum + sample.written, 0);
    expect(whole!.gigabytes / (bytes / 1e9)).toBeCloseTo(1, 4);
    expect(copyRate(second!)).toBeGreaterThan(copyRate(whole!));
    expect(() => demandFromRun(store, "nowhere", { keptUpWith: "p99" })).toThrow(/no such run/);
    expect(() => demandFromRun(store, FILL, { keptUpWith: "always" })).toThrow();
  });

  it("keep corrections and what was left out, in the study’s file too", () => {
    const edge = openTrace(store, FILL).reading!.marks.find(({ name }) => name === "folded")!;
    const corrected = correctRun(store, FILL, {
      corrections: [{ do: "move", id: edge.id, ms: 30_000 }],
    });
    expect(corrected!.cacheEdge!.ms).toBe(30_000);
    leaveOut(store, FILL, { leftOut: "the room was hot" });
    expect(() => leaveOut(store, FILL, { leftOut: "" })).toThrow(/say why/);
    const { id } = takeInStudy(store, saveStudy(store, "demo-day").bytes);
    const taken = measurementsOf(store, id)
      .flatMap(({ runs }) => runs)
      .find(({ leftOut }) => leftOut !== null)!;
    expect(taken.leftOut).toBe("the room was hot");
    expect(openTrace(store, taken.id).reading!.cacheEdge!.ms).toBe(30_000);
    correctRun(store, FILL, { corrections: [] });
    leaveOut(store, FILL, { leftOut: null });
    expect(openTrace(store, FILL).corrections).toEqual([]);
  });

  it("are compared anew as soon as anything was written, and else not read again", () => {
    const first = openCompared(store, "demo-enclosures");
    expect(openCompared(store, "demo-enclosures")).toBe(first);
    const before = versionOf(store);
    leaveOut(store, "demo-box-serac-read-0", { leftOut: "odd" });
    expect(versionOf(store)).not.toBe(before);
    const n = (question = questionFrom({ drill: "haul", direction: "read" })) =>
      answerQuestion(store, openCompared(store, "demo-enclosures"), question).rows[0]!.cells[0]!
        .repeats.n;
    expect(n()).toBe(2);
    expect(openCompared(store, "demo-enclosures").leftOut).toMatchObject([{ why: "odd" }]);
    leaveOut(store, "demo-box-serac-read-0", { leftOut: null });
    expect(n()).toBe(3);
  });

  it("are found from a part over all studies, each with its traces and its study", () => {
    const { compared } = openComparedOf(store, "demo-moraine");
    const studies = ["demo-first", "demo-enclosures", "demo-day"].map(
      (id) =>
        openStudy(store, id).rigs.filter(({ parts }) =>
          parts.some((part) => part.id === "demo-moraine"),
        ).length,
    );
    expect(compared.rigs.length).toBeGreaterThanOrEqual(studies.reduce((a, b) => a + b, 0));
    const shown = answerQuestion(store, compared, questionFrom({ drill: "haul" }));
    const traces = tracesOf(store, shown);
    expect(traces).toHaveLength(6);
    expect(studyOfRun(store, traces[0]!.runId)).toBe(traces[0]!.studyId);
    expect(() => openComparedOf(store, "nothing")).toThrow(/no such part/);
  });

  it("show ladders with their fits where they are asked for", () => {
    const compared = openCompared(store, "demo-base-camp");
    const { ladders } = answerQuestion(store, compared, questionFrom({ view: "ladders" }));
    const rises = ladders.map(({ fit }) => fit?.by === "depth" && fit.rises);
    // One path queues, the other does not.
    expect(new Set(rises)).toEqual(new Set([true, false]));
  });
});
