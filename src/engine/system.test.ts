import fs from "node:fs/promises";
import os from "node:os";
import path from "node:path";
import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";
import { deviceNumber } from "./target/device";
import { nextSample } from "./steps/sampling";
import { mountOf, parseMountLine, type Mount } from "./target/mount";
import { busiestCore, parseCoreTimes } from "@/core/system/core-times";
import { makeFolder, openMedium } from "./target/scratch";
import { MARKER, sweep } from "./target/sweep";
import { stampBlock } from "./lanes/stamp";
import { inspectTarget, type Use } from "./target/target";

describe("the kernel's mount table", () => {
  const line = (point: string, source = "/dev/sda1") =>
    `36 35 98:0 /root ${point} rw,noatime master:1 - ext4 ${source} rw,errors=continue`;

  it("gives point, type, source and all options", () => {
    expect(parseMountLine(line("/mnt/a\\040b"))).toEqual({
      number: "98:0",
      point: "/mnt/a b",
      type: "ext4",
      options: "rw,noatime,errors=continue",
      source: "/dev/sda1",
    });
  });

  it.each(["", "nonsense", "1 2 3 - ext4", "1 2 3 4 5 6"])("passes over %j", (text) => {
    expect(parseMountLine(text)).toBeNull();
  });

  it("finds the deepest mount above a path, and of two at one place the later", () => {
    const mount = (point: string, type: string): Mount => ({
      number: "8:1",
      point,
      type,
      options: "",
      source: "",
    });
    const mounts = [
      mount("/", "root"),
      mount("/mnt", "a"),
      mount("/mnt/x", "b"),
      mount("/mnt", "c"),
    ];
    const typeAt = (place: string) => mountOf(place, mounts)?.type;
    expect(typeAt("/mnt/x/deep")).toBe("b");
    expect(typeAt("/mnt/xy")).toBe("c");
    expect(typeAt("/mnt")).toBe("c");
    expect(typeAt("/home")).toBe("root");
    expect(mountOf("/a", [])).toBeNull();
  });
});

describe("device numbers", () => {
  // makedev(3): 8 bits of minor, 12 of major, the rest of minor, the rest of major
  it.each([
    [0x0801, "8:1"],
    [0xfd00, "253:0"],
    [0x10300312, "3:66322"],
  ])("%i is %s", (dev, text) => expect(deviceNumber(dev)).toBe(text));
});

describe("processor time", () => {
  const stat = (busy: number, idle: number) =>
    `cpu  1 2 3 4\ncpu0 ${busy} 0 0 ${idle} 0 0 0 0 0 0\ncpu1 0 0 0 100 50 0 0 0 0 0\nintr 5\n`;

  it("is busy what is neither idle nor waiting for a drive", () => {
    expect(parseCoreTimes(stat(30, 70))).toEqual([
      { busy: 30, total: 100 },
      { busy: 0, total: 150 },
    ]);
  });

  it("names the share of the busiest core between two readings", () => {
    expect(busiestCore(parseCoreTimes(stat(0, 0)), parseCoreTimes(stat(90, 10)))).toBeCloseTo(0.9);
    expect(busiestCore([], [])).toBeNull();
    expect(busiestCore(parseCoreTimes(stat(5, 5)), parseCoreTimes(stat(5, 5)))).toBeNull();
  });
});

