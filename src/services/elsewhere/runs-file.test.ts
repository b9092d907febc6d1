import fs from "node:fs";
import os from "node:os";
import path from "node:path";
import { afterEach, beforeEach, describe, expect, it } from "vitest";
import { usualDrill } from "@/core/drills/shape";
import { blankStep, plainSample } from "@/core/run/step";
import { rowOf, runsFile, RunsFile, type Recorded } from "@/core/exchange/runs-file";
import { observationsOf } from "@/core/study/measurement";
import { UNSAID } from "@/core/run/stated";
import { openStore, type Store } from "@/store/database";
import { keepWatched } from "../watching/keep-watched";
import { measurementFile, takeInRuns } from "./runs-file";
import { rigsToWatch } from "../watching/rigs-to-watch";
import { addPart } from "../shelf/shelf";
import { addRig, createStudy, findRig, measurement, measurementsOf } from "../studies/studies";

let folder: string;
let store: Store;
let study: string;
let rig: string;

beforeEach(() => {
  folder = fs.mkdtempSync(path.join(os.tmpdir(), "nerrit-runs-"));
  store = openStore(folder);
  study = createStudy(store, { title: "From elsewhere" });
  const modes = ["stated-40"];
  rig = addRig(store, study, {
    name: "Straight",
    partIds: [
      addPart(store, { kind: "host-port", name: "Port", connectors: [{ side: "down", modes }] }),
      addPart(store, {
        kind: "drive",
        name: "Disk",
        serial: "D-1",
        connectors: [{ side: "up", modes }],
      }),
    ],
  });
});
afterEach(() => {
  store.$client.close();
  fs.rmSync(folder, { recursive: true });
});

/** Three seconds at 40 MB/s, ten samples a second. */
const samples = Array.from({ length: 30 }, (_, i) => ({
  ...plainSample(i * 100, (i + 1) * 100, 4e6),
  requests: 8,
}));
const step = { ...blankStep("flow", {}), meanMBps: 40, bytes: 12e7, ms: 3000, requests: 240 };
const recorded = (more: Partial<Recorded> = {}): Recorded => ({
  id: crypto.randomUUID(),
  rig: "Elsewhere",
  origin: "measured",
  drill: usualDrill("haul", "read"),
  status: "done",
  targets: ["/media/x"],
  reason: null,
  warmUp: false,
  conditions: null,
  createdAt: "2026-03-01T10:00:00.000Z",
  stated: { ...UNSAID, ambientCelsius: 21, heatsink: "on" },
  runs: [0, 1].map(() => ({
    status: "done",
    startedAt: "2026-03-01T10:00:01.000Z",
    steps: [step],
    samples: samples.map(rowOf),
    events: [{ ms: 500, kind: "note", text: "a note", from: null }],
    readings: [{ ms: 500, engine: 0.1, machine: 0.2, celsius: { drive: 41 } }],
    errors: [{ what: "CRC errors", from: "/sys/x", before: 1, after: 2 }],
  })),
  ...more,
});
const file = (...measurements: Recorded[]) => JSON.parse(runsFile(measurements)) as RunsFile;
const take = (given: RunsFile, of = rig) =>
  takeInRuns(store, study, { file: given, rigs: { Elsewhere: of } });

