import fs from "node:fs";
import path from "node:path";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { SystemReport } from "@/core/system/system-report";
import { nerrit, ROOT } from "../support/command";
import { makeDisk, whyNoDevices, type Disk } from "../support/loop-device";

const why = whyNoDevices();
if (why) console.warn(`skipped: probing loop devices (${why})`);

const probe = async (...args: string[]): Promise<SystemReport> => {
  const { status, stdout, stderr } = await nerrit(["probe", ...args, "--json"]);
  expect(stderr).toBe("");
  expect(status).toBe(0);
  return SystemReport.parse(JSON.parse(stdout));
};

describe.skipIf(process.platform !== "linux")("nerrit probe on this machine", () => {
  it("reads the kernel's own tree, and every fact is in the file it names", async () => {
    const report = await probe(ROOT);
    expect(report.root).toBe("/");
    expect(report.mount).not.toBeNull();
    const facts = [
      ...report.blocks.flatMap((block) => block.facts),
      ...report.ways.flatMap(({ nodes }) => nodes.flatMap((node) => node.facts)),
    ];
    for (const { value, from } of facts) {
      // A driver is a link, not a file.
      const text = from.endsWith("/driver")
        ? fs.readlinkSync(from)
        : fs.readFileSync(from, "utf8").trim();
      expect(text, from).toContain(value.split(" ")[0]!);
    }
  });

  it("exits with 1 and a plain reason where there is nothing", async () => {
    const { status, stdout, stderr } = await nerrit(["probe", "/no/such/place", "--json"]);
    expect(status).toBe(1);
    expect(stdout).toBe("");
    expect(stderr).toMatch(/There is no \/no\/such\/place/);
  });

  it("prints the same for people as for programs", async () => {
    const root = path.join(ROOT, "demo/systems/usb-480m-slow-hub");
    const { status, stdout } = await nerrit(["probe", "/media/moraine", "--root", root]);
    expect(status).toBe(0);
    const { findings } = await probe("/media/moraine", "--root", root);
    expect(findings.length).toBeGreaterThan(3);
    for (const { text } of findings) expect(stdout).toContain(text);
  });
});

describe.skipIf(why)("nerrit probe on a loop device", () => {
  let disk: Disk;
  beforeAll(() => {
    disk = makeDisk(64);
  });
  afterAll(() => disk.remove());

  it("finds file system, options, device and what it lies on", async () => {
    const report = await probe(disk.directory);
    expect(report.mount).toMatchObject({
      point: disk.directory,
      type: "ext4",
      source: disk.device,
    });
    expect(report.mount!.options.split(",")).toContain("rw");
    const [loop] = report.blocks;
    expect(loop).toMatchObject({
      name: path.basename(disk.device),
      number: disk.number,
      kind: "loop",
      bytes: 64 * 2 ** 20,
    });
    expect(loop!.facts.map(({ what }) => what)).toContain("backing file");
    // In memory there is no device below; anywhere else there is.
    const inMemory = report.gaps.some(({ what }) => what === "below the backing file");
    expect(loop!.over.length).toBe(inMemory ? 0 : 1);
  });

  it("takes the device itself as well, and knows a folder in it", async () => {
    const device = await probe(disk.device);
    expect(device.kind).toBe("device");
    expect(device.mount).toBeNull();
    const folder = path.join(disk.directory, "deep");
    fs.mkdirSync(folder);
    expect((await probe(folder)).blocks).toEqual(device.blocks);
  });
});
