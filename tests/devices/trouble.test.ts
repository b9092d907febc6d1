import { execFileSync, spawnSync } from "node:child_process";
import { randomUUID } from "node:crypto";
import fs from "node:fs";
import os from "node:os";
import path from "node:path";
import { afterAll, afterEach, beforeAll, beforeEach, describe, expect, it } from "vitest";
import { Desk } from "@/services/measuring/desk";
import { beginMeasurement } from "@/services/measuring/measure";
import { addPart } from "@/services/shelf/shelf";
import { addRig, createStudy, measurement } from "@/services/studies/studies";
import { MARKER, PREFIX } from "@/engine/target/sweep";
import { openStore, type Store } from "@/store/database";
import { ROOT, until } from "../support/command";
import {
  makeDisk,
  Throttle,
  unmountLazily,
  whyNoThrottle,
  type Disk,
} from "../support/loop-device";
import { LONG } from "../support/long";

const why = whyNoThrottle();
if (why) console.warn(`skipped: trouble in mid-run on loop devices (${why})`);

describe.skipIf(why)("trouble in mid-run", () => {
  let folder: string;
  let store: Store;
  let desk: Desk;
  let rig: string;
  let disk: Disk;
  let throttle: Throttle;

  beforeAll(() => {
    folder = fs.mkdtempSync(path.join(os.tmpdir(), "nerrit-data-"));
    store = openStore(folder);
    desk = new Desk(store, folder, "test", path.join(ROOT, "dist/engine.mjs"));
    const modes = ["stated-40"];
    const partIds = [
      addPart(store, { kind: "host-port", name: "Port", connectors: [{ side: "down", modes }] }),
      addPart(store, { kind: "drive", name: "Disk", connectors: [{ side: "up", modes }] }),
    ];
    rig = addRig(store, createStudy(store, { title: "Trouble" }), { name: "Rig", partIds });
  });
  afterAll(() => {
    store.$client.close();
    fs.rmSync(folder, { recursive: true });
  });
  beforeEach(() => {
    disk = makeDisk(128);
    throttle = new Throttle(disk);
    throttle.set(40);
  });
  afterEach(async () => {
    await until("no measuring process is left", () => enginePids().length === 0);
    throttle.remove();
    disk.remove();
  });

  const begin = async (more: Record<string, unknown> = {}) => {
    throttle.hold(process.pid);
    try {
      return await beginMeasurement({ store, desk }, rig, {
        target: disk.directory,
        direction: "write",
        ...("drill" in more ? {} : { seconds: 20, span: 16 * 2 ** 20 }),
        reserve: 0,
        besideOwnData: true,
        ...more,
      });
    } finally {
      throttle.free(process.pid);
    }
  };
  /** Begins a copy of many files, so slowly that it does not end by itself meanwhile. */
  const copyFiles = () => {
    throttle.set(2);
    const mix = [{ files: 800, bytes: 2 ** 16 }];
    return begin({ drill: "ferry", mix });
  };
  const seen = (id: string) => measurement(store, id);
  const underWay = (id: string) =>
    until("samples arrive", () => (seen(id).runs[0]?.samples.length ?? 0) > 3);
  const over = (id: string) =>
    until("it is over", () => !["preparing", "running"].includes(seen(id).status));
  const used = () => {
    const { blocks, bfree, bsize } = fs.statfsSync(disk.directory);
    return (blocks - bfree) * bsize;
  };

  it("a stop ends the run at once and keeps its samples", async () => {
    const id = await begin();
    await underWay(id);
    expect(desk.stop(id)).toBe(true);
    await over(id);
    expect(seen(id)).toMatchObject({ status: "stopped", runs: [{ status: "stopped" }] });
    expect(seen(id).runs[0]!.samples.length).toBeGreaterThan(3);
  });

  it("a directory that goes away fails the run with a plain reason", LONG, async () => {
    const target = path.join(disk.directory, "sub");
    fs.mkdirSync(target);
    const id = await begin({ target });
    await underWay(id);
    fs.rmSync(target, { recursive: true });
    await over(id);
    expect(seen(id)).toMatchObject({
      status: "failed",
      reason: expect.stringMatching(/went away/),
    });
    expect(seen(id).runs[0]!.samples.length).toBeGreaterThan(3);
  });

  it("a drive that is unmounted fails the run with a plain reason", async () => {
    const id = await begin();
    await underWay(id);
    unmountLazily(disk);
    await over(id);
    expect(seen(id)).toMatchObject({
      status: "failed",
      reason: expect.stringMatching(/went away/),
    });
    execFileSync("mount", [disk.device, disk.directory]);
    expect(fs.readdirSync(disk.directory).filter((name) => name !== "lost+found")).toEqual([]);
  });

  it(
    "a program that eats the free space takes nothing from a run, which gives its own back",
    LONG,
    async () => {
      const before = used();
      const id = await begin({ span: 64 * 2 ** 20, seconds: 3, repeats: 1 });
      expect(() =>
        fs.writeFileSync(path.join(disk.directory, "hog"), Buffer.alloc(120 * 2 ** 20)),
      ).toThrow(/ENOSPC/);
      await over(id);
      expect(seen(id)).toMatchObject({ status: "done", reason: null });
      fs.rmSync(path.join(disk.directory, "hog"));
      await until("the space is free again", () => used() <= before + 2 ** 20);
    },
  );

  it("a killed measuring process leaves an interrupted run with its samples, and no file", async () => {
    const id = await begin();
    await underWay(id);
    expect(fs.readdirSync(disk.directory)).toEqual([]);
    const before = used();
    process.kill(enginePid(), "SIGKILL");
    await over(id);
    const { status, reason, runs } = seen(id);
    expect(status).toBe("interrupted");
    expect(reason).toMatch(/SIGKILL/);
    expect(runs[0]!.status).toBe("interrupted");
    expect(runs[0]!.samples.length).toBeGreaterThan(3);
    await until("the scratch file's space is free", () => used() < before - 8 * 2 ** 20);
  });

  it(
    "files of a copy whose measuring process was killed are removed, and that is told",
    LONG,
    async () => {
      const id = await copyFiles();
      await underWay(id);
      expect(fs.readdirSync(disk.directory)).not.toEqual([]);
      process.kill(enginePid(), "SIGKILL");
      await until("nothing is left", () => fs.readdirSync(disk.directory).length === 0);
      await until("it is told", () =>
        /SIGKILL.*removed: [\d.]+ [kM]B in /.test(seen(id).reason ?? ""),
      );
      expect(seen(id).reason).toContain(disk.directory);
    },
  );

  it(
    "files of a copy that a dead server left are removed at the next start, and that is told",
    LONG,
    async () => {
      const id = await copyFiles();
      await underWay(id);
      process.kill(enginePid(), "SIGKILL");
      await until("it is removed and told", () => /removed: /.test(seen(id).reason ?? ""));
      // As it stands where server and measuring process ended together.
      const left = path.join(disk.directory, `${PREFIX}${randomUUID()}`);
      fs.mkdirSync(left);
      fs.writeFileSync(path.join(left, MARKER), "");
      fs.writeFileSync(path.join(left, "copied"), Buffer.alloc(7 * 2 ** 20));
      fs.writeFileSync(path.join(disk.directory, "mine"), "mine");
      store.$client.prepare("update measurements set status = 'running' where id = ?").run(id);
      new Desk(store, folder, "test", path.join(ROOT, "dist/engine.mjs")).recover();
      expect(seen(id)).toMatchObject({ status: "interrupted" });
      await until("it is told", () => /removed: 7\.3\d MB/.test(seen(id).reason ?? ""));
      expect(fs.readdirSync(disk.directory)).toEqual(["mine"]);
    },
  );

  it("a second run on the same drive is refused, and stores nothing", async () => {
    const id = await begin();
    const before = store.$client.prepare("select count(*) as n from measurements").get();
    await expect(begin()).rejects.toMatchObject({ code: "busy", status: 422 });
    expect(store.$client.prepare("select count(*) as n from measurements").get()).toEqual(before);
    desk.stop(id);
    await over(id);
    const again = await begin({ seconds: 0.5, repeats: 1 });
    await over(again);
    expect(seen(again).status).toBe("done");
  });

  it("Nerrit's own drive is refused until confirmed", async () => {
    const target = fs.mkdtempSync(path.join(folder, "own-"));
    await expect(begin({ target, besideOwnData: false })).rejects.toMatchObject({
      code: "own-database",
    });
    expect(fs.readdirSync(target)).toEqual([]);
  });

  it("what a dead server left under way reads interrupted after the next start", async () => {
    const id = await begin();
    await underWay(id);
    const next = new Desk(store, folder, "test");
    next.recover();
    expect(seen(id)).toMatchObject({ status: "interrupted" });
    desk.stop(id);
    await until("the first desk let go", () => desk.follow(id, () => undefined) === null);
  });
});

/** The measuring process that this test process started. */
function enginePid(): number {
  return enginePids()[0]!;
}

function enginePids(): number[] {
  const args = ["-P", String(process.pid), "-f", "engine.mjs"];
  const { stdout } = spawnSync("pgrep", args, { encoding: "utf8" });
  return stdout.split("\n").filter(Boolean).map(Number);
}
