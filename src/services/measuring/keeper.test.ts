import fs from "node:fs";
import os from "node:os";
import path from "node:path";
import Database from "better-sqlite3";
import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";
import { programOf } from "@/core/drills/drill";
import { usualDrill } from "@/core/drills/shape";
import { UNSAID } from "@/core/run/stated";
import { openStore, type Store } from "@/store/database";
import { Desk } from "./desk";
import { addPart } from "../shelf/shelf";
import { addRig, createStudy, findRig, measurement, measurementsOf } from "../studies/studies";
import { CONDITIONS, finished, samples, started, stepped, writeEngine } from "../testing/engine";

/** Runs that go on while the store cannot be written: nothing of them is lost. */
let folder: string;
let spare: string;
let store: Store;
let desk: Desk;
let studyId: string;
let rigId: string;
const PATIENCE = { timeout: 60_000, interval: 20 };

beforeEach(() => {
  folder = fs.mkdtempSync(path.join(os.tmpdir(), "nerrit-keeper-"));
  spare = fs.mkdtempSync(path.join(os.tmpdir(), "nerrit-spare-"));
  vi.stubEnv("NERRIT_SPARE", spare);
  store = openStore(folder);
  desk = new Desk(store, folder, "test", path.join(folder, "engine.mjs"));
  studyId = createStudy(store, { title: "Desk" });
  const modes = ["stated-40"];
  // Long enough that a measurement needs pages of its own.
  const notes = "n".repeat(1900);
  const partIds = [
    addPart(store, {
      kind: "host-port",
      name: "Port",
      notes,
      connectors: [{ side: "down", modes }],
    }),
    addPart(store, { kind: "drive", name: "Disk", notes, connectors: [{ side: "up", modes }] }),
  ];
  rigId = addRig(store, studyId, { name: "Rig", partIds });
});
afterEach(async () => {
  await desk.shutDown();
  store.$client.close();
  vi.unstubAllEnvs();
  for (const one of [folder, spare]) fs.rmSync(one, { recursive: true });
});

/** Keeps others from writing, as a program does that copies the database. @returns lets them again */
function lock(): () => void {
  const other = new Database(path.join(folder, "nerrit.sqlite"));
  other.exec("begin immediate");
  return () => {
    other.exec("rollback");
    other.close();
  };
}

/** Lets the database grow no further, as a full disk does. @returns makes room */
function fill(): () => void {
  store.$client.exec("create table if not exists filler (a blob)");
  const pages = store.$client.pragma("page_count", { simple: true });
  store.$client.pragma(`max_page_count = ${Number(pages)}`);
  const insert = store.$client.prepare("insert into filler values (zeroblob(?))");
  for (const bytes of [3000, 300, 30])
    try {
      for (;;) insert.run(bytes);
    } catch {
      // Full, but for what is smaller.
    }
  return () => void store.$client.pragma("max_page_count = 1000000");
}

const drill = usualDrill("haul", "read", { repeats: 1 });
const begin = () =>
  desk.begin(
    studyId,
    findRig(store, rigId).rig,
    { drill, places: [{ host: null, path: "/x" }], program: programOf(drill) },
    { io: "direct", reserve: null, besideOwnData: false, stated: UNSAID },
  );
/** A run that says where it is in a file, and goes on when another file is there. */
const engine = (before: object[], after: object[]) =>
  writeEngine(
    path.join(folder, "engine.mjs"),
    before,
    `const fs = require("node:fs"); const wait = setInterval(() => {
       if (!fs.existsSync(${JSON.stringify(path.join(folder, "go"))})) return;
       clearInterval(wait);
       process.stdout.write(${JSON.stringify(after.map((one) => `${JSON.stringify(one)}\n`).join(""))}, () => process.exit(0));
     }, 5);`.replace(
      'const fs = require("node:fs");',
      'const fs = process.getBuiltinModule("node:fs");',
    ),
  );
const go = () => fs.writeFileSync(path.join(folder, "go"), "");
const many = samples(400);

