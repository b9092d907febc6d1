import fs from "node:fs/promises";
import os from "node:os";
import path from "node:path";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import type { Part } from "@/core/chain/part";
import { PartDraft } from "@/core/chain/part";
import { linksOf } from "@/core/chain/link";
import { BARE_RIG, rigProblems, type Rig } from "@/core/chain/rig";
import { asDetected, disagreements } from "@/core/system/detected";
import { fillRig } from "@/core/system/fill";
import { SystemReport } from "@/core/system/system-report";
import { cable, enclosure, part, port, rig, USB_20G } from "@/core/testing/rigs";
import { isLowerEnd } from "./pci";
import { probe } from "./probe";

const SYSTEMS = path.resolve(import.meta.dirname, "../../../demo/systems");
const look = (tree: string, target: string) => probe(target, path.join(SYSTEMS, tree));
const links = ({ ways }: SystemReport) =>
  ways.map(({ nodes }) => nodes.flatMap(({ link }) => link?.mode ?? []));
const kinds = ({ findings }: SystemReport) => findings.map(({ what }) => what);

describe("the made-up systems", () => {
  it.each([
    ["nvme-narrow-slot", "/mnt/moraine/some/folder", [["pcie-3.0-x1"]], "nvme"],
    ["nvme-narrow-slot", "/dev/nvme0n1", [["pcie-3.0-x1"]], "nvme"],
    ["usb-10g-hub", "/mnt/moraine", [["usb-10g", "usb-10g"]], "usb-queued"],
    ["usb-480m-slow-hub", "/media/moraine", [["usb-480m", "usb-480m"]], "usb-unqueued"],
    ["usb-20g-two-lane", "/mnt/twin", [["pcie-3.0-x4", "usb-20g"]], "usb-queued"],
    ["thunderbolt-enclosure", "/mnt/moraine", [["thunderbolt-3", "pcie-3.0-x4"]], "nvme"],
    ["sata-3g", "/dev/sda1", [["sata-3g"]], "ahci"],
    ["network-mount", "/mnt/store", [["pcie-2.0-x1", "ethernet-1g"]], "network-file"],
    ["raid-two-disks", "/mnt/ice", [["sata-6g"], ["sata-6g"]], "ahci"],
  ])("%s: the links below %s", async (tree, target, expected, transport) => {
    const report = await look(tree, target);
    expect(() => SystemReport.parse(report)).not.toThrow();
    expect(links(report)).toEqual(expected);
    expect(report.ways.every((way) => way.transport === transport)).toBe(true);
    expect(report.gaps.filter(({ what }) => what !== "the far side of the network")).toEqual([]);
  });

  it("name the file that each fact came from, and it says so", async () => {
    const root = path.join(SYSTEMS, "usb-10g-hub");
    const report = await probe("/mnt/moraine", root);
    const facts = report.ways.flatMap(({ nodes }) => nodes.flatMap((node) => node.facts));
    expect(facts.length).toBeGreaterThan(8);
    for (const { value, from } of facts) {
      // A driver is a link, not a file.
      const file = path.join(root, from);
      const text = (
        from.endsWith("/driver") ? await fs.readlink(file) : await fs.readFile(file, "utf8")
      ).trim();
      const said = text.includes(value) || value.includes(text.slice(0, 4).trim());
      expect(said, `${value} from ${from}`).toBe(true);
    }
  });

  it("show the block devices down to the disks, through mapper and RAID", async () => {
    const { blocks, raid } = await look("raid-two-disks", "/mnt/ice");
    const below = Object.fromEntries(blocks.map(({ name, over }) => [name, over]));
    expect(below).toEqual({
      "dm-0": ["md0"],
      md0: ["sda1", "sdb1"],
      sda1: ["sda"],
      sda: [],
      sdb1: ["sdb"],
      sdb: [],
    });
    expect(raid?.level).toBe("raid0");
  });

  it("tell temperatures, serial numbers and how requests are queued", async () => {
    const nvme = await look("nvme-narrow-slot", "/mnt/moraine");
    const facts = nvme.ways[0]!.nodes.at(-1)!.facts;
    expect(facts).toContainEqual(
      expect.objectContaining({ what: "temperature, Composite", value: "41.85 °C" }),
    );
    expect(nvme.ways[0]!.nodes.at(-1)!.serial).toBe("FRN-MOR-0417");
    const usb = await look("usb-10g-hub", "/mnt/moraine");
    expect(usb.ways[0]!.nodes.map(({ serial }) => serial).filter(Boolean)).toEqual([
      "BSW-SER-2206",
      "FRN-MOR-0417",
    ]);
    const queue = usb.blocks.at(-1)!.facts.map(({ what, value }) => [what, value]);
    expect(queue).toContainEqual(["largest request", "512 KiB"]);
    expect(queue).toContainEqual(["scheduler", "none"]);
  });
});

