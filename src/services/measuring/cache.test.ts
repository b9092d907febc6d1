import fs from "node:fs";
import os from "node:os";
import path from "node:path";
import { afterEach, beforeEach, expect, it } from "vitest";
import type { Conditions } from "@/core/run/result";
import { usualDrill } from "@/core/drills/shape";
import { blankStep } from "@/core/run/step";
import { resultOf } from "@/core/testing/measured";
import { part, rig } from "@/core/testing/rigs";
import { openStore, type Store } from "@/store/database";
import * as measurementRows from "@/store/measurements";
import * as runs from "@/store/runs";
import { cacheOf } from "./cache";
import { addPart } from "../shelf/shelf";
import { addRig, createStudy, findRig } from "../studies/studies";

let folder: string;
let store: Store;
beforeEach(() => {
  folder = fs.mkdtempSync(path.join(os.tmpdir(), "nerrit-cache-"));
  store = openStore(folder);
});
afterEach(() => {
  store.$client.close();
  fs.rmSync(folder, { recursive: true });
});

function straight(cacheBytes: number | null = null) {
  const modes = ["usb-10g"];
  const partIds = [
    addPart(store, { kind: "host-port", name: "Port", connectors: [{ side: "down", modes }] }),
    addPart(store, {
      kind: "drive",
      name: "Cirque",
      connectors: [{ side: "up", modes }],
      cacheBytes,
    }),
  ];
  const study = createStudy(store, { title: "Cache" });
  return { study, ...findRig(store, addRig(store, study, { name: "Straight", partIds })) };
}

let count = 0;
function filled(
  { study, rig }: ReturnType<typeof straight>,
  edgeBytes: number | null,
  simulated = false,
) {
  const id = `m${(count += 1)}`;
  const startedAt = new Date(2026, 0, count).toISOString();
  const drill = usualDrill("long-fill", "write");
  const row = { id, studyId: study, rigId: rig.id, drill, target: "/x", rig, createdAt: startedAt };
  const origin = simulated ? "simulated" : "measured";
  measurementRows.insertMeasurement(store, { ...row, status: "done", origin });
  measurementRows.setConditions(store, id, { io: "direct" } as Conditions);
  runs.insertRun(store, { id, measurementId: id, repeat: 0, status: "running", startedAt });
  runs.insertStep(store, id, 0, { ...blankStep("flow", {}), edgeBytes });
  runs.finishRun(store, id, resultOf(100), [], startedAt);
}

it("is what was stated, whatever was found", () => {
  const known = straight(5e9);
  filled(known, 7e9);
  expect(cacheOf(store, known.rig)).toEqual({ bytes: 5e9, from: "stated" });
});

it("is else what the latest Long fill of the drive found", () => {
  const known = straight();
  expect(cacheOf(store, known.rig)).toBeNull();
  filled(known, 7e9);
  filled(known, 6e9);
  filled(known, 1e9, true);
  expect(cacheOf(store, known.rig)).toEqual({ bytes: 6e9, from: "found" });
  filled(known, null);
  expect(cacheOf(store, known.rig)).toBeNull();
  const other = rig([part("drive", "Another", { up: ["usb-10g"] })], "Other");
  expect(cacheOf(store, other)).toBeNull();
});