describe("runs from a file", () => {
  it("come in with every sample and everything that was seen, and count like runs made here", () => {
    const one = recorded();
    const [id] = take(file(one));
    const found = measurement(store, id!);
    expect(found).toMatchObject({ origin: "measured", status: "done", rigId: rig });
    expect(found.stated).toMatchObject({ ambientCelsius: 21, heatsink: "on" });
    for (const [i, run] of found.runs.entries()) {
      expect(run.samples).toEqual(samples);
      expect(run).toMatchObject(one.runs[i]!.events ? { events: one.runs[i]!.events } : {});
      expect(run.readings).toEqual(one.runs[i]!.readings);
      expect(run.errors).toEqual(one.runs[i]!.errors);
      expect(run.result!.meanMBps).toBe(40);
    }
    expect(observationsOf(measurementsOf(store, study))[0]!.repeats.values).toEqual([40, 40]);
  });

  it("note the machine with a rig that has no host and no runs, and with no other", () => {
    const hosts = { [rig]: "desk" };
    const one = recorded();
    takeInRuns(store, study, { file: file(one), rigs: { Elsewhere: rig }, hosts });
    expect(measurement(store, one.id).rig.host).toBe("desk");
    expect(findRig(store, rig).rig.host).toBe("desk");
    const other = recorded();
    const again = { [rig]: "laptop" };
    takeInRuns(store, study, { file: file(other), rigs: { Elsewhere: rig }, hosts: again });
    expect(findRig(store, rig).rig.host).toBe("desk");
  });

  it("go out again as they came in", () => {
    const one = recorded({ rig: "Straight" });
    takeInRuns(store, study, { file: file(one), rigs: { Straight: rig } });
    expect(RunsFile.parse(JSON.parse(measurementFile(store, one.id))).measurements).toEqual([one]);
  });

  it("that were cut short keep what they have", () => {
    const [whole] = recorded().runs;
    const runs = [whole!, { ...whole!, status: "stopped" as const, steps: [] }];
    const [id] = take(file(recorded({ status: "stopped", runs })));
    const found = measurement(store, id!);
    expect(found.runs.map(({ status, result }) => [status, result !== null])).toEqual([
      ["done", true],
      ["stopped", false],
    ]);
    expect(found.runs[1]!.samples).toHaveLength(samples.length);
  });

  it("come in whole or not at all, and once", () => {
    const one = recorded();
    expect(() => takeInRuns(store, study, { file: file(one), rigs: {} })).toThrow(
      /Say which rig of this study "Elsewhere" is/,
    );
    expect(() => take(file(one), "no-such-rig")).toThrow(/Say which rig/);
    const bad = { ...recorded(), runs: [{ ...one.runs[0]!, samples: [[0, 1, 2]] }] };
    expect(() => take({ ...file(one), measurements: [one, bad as never] })).toThrow(/samples 1/);
    expect(measurementsOf(store, study)).toEqual([]);
    take(file(one));
    expect(() => take(file(one))).toThrow(/All of this file was imported before/);
    expect(() => take(file(one, recorded()))).toThrow(/1 measurement .* imported before/);
    expect(measurementsOf(store, study)).toHaveLength(1);
  });
});

describe("what was watched", () => {
  const watched = (more: object = {}) => ({
    rigId: rig,
    name: "no-such-device",
    title: "copy of pictures",
    startedAt: "2026-03-01T10:00:00.000Z",
    samples: samples.map(rowOf),
    marks: [{ ms: 1000, kind: "mark", text: "copy starts", from: null }],
    ...more,
  });

  it("is kept as a run of its own origin, with its trace and marks, and shows nothing of a drill", async () => {
    const { id, studyId } = await keepWatched(store, watched());
    expect(studyId).toBe(study);
    const found = measurement(store, id);
    expect(found).toMatchObject({ origin: "watched", status: "done" });
    expect(found.drill).toMatchObject({ direction: "read", title: "copy of pictures" });
    const [run] = found.runs;
    expect(run!.samples).toEqual(samples);
    expect(run!.events.map(({ text }) => text)).toEqual(["copy starts"]);
    expect(run!.result!.meanMBps).toBeCloseTo(40, 9);
    expect(observationsOf([found])).toEqual([]);
  });

  it("goes both ways where other programs did", async () => {
    const both = samples.map((one) => rowOf({ ...one, written: one.bytes / 2 }));
    const { id } = await keepWatched(store, watched({ samples: both }));
    expect(measurement(store, id).drill.direction).toBe("mixed");
  });

  it("needs a rig and something to keep", async () => {
    await expect(keepWatched(store, watched({ rigId: "none" }))).rejects.toThrow(/no such rig/);
    await expect(keepWatched(store, watched({ samples: [] }))).rejects.toThrow(
      /nothing was counted/,
    );
  });

  it("can be of any rig of the tester's own, with its ceilings", () => {
    expect(rigsToWatch(store)).toEqual([
      {
        id: rig,
        text: "From elsewhere: A · Straight",
        serials: ["d1"],
        ceilings: { read: 40, write: 40 },
      },
    ]);
  });
});
