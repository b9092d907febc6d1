import fs from "node:fs";
import os from "node:os";
import path from "node:path";
import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";
import type { BackupsView } from "@/core/backup/backup";
import { backUp, contentsOf } from "@/store/backup";
import { databaseIn, openStore, ownMigrations, type Store } from "@/store/database";
import { WHERE } from "@/store/left";
import { StoreProblem } from "@/store/store-problem";
import { Problem } from "../problem";
import { addPart } from "../shelf/shelf";
import { createStudy } from "../studies/studies";
import { Backups } from "./backups";
import { backUpBench, compareWithBench, restoreBench } from "./by-command";
import { copyRecordings } from "./recordings-beside";
import type { InBackupThread } from "./thread";

/** What a thread does, done here. */
const here: InBackupThread = async (order) => {
  try {
    return order.do === "back up"
      ? await backUp(order.from, order.to)
      : contentsOf(order.file, order.migrations);
  } catch (error) {
    throw new Problem(422, (error as Error).message);
  }
};

let folder: string;
let store: Store;
let backups: Backups;
let isFree = true;
beforeEach(() => {
  folder = fs.mkdtempSync(path.join(os.tmpdir(), "nerrit-backups-"));
  store = openStore(folder);
  createStudy(store, { title: "Kept" });
  isFree = true;
  backups = new Backups(store, folder, () => isFree, here);
});
afterEach(() => {
  vi.useRealTimers();
  backups.shutDown();
  store.$client.close();
  vi.unstubAllEnvs();
  fs.rmSync(folder, { recursive: true });
});

const part = (name: string) => ({
  kind: "drive",
  name,
  connectors: [{ side: "up", modes: ["usb-10g"] }],
});
const kinds = ({ backups: all }: BackupsView) => all.map(({ kind }) => kind);

