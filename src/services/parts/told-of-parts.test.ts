import fs from "node:fs";
import os from "node:os";
import path from "node:path";
import { afterAll, beforeAll, describe, expect, it, vi } from "vitest";
import { openStore, type Store } from "@/store/database";
import { listToldOfParts } from "@/store/study-parts";
import { openCompared } from "../conclusions/comparison";
import { retire } from "../shelf/shelf";
import { leaveOut } from "../studies/trace";
import { driftOfPart, slowerParts } from "./part-drift";
import { toldOfParts } from "./told-of-parts";
import { measureAgeingDrive } from "../testing/ageing-drive";

let folder: string;
let store: Store;
let made: ReturnType<typeof measureAgeingDrive>;
const BUILD = "one build";
const told = (pageMs?: number, of = store) => toldOfParts(of, pageMs, BUILD);

beforeAll(() => {
  folder = fs.mkdtempSync(path.join(os.tmpdir(), "nerrit-drift-"));
  store = openStore(folder);
  made = measureAgeingDrive(store);
});
afterAll(() => {
  store.$client.close();
  fs.rmSync(folder, { recursive: true });
});

/** Reads on until every study was read. */
async function driftsRead() {
  await vi.waitFor(() => expect(told().waiting).toBe(0), { timeout: 60_000 });
  return told().drifts;
}

describe("whether parts became slower", () => {
  it("is read study by study where a page cannot wait, and said of the drive alone once all are read", async () => {
    const first = told(0);
    expect(first.waiting).toBe(2);
    const drifts = await driftsRead();
    const drive = drifts.get(made.drive)!;
    expect(drive).toMatchObject({ state: "slower", together: [], explainedBy: [] });
    expect(new Set(drive.series.map(({ host }) => host))).toEqual(new Set(["desk", "lab"]));
    // Ports, cables, boxes and hosts stood in one of the two rigs only.
    const others = [...drifts.values()].filter(({ of }) => of !== made.drive);
    expect(others.every(({ state }) => state === "open")).toBe(true);
  });

  it("is kept, and told by another server without reading the runs again", async () => {
    await driftsRead();
    expect(
      listToldOfParts(store)
        .map(({ studyId }) => studyId)
        .toSorted(),
    ).toEqual(made.studies.toSorted());
    const again = openStore(folder);
    try {
      const { drifts, best, waiting } = told(0, again);
      expect(waiting).toBe(0);
      expect(best.get(made.drive)).toMatchObject({ simulated: false });
      expect(drifts.get(made.drive)).toEqual((await driftsRead()).get(made.drive));
    } finally {
      again.$client.close();
    }
  });

  it("stands on the shelf, until the part is retired", async () => {
    await driftsRead();
    const shelf = () => slowerParts(store, ({ retired }) => !retired);
    expect(shelf().changes.map(({ parts }) => parts)).toEqual([[made.drive]]);
    expect(shelf().brief[made.drive]).toMatch(/slower since/);
    expect(driftOfPart(store, made.drive).told!.words.result).toContain("Old drive");
    retire(store, made.drive, true);
    expect(shelf()).toMatchObject({ changes: [], brief: {} });
    retire(store, made.drive, false);
  });

  it("is worked out anew once a run was left out", async () => {
    await driftsRead();
    for (const study of made.studies)
      for (const { createdAt, runs } of openCompared(store, study).measurements)
        if (createdAt > "2025-09-20")
          for (const { id } of runs) leaveOut(store, id, { leftOut: "the drive was full" });
    expect((await driftsRead()).get(made.drive)!.state).not.toBe("slower");
  });

  it("is said of the other studies where one cannot be read", () => {
    told(1e4);
    const [broken] = made.studies;
    const set = store.$client.prepare("update measurements set rig = ? where study_id = ?");
    set.run("{", broken);
    const { drifts, waiting } = told(1e4);
    expect(waiting).toBe(0);
    expect(drifts.get(made.drive)!.series.map(({ host }) => host)).toEqual(["lab"]);
  });
});
