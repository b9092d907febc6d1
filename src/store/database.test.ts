import fs from "node:fs";
import os from "node:os";
import path from "node:path";
import type Database from "better-sqlite3";
import { afterEach, beforeEach, describe, expect, it } from "vitest";
import { measurement, measurementsOf, openStudy } from "@/services/studies/studies";
import { searchShelf } from "@/services/shelf/shelf";
import { part, rig } from "@/core/testing/rigs";
import { briefOf } from "@/core/run/brief";
import type { RunResult } from "@/core/run/result";
import { blankStep } from "@/core/run/step";
import { resultOf } from "@/core/testing/measured";
import { drillKey } from "@/core/drills/drill";
import { usualDrill } from "@/core/drills/shape";
import { getIssue, issuesOf } from "./reports";
import { openStore, type Store } from "./database";

const MIGRATIONS = path.resolve(import.meta.dirname, "migrations");

let folder: string;
let store: Store | null;
beforeEach(() => {
  folder = fs.mkdtempSync(path.join(os.tmpdir(), "nerrit-store-"));
  store = null;
});
afterEach(() => {
  store?.$client.close();
  fs.rmSync(folder, { recursive: true });
});

const open = (): Store => (store = openStore(folder));
const again = (): Store => {
  store!.$client.close();
  return open();
};

/** Lays a database down as an older version left it: its first migrations only. */
function layDown(versions: number, fill: (client: Database.Database) => void): void {
  const old = path.join(folder, "migrations");
  fs.cpSync(MIGRATIONS, old, { recursive: true });
  const journal = path.join(old, "meta", "_journal.json");
  const { entries, ...rest } = JSON.parse(fs.readFileSync(journal, "utf8")) as {
    entries: unknown[];
  };
  fs.writeFileSync(journal, JSON.stringify({ ...rest, entries: entries.slice(0, versions) }));
  const before = openStore(folder, old);
  fill(before.$client);
  before.$client.close();
  fs.rmSync(old, { recursive: true });
}

const port = part("host-port", "Port 1", { down: ["usb-10g"] });
const drive = part("drive", "Moraine 1T", { up: ["usb-10g"] });
const bare = rig([port, drive], "Straight");
const samples = Array.from({ length: 100 }, (_, i) => ({
  ms: (i + 1) * 100,
  bytes: 4_000_000 + (i % 7),
}));

/** A drill as versions up to 0.1 stored it, and a result of theirs. */
const OLD_DRILL = {
  name: "haul",
  block: 2 ** 19,
  depth: 16,
  span: 2 ** 30,
  seconds: 10,
  repeats: 3,
  direction: "read",
};
const oldResult = () => {
  const { steps: _, fit: _fit, iops: _iops, latencyUs, ...rest } = resultOf(40);
  const { p9999: _p, ...times } = latencyUs;
  return { ...rest, latencyUs: times };
};

/** A study with a rig and a measurement of one run, as every version so far could write it. */
function study(client: Database.Database): void {
  const insert = (table: string, row: Record<string, unknown>) =>
    client
      .prepare(
        `insert into ${table} (${Object.keys(row).join()}) values (${Object.keys(row).fill("?").join()})`,
      )
      .run(...Object.values(row).map((v) => (v && typeof v === "object" ? JSON.stringify(v) : v)));
  const at = "2026-01-01T00:00:00.000Z";
  for (const { id, ...spec } of [port, drive]) {
    insert("parts", { id, kind: spec.kind, name: spec.name, spec, created_at: at });
  }
  insert("studies", {
    id: "s",
    title: "Old",
    tolerance: 0.05,
    smallest_effect: 0.03,
    simulated: 0,
    created_at: at,
  });
  insert("rigs", {
    id: "r",
    name: "Straight",
    part_ids: [port.id, drive.id],
    transport: null,
    file_system: "ext4",
    created_at: at,
  });
  insert("study_rigs", { study_id: "s", rig_id: "r", position: 0 });
  insert("measurements", {
    id: "m",
    study_id: "s",
    rig_id: "r",
    drill: OLD_DRILL,
    target: "/x",
    status: "done",
    rig: { ...bare, id: "r" },
    created_at: at,
    ended_at: at,
  });
  insert("runs", {
    id: "run",
    measurement_id: "m",
    repeat: 0,
    status: "done",
    started_at: at,
    ended_at: at,
    result: oldResult(),
  });
  for (const sample of samples) insert("samples", { run_id: "run", ...sample });
}

const count = (table: string) =>
  (store!.$client.prepare(`select count(*) as n from ${table}`).get() as { n: number }).n;