describe("backups", () => {
  it("are made by hand, with what they hold, and the recordings beside them", async () => {
    fs.mkdirSync(path.join(folder, "recordings"));
    fs.writeFileSync(path.join(folder, "recordings", "work.jsonl"), "recorded");
    const made = await backups.make("by-hand");
    expect(made).toMatchObject({ kind: "by-hand", contents: { studies: 1, runs: 0 } });
    expect(backups.view()).toMatchObject({ backups: [made], isMaking: false, trouble: null });
    const beside = path.join(folder, "backups", "recordings", "work.jsonl");
    expect(fs.readFileSync(beside, "utf8")).toBe("recorded");
    // A recording that went on is copied again once it is longer; none is put in a longer one's place.
    const work = path.join(folder, "recordings", "work.jsonl");
    fs.writeFileSync(work, "recorded to its end");
    await copyRecordings(folder, path.join(folder, "backups"), "what has grown");
    expect(fs.readFileSync(beside, "utf8")).toBe("recorded to its end");
    fs.writeFileSync(beside, "recorded to its end, and more");
    await copyRecordings(path.join(folder, "backups"), folder, "nothing else");
    expect(fs.readFileSync(work, "utf8")).toBe("recorded to its end");
    expect(backups.remove(made.name).backups).toEqual([]);
    expect(() => backups.remove(made.name)).toThrow(/no such backup/);
    expect(() => backups.remove("../nerrit.sqlite")).toThrow(/no such backup/);
    expect(fs.existsSync(databaseIn(folder))).toBe(true);
  });

  it("are made by themselves once a day, while nothing is measured, and the needless ones go", async () => {
    vi.useFakeTimers({ toFake: ["Date", "setInterval", "clearInterval"] });
    vi.setSystemTime("2026-03-01T05:00:00Z");
    backups.shutDown();
    backups = new Backups(store, folder, () => isFree, here);
    backups.set({ daily: true, folder: null, days: 3, weeks: 0, months: 0 });
    const minutes = async (count: number) => {
      await vi.advanceTimersByTimeAsync(count * 60_000);
      // What it makes is made by the disk, not by the clock.
      await backups.settled();
    };
    isFree = false;
    await minutes(1);
    expect(backups.view().backups).toEqual([]);
    isFree = true;
    await minutes(1);
    expect(kinds(backups.view())).toEqual(["daily"]);
    await minutes(60);
    expect(backups.view().backups).toHaveLength(1);
    for (let day = 0; day < 6; day++) {
      vi.setSystemTime(Date.now() + 86_400e3);
      await minutes(1);
    }
    const kept = backups.view().backups.map(({ at }) => at.slice(0, 10));
    expect(kept).toEqual(["2026-03-07", "2026-03-06", "2026-03-05"]);
  });

  it("that cannot be made say why, and change nothing", async () => {
    const file = path.join(folder, "plain");
    fs.writeFileSync(file, "");
    const usual = { daily: true, days: 7, weeks: 4, months: 12 };
    expect(() => backups.set({ ...usual, folder: file })).toThrow(/folder: nothing can be written/);
    expect(() => backups.set({ ...usual, folder: "/proc/none/such" })).toThrow(/nothing can be/);
    expect(() => backups.set({ ...usual, folder: null, days: 1e9 })).toThrow(/days: at most/);
    expect(() => backups.set({ ...usual, folder: "backups" })).toThrow(/folder: /);
    expect(backups.settings().folder).toBeNull();
    const gone = path.join(folder, "elsewhere");
    backups.set({ ...usual, folder: gone });
    // For whoever cannot read the database any more.
    expect(JSON.parse(fs.readFileSync(path.join(folder, WHERE), "utf8"))).toEqual({ folder: gone });
    fs.rmSync(gone, { recursive: true });
    fs.writeFileSync(gone, "");
    await expect(backups.make("by-hand")).rejects.toThrow(/nothing can be written/);
    expect(backups.view()).toMatchObject({ backups: [], isMaking: false });
  });

  it("say what they would replace, and take its place once the database is opened anew", async () => {
    const made = await backups.make("by-hand");
    addPart(store, part("Later"));
    expect(await backups.compare(made.name)).toMatchObject({
      now: { parts: 1 },
      then: { parts: 0 },
    });
    isFree = false;
    await expect(backups.lay(made.name)).rejects.toThrow(/measured/);
    isFree = true;
    await backups.lay(made.name);
    expect(kinds(backups.view()).toSorted()).toEqual(["before-restore", "by-hand"]);
    store.$client.close();
    store = openStore(folder);
    backups = new Backups(store, folder, () => isFree, here);
    const [before] = backups.view().backups.filter(({ kind }) => kind === "before-restore");
    expect(await backups.compare(before!.name)).toMatchObject({
      now: { parts: 0 },
      then: { parts: 1 },
    });
  });

  it("that are damaged are not restored", async () => {
    const made = await backups.make("by-hand");
    const file = path.join(folder, "backups", made.name);
    fs.writeFileSync(file, fs.readFileSync(file).fill(0x5a, 5000, 60_000));
    await expect(backups.lay(made.name)).rejects.toThrow(/damaged|cannot be read/);
    store.$client.close();
    store = openStore(folder);
  });
});

describe("by command", () => {
  it("a bench is backed up while it is worked with, and restored onto a new machine", async () => {
    vi.stubEnv("NERRIT_DATA", folder);
    addPart(store, part("Mine"));
    const { file, contents } = await backUpBench(path.join(folder, "out"));
    expect(contents).toMatchObject({ parts: 1, studies: 1 });
    const fresh = path.join(folder, "new machine");
    vi.stubEnv("NERRIT_DATA", fresh);
    expect(compareWithBench(file)).toMatchObject({ now: null, then: { parts: 1 } });
    expect(await restoreBench(file)).toBeNull();
    expect(compareWithBench(file)).toMatchObject({ now: contents, then: contents });
    // Once more: what was there is kept.
    const kept = await restoreBench(file);
    expect(contentsOf(kept!, ownMigrations())).toEqual(contents);
    await expect(restoreBench(path.join(folder, "nothing"))).rejects.toThrow(StoreProblem);
  });
});
