import { describe, expect, it } from "vitest";
import { UNSAID } from "@/core/run/stated";
import { usualDrill } from "@/core/drills/shape";
import { blankStep, plainSample } from "@/core/run/step";
import { statedRig } from "@/core/testing/rigs";
import { advance, advanceAll, type Live } from "./use-measurement";
import type { MeasurementEvent } from "@/core/study/measurement-event";

const begun: Live = {
  measurement: {
    id: "m",
    rigId: "r",
    drill: usualDrill("haul", "read"),
    target: "/x",
    status: "preparing",
    reason: null,
    createdAt: "",
    rig: statedRig(40),
    conditions: null,
    warmUp: false,
    origin: "measured",
    stated: UNSAID,
    runs: [],
  },
  preparing: null,
  now: null,
  touch: null,
  lost: false,
};
const told = (...events: MeasurementEvent[]) => events.reduce(advance, begun);

describe("a measurement followed live", () => {
  it("grows run by run, sample by sample", () => {
    const live = told(
      { event: "preparing", bytes: 1, total: 2 },
      { event: "started", repeat: 0, at: "" },
      { event: "sample", repeat: 0, ...plainSample(0, 100, 4) },
      { event: "stepped", repeat: 0, step: 0, result: { ...blankStep("flow", {}), meanMBps: 40 } },
      { event: "finished", repeat: 0, errors: [] },
      { event: "started", repeat: 1, at: "" },
      { event: "sample", repeat: 1, ...plainSample(0, 100, 5) },
      { event: "sample", repeat: 1, ...plainSample(100, 200, 6) },
    );
    expect(live.preparing).toBeNull();
    expect(live.measurement!.status).toBe("running");
    expect(live.measurement!.runs.map(({ samples }) => samples.map(({ bytes }) => bytes))).toEqual([
      [4],
      [5, 6],
    ]);
    expect(live.measurement!.runs[0]!.result?.meanMBps).toBe(40);
  });

  it("says which step it is at, and keeps what happened in the run it happened in", () => {
    const live = told(
      {
        event: "step",
        repeat: 0,
        step: 1,
        of: 3,
        doing: "rest",
        seconds: 30,
        bytes: null,
        label: { name: "pause" },
      },
      { event: "started", repeat: 0, at: "" },
      {
        event: "happened",
        repeat: 0,
        what: { ms: 5, kind: "stalled", text: "quiet", from: null },
      },
      { event: "reading", repeat: 0, reading: { ms: 9, engine: 0.1, machine: 0.5, celsius: {} } },
    );
    expect(live.now).toMatchObject({ step: 1, of: 3, name: "pause", seconds: 30 });
    expect(live.measurement!.runs[0]).toMatchObject({
      events: [{ text: "quiet" }],
      readings: [{ machine: 0.5 }],
    });
    expect(advance(live, { event: "ended", status: "done", reason: null }).now).toBeNull();
  });

  it("shows how far the scratch file is", () => {
    expect(told({ event: "preparing", bytes: 1, total: 2 }).preparing).toEqual({
      bytes: 1,
      total: 2,
    });
  });

  it("ends with the reason", () => {
    const live = told(
      { event: "started", repeat: 0, at: "" },
      { event: "ended", status: "failed", reason: "went away" },
    );
    expect(live.measurement).toMatchObject({
      status: "failed",
      reason: "went away",
      runs: [{ status: "failed" }],
    });
  });

  it("hears nothing before it has seen all there is so far", () => {
    const deaf: Live = { measurement: null, preparing: null, now: null, touch: null, lost: false };
    expect(advance(deaf, { event: "started", repeat: 0, at: "" })).toBe(deaf);
  });

  it("is the same whether it was told one by one or together", () => {
    const sample = (repeat: number, i: number): MeasurementEvent => ({
      event: "sample",
      repeat,
      ...plainSample(i * 100, i * 100 + 100, i),
    });
    const events: MeasurementEvent[] = [
      { event: "started", repeat: 0, at: "" },
      ...[0, 1, 2, 3].map((i) => sample(0, i)),
      { event: "finished", repeat: 0, errors: [] },
      { event: "started", repeat: 1, at: "" },
      sample(1, 0),
      {
        event: "reading",
        repeat: 1,
        reading: { ms: 50, engine: null, machine: null, celsius: {} },
      },
      ...[1, 2].map((i) => sample(1, i)),
      { event: "ended", status: "stopped", reason: null },
    ];
    const one = told(...events);
    expect(advanceAll(begun, events)).toEqual(one);
    expect(one.measurement!.runs.map(({ samples }) => samples.length)).toEqual([4, 3]);
  });
});