describe("a database", () => {
  it("is made where there is none, and holds what was put in when it is opened again", () => {
    open();
    study(store!.$client);
    expect(openStudy(again(), "s").study.title).toBe("Old");
    expect(fs.readdirSync(folder)).toContain("nerrit.sqlite");
  });

  it.each([1, 2])("of version %i is brought up to date and loses nothing", (versions) => {
    layDown(versions, study);
    open();
    const { study: old, rigs } = openStudy(store!, "s");
    expect(old).toMatchObject({ title: "Old", demands: [] });
    expect(rigs[0]).toMatchObject({ name: "Straight", fileSystem: "ext4", beside: [], host: "" });
    expect(rigs[0]!.parts.map(({ name }) => name)).toEqual(["Port 1", "Moraine 1T"]);
    expect(searchShelf(store!, { sought: "", kind: null, page: 0 }).total).toBe(2);
    const found = measurement(store!, "m");
    expect(found).toMatchObject({ status: "done", drill: { name: "haul", direction: "read" } });
    expect(found.runs[0]!.samples.map(({ ms, bytes }) => ({ ms, bytes }))).toEqual(samples);
    const { result } = found.runs[0]!;
    expect(result).toMatchObject({ meanMBps: 40, iops: 10, first: null, fit: null });
    expect(result!.latencyUs.p9999).toBeNull();
    // The same drill asked for today is the same drill.
    expect(drillKey(found.drill)).toBe(drillKey(usualDrill("haul", "read")));
    expect(count("samples")).toBe(0);
    expect(measurementsOf(store!, "s")).toHaveLength(1);
  });

  it.each([1, 2, 6, 7, 10])(
    "of version %i has its runs in brief as they are in full",
    (versions) => {
      const step = { ...blankStep("flow", {}), meanMBps: 700, burstMBps: 950, sustainedMBps: 300 };
      const copy = {
        files: 3,
        waitedForFromMs: 900,
        waitedForToMs: 20,
        perFileMs: null,
        perByteMBps: 500,
        fromMemory: 0,
        verified: 0,
        differing: [],
        kept: null,
      };
      const fit = {
        by: "depth",
        singleIops: 9,
        plateauIops: 90,
        kneeDepth: 4,
        rises: true,
      } as const;
      const results: RunResult[] = [
        resultOf(40, { steps: [{ ...step, interrupted: true, edgeBytes: 12e9 }, step], fit }),
        resultOf(41, { steps: [{ ...step, interrupted: false, copy }], startCelsius: 38 }),
        resultOf(42, { deviceBytes: null, busiestCore: null }),
      ];
      layDown(versions, (client) => {
        study(client);
        const insert = client.prepare(
          "insert into runs (id, measurement_id, repeat, status, started_at, result) values (?, 'm', ?, 'done', '', ?)",
        );
        results.forEach((result, i) => insert.run(`full-${i}`, i + 1, JSON.stringify(result)));
        insert.run("unfinished", results.length + 1, null);
      });
      open();
      const [brief] = measurementsOf(store!, "s");
      const full = measurement(store!, "m");
      expect(brief!.runs).toHaveLength(results.length + 2);
      expect(brief!.runs.map(({ result }) => result)).toEqual(
        full.runs.map(({ result }) => result),
      );
      expect(full.runs.slice(1, -1).map(({ result }) => result)).toEqual(results.map(briefOf));
    },
  );

  it("brings an issued report through every later version as it was", () => {
    const page = Buffer.from("<!DOCTYPE html>\u0000 as it was");
    // The first version that could issue reports, and every one since.
    const FIRST = 9;
    layDown(FIRST, (client) => {
      client
        .prepare(
          "insert into issues (study_id, number, title, issued_at, page, archive, stand) values ('gone', 1, 'T', '2026', ?, ?, '{}')",
        )
        .run(page, page);
    });
    // And one that is still to come, which turns what it rests on upside down.
    const next = path.join(folder, "next");
    fs.cpSync(MIGRATIONS, next, { recursive: true });
    const journal = path.join(next, "meta", "_journal.json");
    const { entries, ...rest } = JSON.parse(fs.readFileSync(journal, "utf8")) as {
      entries: { idx: number; when: number; tag: string }[];
    };
    const last = entries.at(-1)!;
    const tag = "9999_other";
    entries.push({ ...last, idx: last.idx + 1, when: last.when + 1, tag });
    fs.writeFileSync(journal, JSON.stringify({ ...rest, entries }));
    fs.writeFileSync(
      path.join(next, `${tag}.sql`),
      "DELETE FROM studies;--> statement-breakpoint\nALTER TABLE studies ADD another text;",
    );
    store = openStore(folder, next);
    const kept = getIssue(store, "gone", 1)!;
    expect([kept.page, kept.archive].map((one) => Buffer.compare(one, page))).toEqual([0, 0]);
    expect(issuesOf(store, "gone")).toHaveLength(1);
  });

  it("is brought up to date once, however often it is opened", () => {
    layDown(1, study);
    open();
    const applied = () =>
      store!.$client.prepare("select count(*) as n from __drizzle_migrations").get();
    const first = applied();
    again();
    expect(applied()).toEqual(first);
    expect(measurement(store!, "m").runs[0]!.samples).toHaveLength(samples.length);
  });

  it("takes the runs of a study along when it goes, and nothing else", () => {
    open();
    study(store!.$client);
    store!.$client.prepare("delete from studies where id = 's'").run();
    expect(["measurements", "runs", "traces", "study_rigs"].map(count)).toEqual([0, 0, 0, 0]);
    expect(count("parts")).toBe(2);
    expect(() =>
      store!.$client
        .prepare(
          "insert into runs (id, measurement_id, repeat, status, started_at) values ('x','gone',0,'done','')",
        )
        .run(),
    ).toThrow(/FOREIGN KEY/);
  });
});
