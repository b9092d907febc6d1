import fs from "node:fs";
import os from "node:os";
import path from "node:path";
import { once } from "node:events";
import { Worker } from "node:worker_threads";
import Database from "better-sqlite3";
import fc from "fast-check";
import { afterEach, beforeEach, describe, expect, it } from "vitest";
import { addPart } from "@/services/shelf/shelf";
import { createStudy } from "@/services/studies/studies";
import { openDemo } from "@/services/testing/demo-store";
import { backUp, contentsOf, figuresOf, layRestore, ownBackups, RESTORE } from "./backup";
import { databaseIn, openStore, ownMigrations } from "./database";
import { StoreProblem } from "./store-problem";

const MIGRATIONS = ownMigrations();
const VERSIONS = (
  JSON.parse(fs.readFileSync(path.join(MIGRATIONS, "meta", "_journal.json"), "utf8")) as {
    entries: unknown[];
  }
).entries.length;
/** `npm run soak:properties` draws more of them. */
const QUICK = process.env.NERRIT_QUICK === "1" ? 40 : 300;
const MUTATIONS = process.env.NERRIT_SEED === undefined ? QUICK : 10_000;

let folder: string;
let backup: string;
beforeEach(() => {
  folder = fs.mkdtempSync(path.join(os.tmpdir(), "nerrit-backup-"));
  backup = path.join(folder, "copy.sqlite");
});
afterEach(() => fs.rmSync(folder, { recursive: true }));

const drive = { kind: "drive", name: "Moraine", connectors: [{ side: "up", modes: ["usb-10g"] }] };
/** A data folder with so many parts. */
const withParts = (parts: number, at = folder): void => {
  const store = openStore(at);
  for (let i = 0; i < parts; i++) addPart(store, { ...drive, name: `Moraine ${i}` });
  createStudy(store, { title: "Kept" });
  store.$client.close();
};
/** A data folder as an earlier version left it: its first migrations only. */
const ofVersion = (version: number): void => {
  const old = path.join(folder, "migrations");
  fs.cpSync(MIGRATIONS, old, { recursive: true });
  const journal = path.join(old, "meta", "_journal.json");
  const { entries, ...rest } = JSON.parse(fs.readFileSync(journal, "utf8"));
  fs.writeFileSync(journal, JSON.stringify({ ...rest, entries: entries.slice(0, version) }));
  const store = openStore(folder, old);
  store.$client.exec(
    "insert into studies (id, title, tolerance, smallest_effect, created_at) values ('s', 'Old', 0.05, 0.03, '2026-01-01T00:00:00Z')",
  );
  store.$client.close();
  fs.rmSync(old, { recursive: true });
};