describe("findings", () => {
  it.each([
    [
      "nvme-narrow-slot",
      "/mnt/moraine",
      ["link below its maximum"],
      /the PCIe port above it can do no more/,
    ],
    ["sata-3g", "/mnt/scree", ["link below its maximum"], /lowered the speed itself/],
    ["usb-20g-two-lane", "/mnt/twin", [], null],
    ["network-mount", "/mnt/store", [], null],
    ["usb-10g-hub", "/mnt/moraine", ["several on one uplink"], /2 devices share the uplink/],
    [
      "usb-480m-slow-hub",
      "/media/moraine",
      [
        "slow device in a fast socket",
        "runs slower than the device is made for",
        "no queueing",
        "several on one uplink",
      ],
      /Rime 7 runs at 480 Mb\/s, as it is made for USB 2, though its socket’s other half runs at 10000/,
    ],
  ])("of %s", async (tree, target, expected, words) => {
    const report = await look(tree, target);
    expect(kinds(report)).toEqual(expected);
    if (words) expect(report.findings.map(({ text }) => text).join(" ")).toMatch(words);
    expect(report.findings.every(({ from }) => from.length > 0)).toBe(true);
  });
});

describe("a system that is not whole", () => {
  it("gives what there is and names what is missing", async () => {
    const report = await look("half-missing", "/mnt/odd/deep");
    expect(report.ways[0]!.nodes.map(({ name }) => name)).toContain("Serac M");
    expect(report.gaps.map(({ what }) => what)).toContain("speed of a USB device");
    expect(links(report)).toEqual([[]]);
    expect(fillRig(report, [])).toBeNull();
  });

  it.each([
    ["half-missing", "/elsewhere"],
    ["half-missing", "/dev/nothing"],
  ])("%s: refuses %s in plain words", async (tree, target) => {
    await expect(look(tree, target)).rejects.toThrow(/lies on no file system|no block device/);
  });

  describe("made while testing", () => {
    let root: string;
    beforeAll(async () => {
      root = await fs.mkdtemp(path.join(os.tmpdir(), "nerrit-system-"));
      const disk = path.join(root, "sys/devices/pci0000:00/0000:00:14.0/usb1/1-1/block/sdq");
      await fs.mkdir(disk, { recursive: true });
      await fs.mkdir(path.join(root, "sys/dev/block"), { recursive: true });
      await fs.mkdir(path.join(root, "proc/self"), { recursive: true });
      await fs.symlink(
        path.relative(path.join(root, "sys/dev/block"), disk),
        path.join(root, "sys/dev/block/8:0"),
      );
      await fs.writeFile(path.join(disk, "dev"), "8:0\n");
      await fs.symlink("size", path.join(disk, "size")); // a link to itself
      await fs.symlink("/etc", path.join(root, "sys/dev/block/8:16"));
      const mount = (number: string, at: string) => `1 1 ${number} / ${at} rw - ext4 /dev/x rw`;
      await fs.writeFile(
        path.join(root, "proc/self/mountinfo"),
        [mount("8:0", "/a"), mount("8:16", "/b"), mount("8:32", "/c"), "\0\xff", "1 2"].join("\n"),
      );
    });
    afterAll(() => fs.rm(root, { recursive: true }));

    it("says which file runs in a circle", async () => {
      const report = await probe("/a", root);
      expect(report.blocks[0]!.bytes).toBeNull();
      expect(report.gaps.map(({ why }) => why)).toContain("its links run in a circle");
    });

    it("does not follow a link out of the tree", async () => {
      const report = await probe("/b", root);
      expect(report.blocks).toEqual([]);
      expect(report.gaps.map(({ why }) => why).join()).toMatch(/leads out of the tree/);
    });

    it("says that a mounted device is not listed", async () => {
      const { gaps, ways } = await probe("/c", root);
      expect(ways).toEqual([]);
      expect(gaps.length).toBeGreaterThan(0);
    });

    it("refuses a root without a kernel's tree", async () => {
      await expect(probe("/a", path.join(root, "proc"))).rejects.toThrow(/no \/sys below/);
    });
  });
});

