import fs from "node:fs";
import os from "node:os";
import path from "node:path";
import fc from "fast-check";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { Filters } from "@/core/archive/questions/question";
import { QUESTIONS, sqlOf } from "@/core/archive/questions/questions";
import { TABLE_NAMES, type Row } from "@/core/archive/tables";
import { openDemo } from "@/services/testing/demo-store";
import { gather } from "@/services/archive/gather";
import { ask } from "./ask";
import { filesOf } from "./folder";
import { ArchiveWriter } from "./writer";

const root = fs.mkdtempSync(path.join(os.tmpdir(), "ask-"));
const archive = path.join(root, "archive");
const copy = path.join(root, "copy");
afterAll(() => fs.rmSync(root, { recursive: true, force: true }));

beforeAll(async () => {
  const data = path.join(root, "data");
  fs.mkdirSync(data);
  const store = openDemo(data);
  const writer = await ArchiveWriter.open(archive, "bench", "a");
  const at = "2026-12-01T00:00:00.000Z";
  await gather(store, writer, { samples: true, host: "desk", at }, () => undefined);
  await writer.finish();
  writer.close();
  store.$client.close();
  fs.cpSync(archive, copy, { recursive: true });
});

const one = async (sql: string, archives = [archive]) => (await ask(archives, sql)).rows[0]![0];

/** A step of ten seconds in which nothing moved for three. */
const STILL: Omit<Row<"steps">, "run_id"> = {
  step: 99,
  kind: "flow",
  block_bytes: null,
  depth: null,
  mean_mb_per_s: 1,
  bytes: 1e7,
  written_bytes: 0,
  counted_ms: 10_000,
  requests: 10,
  median_latency_us: 1,
  p99_latency_us: 1,
  max_latency_us: 1,
  burst_mb_per_s: 1,
  sustained_mb_per_s: 1,
  cache_bytes: null,
  faults: 0,
  sampled_ms: 10_000,
  still_ms: 3000,
  document_json: "{}",
};

describe("a question", () => {
  it("is answered from all tables of an archive", async () => {
    const rows = await Promise.all(
      TABLE_NAMES.map(async (table) => [table, await one(`SELECT COUNT(*) FROM "${table}"`)]),
    );
    const counts = Object.fromEntries(rows) as Record<string, number>;
    expect(counts.runs).toBeGreaterThan(100);
    expect(counts.samples).toBeGreaterThan(10_000);
    // The samples of the demo have no marks and no events.
    const { marks: _, events: __, ...filled } = counts;
    for (const [table, count] of Object.entries(filled))
      expect([table, count > 0]).toEqual([table, true]);
  });

  it("counts what two archives hold alike once", async () => {
    for (const table of ["runs", "samples", "steps", "parts"])
      expect(await one(`SELECT COUNT(*) FROM ${table}`, [archive, copy])).toBe(
        await one(`SELECT COUNT(*) FROM ${table}`),
      );
  });

  it("says that there is more than it shows", async () => {
    const cut = await ask([archive], "SELECT run_id FROM runs", { rows: 10 });
    expect([cut.rows.length, cut.isCut]).toEqual([10, true]);
    const whole = await ask([archive], "SELECT 1", { rows: 1 });
    expect([whole.rows.length, whole.isCut]).toEqual([1, false]);
  });

  it.each(QUESTIONS.map((question) => [question.name, question] as const))(
    "that is ready gives the columns that it promises: %s",
    async (_, question) => {
      const filters = Filters.parse({ simulated: "yes" });
      const { columns, rows } = await ask([archive], sqlOf(question, filters));
      expect(columns.map(({ name }) => name)).toEqual(Object.keys(question.columns));
      // Nothing stands still in the sample studies while it is asked for data.
      expect(rows.length > 0).toBe(question.name !== "stood-still");
      const narrow = Filters.parse({ simulated: "yes", words: "no such thing", host: "nowhere" });
      const none = await ask([archive], sqlOf(question, narrow));
      expect(none.rows).toEqual([]);
    },
  );

  it("finds steps in which nothing moved for a while", async () => {
    const still = path.join(root, "still");
    fs.cpSync(archive, still, { recursive: true });
    const [[run]] = (
      await ask(
        [archive],
        "SELECT r.run_id FROM runs r WHERE r.drill = 'haul' AND NOT r.is_from_memory LIMIT 1",
      )
    ).rows as [[string]];
    const writer = await ArchiveWriter.open(still, "other", "b");
    writer.put("steps", { year: 2026, month: 1, host: "simulated" }, { ...STILL, run_id: run });
    await writer.finish();
    writer.close();
    const [question] = QUESTIONS.filter(({ name }) => name === "stood-still");
    const { rows } = await ask([still], sqlOf(question!, Filters.parse({ simulated: "yes" })));
    expect(rows).toHaveLength(1);
    expect(rows[0]![3]).toBe(3);
  });

  it("that is ready leaves out simulated runs unless they are asked for", async () => {
    for (const question of QUESTIONS)
      expect((await ask([archive], sqlOf(question, Filters.parse({})))).rows).toEqual([]);
  });

  it("takes a filter's words as words, whatever they are", async () => {
    const [question] = QUESTIONS;
    await fc.assert(
      fc.asyncProperty(fc.string({ unit: "grapheme", maxLength: 80 }), async (typed) => {
        const filters = Filters.safeParse({ simulated: "yes", words: typed, host: typed });
        if (!filters.success) return;
        const { rows } = await ask([archive], sqlOf(question!, filters.data));
        expect(Array.isArray(rows)).toBe(true);
      }),
      { numRuns: 15, examples: [["' OR 1 = 1 --"], [":direction"], ["$1 $& \\"]] },
    );
  });
});

