import fs from "node:fs";
import os from "node:os";
import path from "node:path";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { readStudyBack } from "@/archive/read-study";
import { parquetRows } from "@/archive/testing/parquet-rows";
import { ArchiveWriter } from "@/archive/writer";
import { PartDraft } from "@/core/chain/part";
import { StudyFile, studyOf } from "@/core/exchange/study-file";
import type { Store } from "@/store/database";
import { listStudies } from "@/store/studies";
import { changePart } from "../shelf/shelf";
import { saveStudy, studyDocument } from "../studies/save-study";
import { leaveOut } from "../studies/trace";
import { takeInStudy } from "../studies/study-file";
import { openDemo } from "../testing/demo-store";
import { gather } from "./gather";

const root = fs.mkdtempSync(path.join(os.tmpdir(), "gather-"));
const archive = path.join(root, "archive");
let store: Store;
beforeAll(() => {
  const data = path.join(root, "data");
  fs.mkdirSync(data);
  store = openDemo(data);
});
afterAll(() => {
  store.$client.close();
  fs.rmSync(root, { recursive: true, force: true });
});

let batch = 0;
/** Adds to the archive, a day later each time. @returns runs added */
async function add(samples = true, bench = "bench"): Promise<number> {
  const writer = await ArchiveWriter.open(archive, bench, `${bench}-${batch}`);
  try {
    const at = new Date(Date.UTC(2026, 10, 1 + batch++)).toISOString();
    const told = await gather(store, writer, { samples, host: "desk", at }, () => undefined);
    await writer.finish();
    return told.added;
  } finally {
    writer.close();
  }
}

const files = () => fs.readdirSync(archive, { recursive: true }).map(String).toSorted();

/** Everything of a study but pictures and recordings, however its runs are ordered. */
const comparable = (document: object) => {
  const { study, parts, rigs, measurements, networks, checks } = studyOf(StudyFile.parse(document));
  const runs = measurements.toSorted((a, b) => (a.id < b.id ? -1 : 1));
  return { study, parts, rigs, runs, networks, checks };
};

/** Where two documents differ, by the paths of their fields; the first few. */
function fieldsThatDiffer(a: unknown, b: unknown, at = ""): string[] {
  if (Object.is(a, b)) return [];
  const isNested = (one: unknown): one is Record<string, unknown> =>
    typeof one === "object" && one !== null;
  if (!isNested(a) || !isNested(b)) return [`${at}: ${String(a)}, was ${String(b)}`];
  const keys = [...new Set([...Object.keys(a), ...Object.keys(b)])];
  return keys.flatMap((key) => fieldsThatDiffer(a[key], b[key], `${at}.${key}`)).slice(0, 5);
}

describe("a bench that is archived", () => {
  it("leaves sample studies out unless they are asked for", async () => {
    expect(await add(false)).toBe(0);
    expect(await parquetRows(archive, "parts")).toEqual([]);
  });

  it("has one row for each run, as its study has it", async () => {
    expect(await add()).toBeGreaterThan(100);
    const rows = await parquetRows(archive, "runs");
    const documents = listStudies(store).map(({ id }) => studyDocument(store, id).document);
    const rates = documents.flatMap(({ runs }) =>
      runs.flatMap(({ runs: repeats }) => repeats.map(({ samples }) => samples.length)),
    );
    expect(rows).toHaveLength(rates.length);
    const samples = await parquetRows(archive, "samples");
    expect(samples).toHaveLength(rates.reduce((sum, n) => sum + n, 0));
    const steps = await parquetRows(archive, "steps");
    const histograms = await parquetRows(archive, "latency_histograms");
    // The histogram of a step counts the requests of the step.
    const counted = new Map<string, number>();
    for (const { run_id, step, requests } of histograms) {
      const key = `${String(run_id)} ${String(step)}`;
      counted.set(key, (counted.get(key) ?? 0) + Number(requests));
    }
    for (const { run_id, step, requests } of steps) {
      const count = counted.get(`${String(run_id)} ${String(step)}`);
      if (count !== undefined) expect(count).toBe(Number(requests));
    }
    // What a step says of its samples is what the samples say.
    const lasted = new Map<string, number>();
    for (const { run_id, step, from_ms, until_ms } of samples) {
      const key = `${String(run_id)} ${String(step)}`;
      lasted.set(key, (lasted.get(key) ?? 0) + Number(until_ms) - Number(from_ms));
    }
    for (const { run_id, step, sampled_ms, still_ms } of steps) {
      const all = lasted.get(`${String(run_id)} ${String(step)}`) ?? 0;
      expect(Number(sampled_ms)).toBeCloseTo(all, 3);
      expect(Number(still_ms)).toBeLessThanOrEqual(all + 1e-3);
    }
  });

  it("adds nothing when nothing has changed", async () => {
    const before = files();
    expect(await add()).toBe(0);
    expect(files()).toEqual(before);
  });

  it.each(["demo-first", "demo-enclosures", "demo-day", "demo-base-camp", "demo-work"])(
    "gives each study back as it was: %s",
    async (id) => {
      const back = await readStudyBack([archive], id);
      const [found, was] = [back, studyDocument(store, id).document].map(comparable);
      expect(fieldsThatDiffer(found!, was!)).toEqual([]);
    },
  );

  it("says what the tester did to a run since", async () => {
    const [{ run_id: id }] = (await parquetRows(archive, "runs")) as [{ run_id: string }];
    leaveOut(store, id, { leftOut: "a backup ran" });
    expect(await add()).toBe(0);
    const marks = await parquetRows(archive, "marks");
    expect(marks).toMatchObject([{ run_id: id, left_out: "a backup ran" }]);
    const before = files();
    expect(await add()).toBe(0);
    expect(files()).toEqual(before);
    const { study_id } = (await parquetRows(archive, "runs")).find(({ run_id }) => run_id === id)!;
    const back = comparable(await readStudyBack([archive], String(study_id)));
    expect(back.runs.flatMap(({ runs }) => runs.flatMap(({ leftOut }) => leftOut ?? []))).toEqual([
      "a backup ran",
    ]);
  });

  it("keeps a part as it was beside the part as it is", async () => {
    const [row] = (await parquetRows(archive, "parts")) as [
      { part_id: string; document_json: string },
    ];
    const { id: _, ...draft } = JSON.parse(row.document_json) as { id: string };
    changePart(store, row.part_id, { ...PartDraft.parse(draft), firmware: "9.9" });
    await add();
    const versions = (await parquetRows(archive, "parts")).filter(
      ({ part_id }) => part_id === row.part_id,
    );
    expect(versions.map(({ firmware }) => firmware)).toContain("9.9");
    expect(versions).toHaveLength(2);
    expect(new Set(versions.map(({ part_version }) => part_version)).size).toBe(2);
  });

  it("shares an archive with another bench", async () => {
    const before = (await parquetRows(archive, "runs")).length;
    const { bytes } = saveStudy(store, "demo-first");
    const { id } = takeInStudy(store, bytes);
    const added = await add(true, "other bench");
    expect(added).toBeGreaterThan(0);
    const rows = await parquetRows(archive, "runs");
    expect(rows).toHaveLength(before + added);
    expect(rows.filter(({ study_id }) => study_id === id)).toHaveLength(added);
  });
});