describe("a target, looked over", () => {
  let folder: string;
  beforeEach(async () => {
    folder = await fs.realpath(await fs.mkdtemp(path.join(os.tmpdir(), "nerrit-target-")));
  });
  afterEach(() => fs.rm(folder, { recursive: true }));

  const job = (path: string, more: Partial<Use> = {}): Use => ({
    path,
    as: "scratch",
    io: "buffered",
    reserve: 0,
    room: 2 ** 20,
    block: 2 ** 19,
    writes: false,
    keepOff: null,
    ...more,
  });

  it("is a directory with its file system and space", async () => {
    const target = await inspectTarget(job(folder));
    expect(target).toMatchObject({ kind: "directory", path: folder });
    expect(target.freeBytes).toBeGreaterThan(2 ** 20);
    expect(target.mount?.type).toBeTruthy();
  });

  it.each([
    ["no-such-target", () => job(path.join(folder, "none"))],
    ["not-a-target", () => job(path.join(folder, "file"))],
    ["symbolic-link", () => job(path.join(folder, "link"))],
    ["symbolic-link", () => job(path.join(folder, "link", "sub"))],
    ["no-space", () => job(folder, { reserve: 2 ** 52 })],
    ["not-a-target", () => job("/dev/null")],
  ])("is refused as %s", async (code, make) => {
    await fs.writeFile(path.join(folder, "file"), "mine");
    await fs.mkdir(path.join(folder, "real", "sub"), { recursive: true });
    await fs.symlink(path.join(folder, "real"), path.join(folder, "link"));
    await expect(inspectTarget(make())).rejects.toMatchObject({ name: "Refusal", code });
  });

  it("gets a scratch file without a name, and old empty ones of ours are swept away", async () => {
    const target = await inspectTarget(job(folder));
    const left = ".nerrit-scratch-01234567-89ab-cdef-0123-456789abcdef";
    await fs.writeFile(path.join(folder, left), "");
    await fs.writeFile(path.join(folder, left.replace("0123", "9999")), "has content: not ours");
    await fs.writeFile(path.join(folder, ".nerrit-scratch-mine"), "");
    const medium = await openMedium(target, "buffered", 2 ** 20);
    expect((await fs.readdir(folder)).sort()).toEqual([
      ".nerrit-scratch-99994567-89ab-cdef-0123-456789abcdef",
      ".nerrit-scratch-mine",
    ]);
    await medium.close();
  });

  it.each([
    ["a folder", (at: string) => fs.mkdir(at)],
    ["a link to another folder", (at: string) => fs.symlink(os.tmpdir(), at)],
    ["nothing", () => Promise.resolve()],
  ])(
    "writes nothing where %s has been put in a target's place since it was looked over",
    async (_, put) => {
      const at = path.join(folder, "target");
      await fs.mkdir(at);
      const target = await inspectTarget(job(at));
      await fs.rename(at, `${at}-moved`);
      await put(at);
      await expect(openMedium(target, "buffered", 2 ** 20)).rejects.toMatchObject({
        code: "exchanged",
      });
      await expect(makeFolder(target)).rejects.toMatchObject({ code: "exchanged" });
      expect(await fs.readdir(`${at}-moved`)).toEqual([]);
    },
  );

  it("can be swept at any moment of its removal: the marker of a folder goes last, and an empty one goes too", async () => {
    const target = await inspectTarget(job(folder));
    const held = await makeFolder(target);
    for (const name of ["a", "b", "c"]) await fs.mkdir(path.join(held.path, name));
    const removed = vi.spyOn(fs, "rm");
    await held.close();
    expect(removed.mock.calls.map(([at]) => path.basename(String(at)))).toEqual([
      "a",
      "b",
      "c",
      MARKER,
    ]);
    removed.mockRestore();
    await fs.mkdir(held.path);
    await sweep(folder);
    expect(await fs.readdir(folder)).toEqual([]);
  });

  it("sweeps what bears our stamp or marker, and nothing that only has our name", async () => {
    const named = (digits: string) => `.nerrit-scratch-${digits}4567-89ab-cdef-0123-456789abcdef`;
    const page = new DataView(new ArrayBuffer(4096));
    stampBlock(page, 0, { run: 7, generation: 0 });
    await fs.writeFile(path.join(folder, named("0001")), new Uint8Array(page.buffer));
    await fs.mkdir(path.join(folder, named("0002"), "deep"), { recursive: true });
    await fs.writeFile(path.join(folder, named("0002"), MARKER), "");
    await fs.mkdir(path.join(folder, named("0003")));
    await fs.writeFile(path.join(folder, named("0003"), "mine"), "mine");
    await fs.mkdir(path.join(folder, "elsewhere"));
    await fs.symlink(path.join(folder, "elsewhere"), path.join(folder, named("0004")));
    expect(await sweep(folder)).toBeGreaterThanOrEqual(4096);
    expect((await fs.readdir(folder)).sort()).toEqual([named("0003"), named("0004"), "elsewhere"]);
  });
});

describe("the schedule of samples", () => {
  it("keeps to tenths of a second, and skips what a delay has missed", () => {
    expect(nextSample(1000, 1000, 9000)).toBe(1100);
    expect(nextSample(1103, 1000, 9000)).toBe(1200);
    expect(nextSample(1530, 1000, 9000)).toBe(1600);
    expect(nextSample(1560, 1000, 9000)).toBe(1700);
  });

  it("never takes two samples close together, and ends at the end", () => {
    for (let late = 0; late < 1000; late += 7) {
      const due = nextSample(1000 + late, 1000, 9000);
      expect(due - (1000 + late)).toBeGreaterThanOrEqual(50);
      expect(due - (1000 + late)).toBeLessThanOrEqual(150);
    }
    expect(nextSample(1400, 1000, 1530)).toBe(1530);
    expect(nextSample(2000, 1000, 1530)).toBe(1530);
  });
});