describe("filling a rig", () => {
  const make = (report: SystemReport, shelf: Part[] = []): Rig => {
    const filled = fillRig(report, shelf)!;
    const made = [...filled.chain, ...filled.beside].map(
      ({ part: known, draft }, i) => known ?? { ...PartDraft.parse(draft), id: `new ${i}` },
    );
    const rough: Rig = {
      ...BARE_RIG,
      id: "",
      name: "",
      parts: made.slice(0, filled.chain.length),
      beside: made.slice(filled.chain.length),
      layout: filled.layout,
    };
    return asDetected(rough, report);
  };

  it.each([
    ["nvme-narrow-slot", "/mnt/moraine", ["pcie-3.0-x1"]],
    ["usb-10g-hub", "/mnt/moraine", ["usb-10g", "usb-10g"]],
    ["usb-480m-slow-hub", "/media/moraine", ["usb-480m", "usb-480m"]],
    ["usb-20g-two-lane", "/mnt/twin", ["usb-20g"]],
    ["thunderbolt-enclosure", "/mnt/moraine", ["thunderbolt-3", "pcie-3.0-x4"]],
    ["sata-3g", "/mnt/scree", ["sata-3g"]],
    ["network-mount", "/mnt/store", ["ethernet-1g"]],
    ["raid-two-disks", "/mnt/ice", ["sata-6g"]],
  ])("from %s makes one that runs as the system says", async (tree, target, modes) => {
    const report = await look(tree, target);
    const made = make(report);
    expect(rigProblems(made)).toEqual([]);
    expect(linksOf(made).map(({ mode }) => mode?.id)).toEqual(modes);
    expect(disagreements(made, report)).toEqual([]);
    expect(made.mountedAs || made.fileSystem).toBe(report.mount!.type);
  });

  it("takes the socket for what its other half can do, though a slow hub is plugged in", async () => {
    const made = make(await look("usb-480m-slow-hub", "/media/moraine"));
    expect(made.parts[0]!.connectors[0]!.modes).toContain("usb-10g");
    expect(made.parts[1]!.connectors[0]!.modes).not.toContain("usb-5g");
  });

  it("makes a box of several drives of a RAID", async () => {
    const made = make(await look("raid-two-disks", "/mnt/ice"));
    expect(made.layout).toBe("raid-0");
    expect(made.beside).toHaveLength(1);
  });

  it("knows items of the shelf by their serial numbers, however they are written", async () => {
    const serac = { ...enclosure([], "my Serac"), serial: "bsw ser 2206" };
    const moraine = {
      ...part("drive", "my Moraine", { up: ["pcie-3.0-x2", "pcie-3.0-x1"] }),
      serial: "FRNMOR0417",
    };
    const filled = fillRig(await look("usb-10g-hub", "/mnt/moraine"), [serac, moraine])!;
    expect(
      filled.chain.map(({ part: known, draft }) => known?.name ?? `new ${draft.kind}`),
    ).toEqual(["new host-port", "new hub", "my Serac", "my Moraine"]);
    expect(filled.notes.join(" ")).not.toMatch(/cannot be seen from here/);
  });
});

