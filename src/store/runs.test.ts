import fs from "node:fs";
import os from "node:os";
import path from "node:path";
import { afterEach, beforeEach, describe, expect, it } from "vitest";
import { addPart } from "@/services/shelf/shelf";
import { addRig, createStudy, openStudy } from "@/services/studies/studies";
import { briefOf } from "@/core/run/brief";
import type { Conditions, Reading, RunEvent, StepResult } from "@/core/run/result";
import { usualDrill } from "@/core/drills/shape";
import { UNSAID } from "@/core/run/stated";
import { resultOf } from "@/core/testing/measured";
import { openStore, type Store } from "./database";
import * as measurementRows from "./measurements";
import * as moments from "./moments";
import * as rows from "./runs";

let folder: string;
let store: Store;
let studyId: string;
let count = 0;
beforeEach(() => {
  folder = fs.mkdtempSync(path.join(os.tmpdir(), "nerrit-runs-"));
  store = openStore(folder);
  studyId = createStudy(store, { title: "Runs" });
});
afterEach(() => {
  store.$client.close();
  fs.rmSync(folder, { recursive: true });
});

const partOf = (kind: "host-port" | "drive", name: string) =>
  addPart(store, {
    kind,
    name,
    connectors: [{ side: kind === "drive" ? "up" : "down", modes: ["usb-10g"] }],
  });

/** A rig of two parts of its own. */
function newRig(name: string) {
  const [port, drive] = [partOf("host-port", `${name} port`), partOf("drive", `${name} drive`)];
  const id = addRig(store, studyId, { name, partIds: [port, drive] });
  const rig = openStudy(store, studyId).rigs.find((one) => one.id === id)!;
  return { rig, port, drive };
}

type Row = Parameters<typeof measurementRows.insertMeasurement>[1];

/** A finished measurement of one run. @returns the ids of both */
function done(
  { rig }: ReturnType<typeof newRig>,
  meanMBps: number,
  {
    direction = "read",
    endedAt = "2026-11-26T10:00:00.000Z",
    bytes = 1e9,
    ...more
  }: Partial<Row> & {
    direction?: "read" | "write";
    endedAt?: string;
    bytes?: number;
  } = {},
) {
  const id = `m${count++}`;
  measurementRows.insertMeasurement(store, {
    id,
    studyId,
    rigId: rig.id,
    rig,
    drill: usualDrill("haul", direction),
    target: "/x",
    status: "running",
    createdAt: endedAt,
    stated: UNSAID,
    origin: "measured",
    conditions: { io: "direct" } as Conditions,
    ...more,
  });
  const runId = `${id}-0`;
  rows.insertRun(store, {
    id: runId,
    measurementId: id,
    repeat: 0,
    status: "running",
    startedAt: endedAt,
  });
  rows.finishRun(store, runId, resultOf(meanMBps, { bytes }), [], endedAt);
  measurementRows.endMeasurement(store, id, "done", null, endedAt);
  return { id, runId };
}

describe("the last write to a drive", () => {
  const now = Date.parse("2026-11-26T10:05:00.000Z");
  it("is the latest that wrote, with what it wrote and how long ago it ended", () => {
    const one = newRig("one");
    done(one, 100, { direction: "write", endedAt: "2026-11-26T09:00:00.000Z", bytes: 5e9 });
    done(one, 100, { direction: "write", endedAt: "2026-11-26T10:00:00.000Z", bytes: 2e9 });
    done(one, 100, { endedAt: "2026-11-26T10:04:00.000Z" });
    expect(rows.lastWriteTo(store, one.drive, now)).toEqual({ bytes: 2e9, secondsAgo: 300 });
  });
  it("is none of a drive that was only read, or only simulated", () => {
    const one = newRig("one");
    done(one, 100);
    done(one, 100, { direction: "write", origin: "simulated" });
    expect(rows.lastWriteTo(store, one.drive, now)).toBeNull();
    expect(rows.lastWriteTo(store, "nobody", now)).toBeNull();
  });
});

describe("where a drive's cache gave out", () => {
  const edge = (edgeBytes: number | null) => ({ edgeBytes }) as unknown as StepResult;
  it("is what the latest run of such a drill says, and nothing where that did not fall", () => {
    const one = newRig("one");
    const fill = { drill: usualDrill("long-fill", "write"), direction: "write" as const };
    expect(rows.latestEdge(store, one.drive, ["long-fill"])).toBeNull();
    const first = done(one, 300, { ...fill, endedAt: "2026-11-26T08:00:00.000Z" });
    rows.insertStep(store, first.runId, 0, edge(7e9));
    expect(rows.latestEdge(store, one.drive, ["long-fill"])).toBe(7e9);
    expect(rows.latestEdge(store, one.drive, ["haul"])).toBeNull();
    const later = done(one, 300, { ...fill, endedAt: "2026-11-26T09:00:00.000Z" });
    rows.insertStep(store, later.runId, 0, edge(null));
    expect(rows.latestEdge(store, one.drive, ["long-fill"])).toBeNull();
  });
});