describe.each([
  ["locked by another program", lock],
  ["on a full disk", fill],
])("a store that is %s", (_, stop) => {
  it("in mid-run loses no sample, and says meanwhile that it cannot be written", async () => {
    engine(
      [CONDITIONS, started(), ...many.slice(0, 30)],
      [...many.slice(30), stepped(40), finished(), { event: "done" }],
    );
    const id = await begin();
    await vi.waitFor(() => expect(measurement(store, id).status).toBe("running"), PATIENCE);
    const free = stop();
    go();
    expect(await desk.ended(id)).toMatchObject({ status: "done" });
    expect(desk.keeper.state).toMatchObject({ waiting: expect.any(Number) });
    expect(desk.keeper.withEnd(measurement(store, id)).status).toBe("done");
    // What waits lies in the folder that the tester named.
    expect(fs.readdirSync(spare)).toHaveLength(1);
    free();
    await vi.waitFor(() => expect(measurement(store, id).status).toBe("done"), PATIENCE);
    const [run] = measurement(store, id).runs;
    expect(run!.samples).toHaveLength(many.length);
    expect(run!.result!.meanMBps).toBe(40);
    expect(desk.keeper.state).toBeNull();
    expect(fs.readdirSync(spare)).toEqual([]);
  });

  it("as a run is to begin begins none, says why, and goes on once it can be written", async () => {
    engine([CONDITIONS, started(), stepped(40), finished(), { event: "done" }], []);
    const free = stop();
    await expect(begin()).rejects.toMatchObject({ status: 507, code: "store" });
    expect(measurementsOf(store, studyId)).toEqual([]);
    expect(desk.keeper.state).not.toBeNull();
    free();
    go();
    expect(await desk.ended(await begin())).toMatchObject({ status: "done" });
  });

  it("to the end of the program is written by the next one, once, with the end as it was", async () => {
    engine(
      [CONDITIONS, started(), ...many.slice(0, 30)],
      [...many.slice(30), { event: "failed", reason: "The drive went away." }],
    );
    const id = await begin();
    await vi.waitFor(() => expect(measurement(store, id).status).toBe("running"), PATIENCE);
    const free = stop();
    go();
    await desk.ended(id);
    await desk.shutDown();
    store.$client.close();
    if (stop === lock) free();
    store = openStore(folder);
    // A file that is cut short by the end of its program is read as far as it goes.
    const [left] = fs.readdirSync(spare);
    fs.appendFileSync(path.join(spare, left!), '{"do":"reading","runId":"x"');
    for (let again = 0; again < 2; again++) {
      desk = new Desk(store, folder, "test", path.join(folder, "engine.mjs"));
      desk.recover();
    }
    const { status, reason, runs } = measurement(store, id);
    expect({ status, reason }).toEqual({ status: "failed", reason: "The drive went away." });
    expect(runs[0]!.samples).toHaveLength(many.length);
    expect(fs.readdirSync(spare)).toEqual([]);
  });
});

describe("what waits", () => {
  it("goes to another disk where the first one is full too, and is kept in memory where none takes it", async () => {
    vi.stubEnv("NERRIT_SPARE", path.join(folder, "nowhere"));
    desk = new Desk(store, folder, "test", path.join(folder, "engine.mjs"));
    const free = lock();
    desk.keeper.keep({ do: "forget", id: "none" });
    const { file } = desk.keeper.state!;
    expect(path.dirname(file!)).toBe(folder);
    free();
    expect(desk.keeper.retry()).toBe(true);
    expect(fs.existsSync(file!)).toBe(false);
  });

  it("of a study that was removed meanwhile holds nothing else up", () => {
    const free = lock();
    desk.keeper.keep({ do: "begin", id: "gone", runId: "r", repeat: 0, at: "2026-01-01" });
    desk.keeper.keep({ do: "forget", id: "none" });
    free();
    expect(desk.keeper.retry()).toBe(true);
    expect(desk.keeper.state).toBeNull();
  });
});