describe("a backup", () => {
  it("is of one moment, whatever is written meanwhile, and one file for its owner alone", async () => {
    withParts(3);
    const client = new Database(databaseIn(folder));
    client.exec("create table a (n integer); create table b (n integer)");
    client.close();
    const writer = new Worker(
      `const { parentPort, workerData } = require("node:worker_threads");
       const Database = require("better-sqlite3");
       const client = new Database(workerData);
       const both = client.transaction((n) => { client.prepare("insert into a values (?)").run(n); client.prepare("insert into b values (?)").run(n); });
       let n = 0, isOver = false;
       parentPort.on("message", () => (isOver = true));
       const write = () => { if (isOver) { client.close(); process.exit(0); } for (let i = 0; i < 20; i++) both(n++); if (n === 20) parentPort.postMessage("writes"); setImmediate(write); };
       write();`,
      { eval: true, workerData: databaseIn(folder) },
    );
    await once(writer, "message");
    for (let i = 0; i < 5; i++) {
      await backUp(databaseIn(folder), backup);
      expect(fs.statSync(backup).mode & 0o777).toBe(0o600);
      expect(fs.readdirSync(folder).filter((name) => name.startsWith("copy"))).toEqual([
        "copy.sqlite",
      ]);
      const copy = new Database(backup, { readonly: true });
      const count = (table: string) =>
        copy.prepare(`select count(*) from ${table}`).pluck().get() as number;
      expect(count("a")).toBeGreaterThan(0);
      expect(count("a")).toBe(count("b"));
      copy.close();
    }
    writer.postMessage("end");
    await once(writer, "exit");
  });

  it("takes the database's place when that is opened next, and nothing before", async () => {
    withParts(3);
    await backUp(databaseIn(folder), backup);
    const store = openStore(folder);
    addPart(store, { ...drive, name: "Later" });
    layRestore(backup, databaseIn(folder));
    expect(figuresOf(store.$client).parts).toBe(4);
    // Killed before it closed its log: what is in that belongs to the database that goes.
    const killed = path.join(folder, "killed");
    fs.mkdirSync(killed);
    for (const name of fs.readdirSync(folder))
      if (name.startsWith("nerrit.sqlite"))
        fs.copyFileSync(path.join(folder, name), path.join(killed, name));
    store.$client.close();
    for (const at of [folder, killed]) {
      const restored = openStore(at);
      expect(figuresOf(restored.$client)).toMatchObject({ parts: 3, studies: 1 });
      expect(restored.$client.pragma("integrity_check", { simple: true })).toBe("ok");
      restored.$client.close();
      expect(fs.existsSync(`${databaseIn(at)}${RESTORE}`)).toBe(false);
    }
  });

  it("of every earlier version can be restored", async () => {
    for (let version = 1; version < VERSIONS; version++) {
      fs.rmSync(folder, { recursive: true });
      fs.mkdirSync(folder);
      ofVersion(version);
      await backUp(databaseIn(folder), backup);
      expect(contentsOf(backup, MIGRATIONS)).toMatchObject({ studies: 1, runs: 0 });
      const fresh = path.join(folder, "fresh");
      withParts(1, fresh);
      layRestore(backup, databaseIn(fresh));
      const store = openStore(fresh);
      expect(store.$client.prepare("select title from studies").pluck().all()).toEqual(["Old"]);
      store.$client.close();
      // What it was before its tables were brought up to date is kept, too.
      const before = fs.readdirSync(ownBackups(fresh)).filter((name) => name.endsWith(".sqlite"));
      expect(before).toEqual([expect.stringMatching(/-before-update\.sqlite$/)]);
      expect(contentsOf(path.join(ownBackups(fresh), before[0]!), MIGRATIONS).studies).toBe(1);
    }
  });

  it("that is no backup, or holds what Nerrit never writes, is refused in words", () => {
    const refused = (make: () => void, words: RegExp) => {
      fs.rmSync(backup, { force: true });
      make();
      const before = fs.existsSync(backup) ? fs.readFileSync(backup) : null;
      expect(() => contentsOf(backup, MIGRATIONS)).toThrow(StoreProblem);
      expect(() => contentsOf(backup, MIGRATIONS)).toThrow(words);
      if (before) expect(fs.readFileSync(backup).equals(before)).toBe(true);
    };
    const sql = (text: string) => () => {
      const client = new Database(backup);
      client.exec(text);
      client.close();
    };
    withParts(1);
    const own = () => fs.copyFileSync(databaseIn(folder), backup);
    refused(() => undefined, /cannot be read as a backup/);
    refused(() => fs.writeFileSync(backup, ""), /nothing in it/);
    refused(() => fs.writeFileSync(backup, "x".repeat(9000)), /cannot be read/);
    refused(sql("create table cookies (a)"), /another program's database/);
    refused(() => {
      own();
      sql("create trigger t after insert on studies begin delete from runs; end")();
    }, /never writes/);
    refused(() => {
      own();
      sql("insert into __drizzle_migrations (hash, created_at) values ('x', 9e15)")();
    }, /newer version/);
  });

  it("that was changed by chance is refused in words, or is still a whole database", async () => {
    openDemo(folder).$client.close();
    await backUp(databaseIn(folder), backup);
    const bytes = fs.readFileSync(backup);
    const changed = path.join(folder, "changed.sqlite");
    const before = process.memoryUsage().rss;
    fc.assert(
      fc.property(
        fc.array(fc.tuple(fc.nat(bytes.length - 1), fc.nat(255)), { minLength: 1, maxLength: 40 }),
        fc.option(fc.nat(bytes.length), { nil: bytes.length, freq: 3 }),
        (changes, length) => {
          const mutated = Buffer.from(bytes.subarray(0, length));
          for (const [at, value] of changes) if (at < length) mutated[at] = value;
          fs.writeFileSync(changed, mutated);
          try {
            expect(contentsOf(changed, MIGRATIONS).studies).toBeGreaterThanOrEqual(0);
          } catch (error) {
            expect(error).toBeInstanceOf(StoreProblem);
          }
        },
      ),
      { numRuns: MUTATIONS },
    );
    expect(process.memoryUsage().rss - before).toBeLessThan(600 * 2 ** 20);
  });
});

describe("a damaged database", () => {
  /** Overwrites pages in its middle. */
  const damage = (): void => {
    const file = fs.openSync(databaseIn(folder), "r+");
    const { size } = fs.fstatSync(file);
    fs.writeSync(
      file,
      Buffer.alloc(64 * 1024, 0x5a),
      0,
      64 * 1024,
      Math.floor(size / 2 / 4096) * 4096,
    );
    fs.closeSync(file);
  };

  it("is left as it is; what can be read is saved beside it, and the latest backup named", async () => {
    const store = openDemo(folder);
    const whole = figuresOf(store.$client);
    store.$client.close();
    const kept = path.join(ownBackups(folder), "nerrit-20260101T000000Z-daily.sqlite");
    fs.mkdirSync(ownBackups(folder));
    await backUp(databaseIn(folder), kept);
    damage();
    const before = fs.readFileSync(databaseIn(folder));
    const said = () => {
      try {
        openStore(folder).$client.close();
        return "";
      } catch (error) {
        return (error as Error).message;
      }
    };
    const words = said();
    expect(words).toContain(kept);
    expect(fs.readFileSync(databaseIn(folder)).equals(before)).toBe(true);
    const saved = /saved in (\S+):/.exec(words)?.[1];
    expect(saved).toBeDefined();
    const { runs, studies } = contentsOf(saved!, MIGRATIONS);
    expect(runs).toBeGreaterThan(0);
    expect(runs).toBeLessThanOrEqual(whole.runs);
    expect(studies).toBeLessThanOrEqual(whole.studies);
    // Started again and again it says the same, and saves nothing twice.
    const files = fs.readdirSync(folder);
    expect(said()).toBe(words);
    expect(fs.readdirSync(folder)).toEqual(files);
    // What was saved can be worked with.
    layRestore(saved!, databaseIn(folder));
    const again = openStore(folder);
    expect(figuresOf(again.$client).runs).toBe(runs);
    again.$client.close();
  });
});