describe("a rig as declared against the system", () => {
  const box = { ...enclosure([], "box"), serial: "BSW-SER-2206" };
  const moraine = { ...part("drive", "m", { up: ["pcie-3.0-x2"] }), serial: "FRN-MOR-0417" };
  const declared = rig([port(), cable(USB_20G), box, moraine], "r", {
    transport: "usb-queued",
    fileSystem: "exFAT",
  });

  it("says what runs slower, which hub is not named, and how it is driven", async () => {
    const report = await look("usb-480m-slow-hub", "/media/moraine");
    const words = disagreements(declared, report).map(({ text }) => text);
    expect(words[0]).toMatch(/^declared 10 Gb\/s, the system says 480 Mb\/s: the link to box/);
    expect(words.join("\n")).toMatch(/sees Rime 7 \(480 Mb\/s\), which the rig does not name/);
    expect(words.join("\n")).toMatch(/drives it by USB storage, unqueued/);
    expect(words.join("\n")).not.toMatch(/exfat/i);
  });

  it("takes over the links and the driver, and finds no more of them then", async () => {
    const report = await look("usb-480m-slow-hub", "/media/moraine");
    const taken = asDetected(declared, report);
    expect(taken.settled).toEqual([{ partId: "box", mode: "usb-480m", by: "system" }]);
    expect(taken.transport).toBe("usb-unqueued");
    expect(disagreements(taken, report).map(({ text }) => text)).toEqual([
      expect.stringMatching(/Rime 7/),
    ]);
  });

  it("notices another drive than the one declared, and another file system", async () => {
    const report = await look("usb-10g-hub", "/mnt/moraine");
    const other = {
      ...declared,
      fileSystem: "ext4",
      parts: declared.parts.with(3, { ...moraine, serial: "X-1" }),
    };
    const words = disagreements(other, report)
      .map(({ text }) => text)
      .join("\n");
    expect(words).toMatch(/serial number X-1; the system sees BSW-SER-2206 and FRN-MOR-0417/);
    expect(words).toMatch(/declared ext4, the system says exfat/);
  });

  it("counts the disks of a RAID", async () => {
    const report = await look("raid-two-disks", "/mnt/ice");
    const single = rig([
      part("host-port", "sata", { down: ["sata-6g"] }),
      part("drive", "one", { up: ["sata-6g"] }),
    ]);
    expect(
      disagreements(single, report)
        .map(({ text }) => text)
        .join(),
    ).toMatch(/sees 2 disks below it, the rig names 1/);
  });
});

describe("which end of a PCIe link a device is", () => {
  it.each([
    ["/sys/devices/pci0000:00/0000:00:1c.4", false],
    ["/sys/devices/pci0000:00/0000:00:1c.4/0000:03:00.0", true],
    ["/sys/devices/pci0000:00/0000:00:07.0/0000:2b:00.0/0000:2c:01.0", false],
    ["/sys/devices/pci0000:00/0000:00:07.0/0000:2b:00.0/0000:2c:01.0/0000:2d:00.0", true],
    // A controller with a root complex of its own
    ["/sys/devices/pci0000:00/0000:00:0e.0/pci10000:e0/10000:e0:1d.0", false],
    ["/sys/devices/pci0000:00/0000:00:0e.0/pci10000:e0/10000:e0:1d.0/10000:e1:00.0", true],
    ["/sys/devices/platform/soc/fd500000.pcie/pci0000:00/0000:00:00.0/0000:01:00.0", true],
  ])("%s: lower %s", (at, lower) => expect(isLowerEnd(at)).toBe(lower));
});