describe("a question that does more than read", () => {
  const REFUSED = [
    ["files of the machine", "SELECT * FROM read_text('/etc/hostname')"],
    ["a list of files", "SELECT * FROM glob('/etc/*')"],
    ["writing", "COPY (SELECT 1) TO '/tmp/nerrit-ask.csv'"],
    ["another database", "ATTACH '/tmp/nerrit-ask.db' AS other"],
    ["its own limits", "SET memory_limit = '64GB'"],
    ["an extension", "INSTALL httpfs"],
    ["an extension that is there", "LOAD json"],
    ["a change", "CREATE TABLE runs2 AS SELECT * FROM runs"],
    ["a removal", "DROP VIEW runs"],
    ["two statements", "SELECT 1; SELECT 2"],
    ["nothing", "  "],
    ["no SQL", "what is slow?"],
  ] as const;
  it.each(REFUSED)("is refused in words: %s", async (_, sql) => {
    await expect(ask([archive], sql)).rejects.toMatchObject({ name: "ArchiveProblem" });
    expect(fs.existsSync("/tmp/nerrit-ask.csv") || fs.existsSync("/tmp/nerrit-ask.db")).toBe(false);
  });

  it("changes no file of the archive, even where it may read it", async () => {
    const [file] = filesOf(archive, "runs");
    const before = fs.readFileSync(file!);
    await expect(ask([archive], `COPY (SELECT run_id FROM runs) TO '${file}'`)).rejects.toThrow();
    expect(fs.readFileSync(file!)).toEqual(before);
  });

  it("is ended when it takes too long, or too much memory", async () => {
    const endless =
      "WITH RECURSIVE t(n) AS (SELECT 1 UNION ALL SELECT n + 1 FROM t) SELECT COUNT(*) FROM t";
    await expect(ask([archive], endless, { ms: 200 })).rejects.toThrow(/longer than 0.2 s/);
    const large = "SELECT * FROM range(100000000) a, range(1000) b ORDER BY 1 DESC";
    await expect(ask([archive], large, { memoryBytes: 64 * 2 ** 20 })).rejects.toThrow(/memory/);
  });
});

describe("an archive that cannot be read", () => {
  it("is said to be none, or to have a damaged file", async () => {
    await expect(ask([path.join(root, "nowhere")], "SELECT 1")).rejects.toThrow(/no such folder/);
    await expect(ask([root], "SELECT 1")).rejects.toThrow(/no archive/);
    const damaged = path.join(root, "damaged");
    fs.cpSync(archive, damaged, { recursive: true });
    fs.writeFileSync(filesOf(damaged, "runs")[0]!, "no Parquet");
    await expect(ask([damaged], "SELECT COUNT(*) FROM runs")).rejects.toThrow(/runs/);
    expect(await one("SELECT COUNT(*) FROM parts", [damaged])).toBeGreaterThan(0);
  });
});