describe("what happened during a run", () => {
  const reading = (ms: number) =>
    ({ ms, engine: 0.1, machine: 0.2, celsius: {} }) as unknown as Reading;
  const event = (ms: number): RunEvent => ({ ms, kind: "stalled", text: "it stood", from: null });

  it("is all of it, or every event with so many readings as a picture can show", () => {
    const { runId } = done(newRig("one"), 100);
    for (let i = 0; i < 500; i++) {
      if (i % 100 === 7) moments.insertEvent(store, runId, event(i * 1000));
      moments.insertReading(store, runId, reading(i * 1000));
    }
    const all = moments.momentsOfRun(store, runId);
    expect([all.events.length, all.readings.length]).toEqual([5, 500]);
    const some = moments.someMomentsOfRun(store, runId, 50);
    expect(some.events).toEqual(all.events);
    expect(some.readings.length).toBeGreaterThan(30);
    expect(some.readings.length).toBeLessThanOrEqual(51);
    expect(some.readings.map(({ ms }) => ms)).toEqual(
      some.readings.map(({ ms }) => ms).toSorted((a, b) => a - b),
    );
    expect(moments.someMomentsOfRun(store, runId, 1000)).toEqual(all);
  });

  it("keeps how warm the drive was as it began", () => {
    const one = newRig("one");
    const { id } = done(one, 100);
    rows.insertRun(store, {
      id: "warm",
      measurementId: id,
      repeat: 1,
      status: "running",
      startedAt: "x",
    });
    const warm = { ...reading(0), celsius: { "drive, composite": 61 } };
    moments.insertReading(store, "warm", warm as unknown as Reading);
    rows.finishRun(store, "warm", resultOf(90), [], "2026-11-26T10:00:00.000Z");
    expect(rows.findRun(store, "warm")!.run.result!.startCelsius).toBe(61);
  });
});

describe("a measurement that ends", () => {
  it("ends the run that was going on, and leaves alone those that had ended", () => {
    const { id, runId } = done(newRig("one"), 100);
    measurementRows.setStatus(store, id, "running");
    rows.insertRun(store, {
      id: "open",
      measurementId: id,
      repeat: 1,
      status: "running",
      startedAt: "x",
    });
    expect(measurementRows.unfinishedMeasurements(store).map((one) => one.id)).toEqual([id]);
    measurementRows.endMeasurement(
      store,
      id,
      "interrupted",
      "the server ended",
      "2026-11-26T11:00:00.000Z",
    );
    expect(measurementRows.getMeasurement(store, id)).toMatchObject({
      status: "interrupted",
      reason: "the server ended",
    });
    expect(rows.findRun(store, runId)!.run.status).toBe("done");
    expect(rows.findRun(store, "open")!.run.status).toBe("interrupted");
    expect(measurementRows.unfinishedMeasurements(store)).toEqual([]);
  });

  it("takes its runs along when it is deleted, and no others", () => {
    const one = newRig("one");
    const [gone, stays] = [done(one, 100), done(one, 200)];
    measurementRows.deleteMeasurements(store, [gone.id]);
    expect(measurementRows.getMeasurement(store, gone.id)).toBeNull();
    expect(rows.findRun(store, gone.runId)).toBeNull();
    expect(rows.findRun(store, stays.runId)).toMatchObject({ studyId });
    expect(rows.briefRunsOfStudy(store, studyId).map((run) => run.id)).toEqual([stays.runId]);
  });
});

describe("runs in brief", () => {
  it("have their headline, their corrections and why they were left out, and are of one study", () => {
    const one = newRig("one");
    const [first, second] = [done(one, 100), done(one, 200)];
    rows.setLeftOut(store, second.runId, "the cable was loose");
    const other = createStudy(store, { title: "Other" });
    expect(rows.briefRunsOfStudy(store, other)).toEqual([]);
    const brief = rows.briefRunsOfStudy(store, studyId);
    const of = (id: string) => brief.find((run) => run.id === id)!;
    expect(of(first.runId)).toMatchObject({ status: "done", leftOut: null, corrections: [] });
    expect(of(first.runId).result).toEqual(briefOf(resultOf(100, { bytes: 1e9 })));
    expect(of(second.runId).leftOut).toBe("the cable was loose");
  });

  it("share the rig and the drill that are equal", () => {
    const one = newRig("one");
    done(one, 100);
    done(one, 200);
    const [a, b] = measurementRows.measurementsOfStudy(store, studyId);
    expect(a!.rig).toBe(b!.rig);
    expect(a!.drill).toBe(b!.drill);
  });
});
