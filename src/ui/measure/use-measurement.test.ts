import { describe, expect, it } from "vitest";
import { HAUL } from "@/core/drills/drill";
import type { RunResult } from "@/core/drills/result";
import { statedRig } from "@/core/testing/rigs";
import { advance, type Live, type Progress } from "./use-measurement";

const begun: Live = {
  measurement: {
    id: "m",
    rigId: "r",
    drill: { ...HAUL, direction: "read" },
    target: "/x",
    status: "preparing",
    reason: null,
    createdAt: "",
    rig: statedRig(40),
    conditions: null,
    runs: [],
  },
  preparing: null,
  lost: false,
};
const told = (...events: Progress[]) => events.reduce(advance, begun);

describe("a measurement followed live", () => {
  it("grows run by run, sample by sample", () => {
    const live = told(
      { event: "preparing", bytes: 1, total: 2 },
      { event: "started", repeat: 0 },
      { event: "sample", repeat: 0, ms: 100, bytes: 4 },
      { event: "finished", repeat: 0, result: { meanMBps: 40 } as RunResult },
      { event: "started", repeat: 1 },
      { event: "sample", repeat: 1, ms: 100, bytes: 5 },
      { event: "sample", repeat: 1, ms: 200, bytes: 6 },
    );
    expect(live.preparing).toBeNull();
    expect(live.measurement!.status).toBe("running");
    expect(live.measurement!.runs.map(({ samples }) => samples.map(({ bytes }) => bytes))).toEqual([
      [4],
      [5, 6],
    ]);
    expect(live.measurement!.runs[0]!.result?.meanMBps).toBe(40);
  });

  it("shows how far the scratch file is", () => {
    expect(told({ event: "preparing", bytes: 1, total: 2 }).preparing).toEqual({
      bytes: 1,
      total: 2,
    });
  });

  it("ends with the reason", () => {
    const live = told(
      { event: "started", repeat: 0 },
      { event: "ended", status: "failed", reason: "went away" },
    );
    expect(live.measurement).toMatchObject({
      status: "failed",
      reason: "went away",
      runs: [{ status: "failed" }],
    });
  });

  it("hears nothing before it has seen all there is so far", () => {
    const deaf: Live = { measurement: null, preparing: null, lost: false };
    expect(advance(deaf, { event: "started", repeat: 0 })).toBe(deaf);
  });
});
