import fs from "node:fs";
import os from "node:os";
import path from "node:path";
import { afterAll, beforeAll, describe, expect, it, vi } from "vitest";
import { openStore, type Store } from "@/store/database";
import { listStudySeries } from "@/store/study-series";
import { openCompared } from "../conclusions/comparison";
import { retire } from "../shelf/shelf";
import { leaveOut } from "../studies/trace";
import { measureAgeingDrive } from "../testing/ageing-drive";

let folder: string;
let store: Store;
let made: ReturnType<typeof measureAgeingDrive>;
/** Loaded once the build is said, by which what was worked out is kept. */
const load = async () => ({ ...(await import("./drifts")), ...(await import("./part-drift")) });
let service: Awaited<ReturnType<typeof load>>;

beforeAll(async () => {
  vi.stubEnv("NERRIT_BUILD", "one build");
  service = await load();
  folder = fs.mkdtempSync(path.join(os.tmpdir(), "nerrit-drift-"));
  store = openStore(folder);
  made = measureAgeingDrive(store);
});
afterAll(() => {
  vi.unstubAllEnvs();
  store.$client.close();
  fs.rmSync(folder, { recursive: true });
});

/** Reads on until every study was read. */
async function driftsRead() {
  await vi.waitFor(() => expect(service.driftsKnown(store).waiting).toBe(0), { timeout: 60_000 });
  return service.driftsKnown(store).of;
}

describe("whether parts became slower", () => {
  it("is read study by study where a page cannot wait, and said of the drive alone once all are read", async () => {
    const first = service.driftsKnown(store, 0);
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
      listStudySeries(store)
        .map(({ studyId }) => studyId)
        .toSorted(),
    ).toEqual(made.studies.toSorted());
    const again = openStore(folder);
    try {
      const { of, waiting } = service.driftsKnown(again, 0);
      expect(waiting).toBe(0);
      expect(of.get(made.drive)).toEqual((await driftsRead()).get(made.drive));
    } finally {
      again.$client.close();
    }
  });

  it("stands on the shelf, until the part is retired", async () => {
    await driftsRead();
    const shelf = () => service.slowerParts(store, ({ retired }) => !retired);
    expect(shelf().changes.map(({ parts }) => parts)).toEqual([[made.drive]]);
    expect(shelf().brief[made.drive]).toMatch(/slower since/);
    expect(service.driftOfPart(store, made.drive).told!.words.result).toContain("Old drive");
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
});
