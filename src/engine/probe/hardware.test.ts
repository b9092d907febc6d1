import fs from "node:fs";
import { afterEach, describe, expect, it } from "vitest";
import { linksOf } from "@/core/chain/link";
import { BARE_RIG } from "@/core/chain/rig";
import { PartDraft } from "@/core/chain/part";
import { fillRig } from "@/core/system/fill";
import { SystemReport } from "@/core/system/system-report";
import { reportLines } from "@/core/system/system-words";
import {
  found,
  inside,
  link,
  makeSystem,
  mounted,
  pci,
  scsiDisk,
  type MadeUp,
} from "../testing/made-up-system";
import { probe } from "./probe";

/**
 * Machines made from what the kernel documents (Documentation/ABI, drivers/ata, drivers/usb/core,
 * drivers/scsi/scsi_transport_sas.c, drivers/thunderbolt, drivers/mmc/core), not from the reader.
 */

const roots: string[] = [];
afterEach(() => {
  for (const root of roots.splice(0)) fs.rmSync(root, { recursive: true });
});

async function look(files: MadeUp, target: string): Promise<SystemReport> {
  const root = makeSystem(files);
  roots.push(root);
  return SystemReport.parse(await probe(target, root));
}
const modes = ({ ways }: SystemReport) =>
  ways.map(({ nodes }) => nodes.flatMap((node) => (node.link ? [node.link.mode] : [])));
const kinds = ({ findings }: SystemReport) => findings.map(({ what }) => what);
const words = ({ findings }: SystemReport) => findings.map(({ text }) => text).join("\n");
const gaps = (report: SystemReport) =>
  report.gaps.map(({ what, why }) => `${what}: ${why}`).join("\n");

describe("USB", () => {
  const xhci = "/sys/devices/pci0000:00/0000:00:14.0";
  const slow = `${xhci}/usb1/1-2`;
  const fast = `${xhci}/usb2/2-2`;
  const device = (at: string, speed: string, version: string, more: MadeUp = {}): MadeUp =>
    inside(at, { speed, version: ` ${version}`, bDeviceClass: "00", rx_lanes: "1", ...more });
  const hub = { bDeviceClass: "09", maxchild: "4", product: "Couloir hub" };
  /** Both halves of a socket, each leading to the other, and to what is plugged in. */
  const socket = (a: [string, string | null], b: [string, string | null]): MadeUp => ({
    [`${a[0]}/peer`]: link(b[0]),
    [`${b[0]}/peer`]: link(a[0]),
    ...(a[1] ? { [`${a[0]}/device`]: link(a[1]), [`${a[1]}/port`]: link(a[0]) } : {}),
    ...(b[1] ? { [`${b[0]}/device`]: link(b[1]), [`${b[1]}/port`]: link(b[0]) } : {}),
  });
  const rootSockets = (withFast: boolean) =>
    socket(
      [`${xhci}/usb1/1-0:1.0/usb1-port2`, slow],
      [`${xhci}/usb2/2-0:1.0/usb2-port2`, withFast ? fast : null],
    );
  const roots: MadeUp = {
    ...device(`${xhci}/usb1`, "480", "2.00", { bDeviceClass: "09" }),
    ...device(`${xhci}/usb2`, "10000", "3.10", { bDeviceClass: "09" }),
  };
  /** A hub of USB 3: two devices, one in each half. */
  const healthyHub: MadeUp = {
    ...roots,
    ...device(slow, "480", "2.10", hub),
    ...device(fast, "5000", "3.20", hub),
    ...rootSockets(true),
  };
  const stick = `${slow}/1-2.4`;
  const storage = (at: string, driver = "usb-storage"): MadeUp => ({
    ...inside(`${at}/${at.split("/").at(-1)}:1.0`, { bInterfaceClass: "08" }),
    [`${at}/${at.split("/").at(-1)}:1.0/driver`]: link(`/sys/bus/usb/drivers/${driver}`),
    ...scsiDisk(`${at}/${at.split("/").at(-1)}:1.0/host4/target4:0:0/4:0:0:0`, "sdb", "8:16", {
      "scsi_disk/4:0:0:0/cache_type": "write through",
    }),
  });
  const inHub = socket([`${slow}/1-2:1.0/1-2-port4`, stick], [`${fast}/2-2:1.0/2-2-port4`, null]);
  const bos = (speeds: number) =>
    Uint8Array.of(
      5,
      0x0f,
      22,
      0,
      2,
      7,
      0x10,
      2,
      6,
      0,
      0,
      0,
      10,
      0x10,
      3,
      0,
      speeds,
      0,
      1,
      10,
      255,
      7,
    );
  const withStick = (version: string, more: MadeUp = {}): MadeUp => ({
    ...healthyHub,
    ...inHub,
    ...storage(stick),
    ...device(stick, "480", version, { product: "Scree stick", ...more }),
  });

  it.each<[string, MadeUp, string[], RegExp]>([
    [
      "2.00",
      {},
      ["slow device in a fast socket"],
      /Scree stick runs at 480 Mb\/s, as it is made for USB 2/,
    ],
    ["2.01", {}, ["slow device in a fast socket"], /made for USB 2/],
    ["2.10", { bos_descriptors: bos(0x06) }, ["slow device in a fast socket"], /made for USB 2/],
    [
      "2.10",
      {},
      ["may run slower than the device is made for"],
      /some of USB 2 do so too; the socket’s other half runs at 5000/,
    ],
    [
      "2.10",
      { bos_descriptors: bos(0x0e) },
      ["runs slower than the device is made for"],
      /look at the cable and the plug/,
    ],
  ])(
    "a device that says %s in a sound hub of USB 3 never puts it on the hub",
    async (version, more, expected, text) => {
      const report = await look(withStick(version, more), "/dev/sdb");
      expect(kinds(report)).toEqual([...expected, "no queueing"]);
      expect(words(report)).toMatch(text);
      expect(words(report)).not.toMatch(/Couloir hub/);
    },
  );

  it("knows what a hub can do by its other half", async () => {
    const filled = fillRig(await look(withStick("2.10"), "/dev/sdb"), [])!;
    expect(filled.chain.map(({ draft }) => draft.kind)).toEqual(["host-port", "hub", "drive"]);
    expect(filled.chain[1]!.draft.connectors[0]!.modes).toContain("usb-5g");
  });

  it("puts it on a hub that has come up without its fast half", async () => {
    const alone: MadeUp = {
      ...roots,
      ...device(slow, "480", "2.10", { ...hub, bos_descriptors: bos(0x0e) }),
      ...rootSockets(false),
      ...storage(stick),
      ...device(stick, "480", "2.10", { product: "Serac", bos_descriptors: bos(0x0e) }),
    };
    const report = await look(alone, "/dev/sdb");
    expect(words(report)).toMatch(
      /Couloir hub runs at 480 Mb\/s though it says that it can do 5 Gb\/s or more; the socket’s other half runs at 10000 Mb\/s/,
    );
    expect(words(report)).toMatch(/Serac runs at 480 Mb\/s .*; Couloir hub above it runs at 480/);
  });

  it("believes “write through” only of a drive that answers through the bridge", async () => {
    expect(kinds(await look(withStick("2.00"), "/dev/sdb"))).not.toContain("write cache off");
    const device = `${stick}/1-2.4:1.0/host4/target4:0:0/4:0:0:0`;
    const bridged = { ...withStick("2.00"), [`${device}/vpd_pg89`]: new Uint8Array(572) };
    expect(kinds(await look(bridged, "/dev/sdb"))).toContain("write cache off");
  });

  it("gives the way by its USB path", async () => {
    const lines = reportLines(await look(withStick("2.00"), "/dev/sdb")).join("\n");
    expect(lines).toMatch(/Scree stick \[1-2\.4\]: runs at 480 Mb\/s \(USB 480 Mb\/s\)/);
    expect(lines).toMatch(/Couloir hub \[1-2\]: .*other half at 5000 Mb\/s/);
  });
});

describe("SATA", () => {
  const port = "/sys/devices/pci0000:00/0000:00:17.0/ata1";
  const files = `${port}/link1/ata_link/link1`;
  const drive = `${port}/link1/dev1.0/ata_device/dev1.0`;
  /** IDENTIFY DEVICE data as the kernel prints it, with one word set. */
  const identify = (word76: number) =>
    Array.from({ length: 32 }, (_, row) =>
      Array.from({ length: 8 }, (_, i) =>
        (row * 8 + i === 76 ? word76 : 0x40).toString(16).padStart(4, "0"),
      ).join(" "),
    ).join("\n");
  const GEN_2 = 0x0006;
  const GEN_3 = 0x850e;
  const sata = (more: {
    spd?: string;
    hw?: string;
    limit?: string;
    word76?: number;
    slowed?: string;
    caps?: string;
  }): MadeUp => ({
    ...scsiDisk(`${port}/host0/target0:0:0/0:0:0:0`, "sda", "8:0"),
    "/sys/devices/pci0000:00/0000:00:17.0/driver": link("/sys/bus/pci/drivers/ahci"),
    [`${files}/sata_spd`]: more.spd ?? "3.0 Gbps",
    [`${files}/hw_sata_spd_limit`]: more.hw ?? "<unknown>",
    [`${files}/sata_spd_limit`]: more.limit ?? more.hw ?? "<unknown>",
    [`${drive}/spdn_cnt`]: more.slowed ?? "0",
    [`${drive}/id`]: identify(more.word76 ?? GEN_3),
    ...(more.caps ? { [`${port}/host0/scsi_host/host0/ahci_host_caps`]: more.caps } : {}),
  });

  it.each<[string, Parameters<typeof sata>[0], RegExp | null]>([
    ["as fast as drive and port can", { spd: "6.0 Gbps" }, null],
    [
      "slow, by the drive's own word 76",
      {},
      /below the SATA 6\.0 Gbps that it supports.*system reports nothing/,
    ],
    ["slow since the drive can do no more", { word76: GEN_2, caps: "c734ff45" }, null],
    ["slow in a port that is", { caps: "c724ff45" }, /Its port can do no more than 3\.0 Gbps/],
    [
      "slow in a port that is not",
      { caps: "c734ff45" },
      /port could do 6\.0 Gbps, so the cable or the backplane/,
    ],
    ["slow since a limit was set", { hw: "3.0 Gbps" }, /can do no more than 3\.0 Gbps/],
    [
      "slowed after errors, from an unknown limit",
      { limit: "3.0 Gbps" },
      /lowered the speed itself/,
    ],
    ["slowed after errors, by its count", { slowed: "2" }, /lowered the speed itself 2 times/],
    ["slow, of a drive that does not say", { word76: 0 }, null],
    [
      "slow, of a drive that answers nothing",
      { word76: 0xffff, hw: "6.0 Gbps" },
      /The drive, the cable or the backplane/,
    ],
  ])("%s", async (_, more, text) => {
    const report = await look(sata(more), "/dev/sda");
    expect(kinds(report)).toEqual(text ? ["link below its maximum"] : []);
    if (text) expect(words(report)).toMatch(text);
  });

  it("behind a port multiplier, by the disk's own link", async () => {
    const behind: MadeUp = {
      ...scsiDisk(`${port}/host0/target0:2:0/0:2:0:0`, "sda", "8:0"),
      [`${files}/sata_spd`]: "6.0 Gbps",
      [`${port}/link1.2/ata_link/link1.2/sata_spd`]: "3.0 Gbps",
      [`${port}/link1.1/ata_link/link1.1/sata_spd`]: "1.5 Gbps",
    };
    const report = await look(behind, "/dev/sda");
    expect(modes(report)).toEqual([["sata-6g", "sata-3g"]]);
    expect(fillRig(report, [])!.notes.join()).toMatch(/port multiplier .* stands on the way too/);
  });
});

describe("SAS", () => {
  const host = "/sys/devices/pci0000:00/0000:03:00.0/host6";
  const phy = (port: string, name: string, rate: string, most: string): MadeUp =>
    inside(`${port}/${name}/sas_phy/${name}`, {
      negotiated_linkrate: rate,
      maximum_linkrate: most,
    });
  const end = (port: string, name: string, protocols: string): MadeUp => ({
    [`${port}/${name}/sas_device/${name}/target_port_protocols`]: protocols,
    ...scsiDisk(`${port}/${name}/target6:0:0/6:0:0:0`, "sdc", "8:32"),
  });

  it("calls a SATA drive a SATA drive, and not slow for an adapter of 12 Gb/s", async () => {
    const port = `${host}/port-6:0`;
    const report = await look(
      { ...phy(port, "phy-6:0", "6.0 Gbit", "12.0 Gbit"), ...end(port, "end_device-6:0", "sata") },
      "/dev/sdc",
    );
    expect(modes(report)).toEqual([["sata-6g"]]);
    expect(report.findings).toEqual([]);
  });

  it("finds it slow by what it says itself", async () => {
    const port = `${host}/port-6:0`;
    const page = new Uint8Array(572);
    page[60 + 2 * 76] = 0x0e;
    const report = await look(
      {
        ...phy(port, "phy-6:0", "3.0 Gbit", "12.0 Gbit"),
        ...end(port, "end_device-6:0", "sata"),
        [`${port}/end_device-6:0/target6:0:0/6:0:0:0/vpd_pg89`]: page,
      },
      "/dev/sdc",
    );
    expect(words(report)).toMatch(/SATA 3\.0 Gbit, below the SATA 6\.0 Gbps that it supports/);
  });

  it("behind an expander takes the last port for the drive's, and names the expander", async () => {
    const up = `${host}/port-6:0`;
    const down = `${up}/expander-6:0/port-6:0:5`;
    const wide = ["phy-6:0", "phy-6:1", "phy-6:2", "phy-6:3"].map((name) =>
      phy(up, name, "12.0 Gbit", "12.0 Gbit"),
    );
    const report = await look(
      Object.assign(
        {},
        ...wide,
        phy(down, "phy-6:0:5", "6.0 Gbit", "12.0 Gbit"),
        end(down, "end_device-6:0:5", "ssp"),
        {
          [`${up}/expander-6:0/sas_expander/expander-6:0/product_id`]: "Moulin 24",
        },
      ),
      "/dev/sdc",
    );
    const nodes = report.ways[0]!.nodes;
    expect(nodes.map(({ kind }) => kind)).toEqual([
      "pci-controller",
      "sas-expander",
      "sas-port",
      "disk",
    ]);
    expect(nodes[1]).toMatchObject({ name: "Moulin 24", link: { now: "SAS 12.0 Gbit ×4" } });
    expect(nodes.at(-1)!.link).toMatchObject({ mode: "sas-6g" });
    expect(words(report)).toMatch(/below the 12\.0 Gbit of its port/);
    expect(reportLines(report).join("\n")).toMatch(
      /Moulin 24 \[expander-6:0\]: runs at SAS 12\.0 Gbit ×4/,
    );
  });
});

describe("Thunderbolt and USB4", () => {
  const host = "/sys/devices/pci0000:00";
  const nhi = `${host}/0000:00:0d.2`;
  const bridge = "0x060400";
  const nvme = (at: string): MadeUp => ({
    ...pci(at, "0x010802", "8.0", "4", "16.0"),
    ...inside(`${at}/nvme/nvme1`, { model: "Moraine", transport: "pcie" }),
    ...inside(`${at}/nvme/nvme1/nvme1n1`, {
      dev: "259:1",
      size: "100",
      device: link(`${at}/nvme/nvme1`),
    }),
    ...found(`${at}/nvme/nvme1/nvme1n1`, "nvme1n1", "259:1"),
  });
  const tunnelled = (at: string) => pci(at, bridge, "2.5", "4");
  const inner = (at: string) => pci(at, bridge, "8.0", "4");
  const device = (folder: string, name: string, called: string, more: MadeUp = {}): MadeUp => ({
    ...inside(folder, {
      device_name: called,
      vendor_name: "Bergschrund",
      authorized: "1",
      generation: "4",
      rx_speed: "20.0 Gb/s",
      tx_speed: "20.0 Gb/s",
      rx_lanes: "2",
      tx_lanes: "2",
      ...more,
    }),
    [`/sys/bus/thunderbolt/devices/${name}`]: link(folder),
  });
  const domain = (at = nhi): MadeUp => ({
    [`${at}/domain0/security`]: "user",
    [`${at}/class`]: "0x0c0340",
    "/sys/bus/thunderbolt/devices/domain0": link(`${at}/domain0`),
    [`${at}/domain0/0-0/device_name`]: "Icefall",
    "/sys/bus/thunderbolt/devices/0-0": link(`${at}/domain0/0-0`),
  });
  const port = `${host}/0000:00:07.0`;
  const dock = `${nhi}/domain0/0-0/0-1`;
  const supplied = { [`${port}/supplier:pci:0000:00:0d.2`]: link(nhi) };
  /** A box behind a dock: two hops, with no `removable`, as before Linux 5.14. */
  const chained = (more: MadeUp = supplied): MadeUp => ({
    ...domain(),
    ...more,
    ...tunnelled(port),
    ...tunnelled(`${port}/0000:2b:00.0`),
    ...inner(`${port}/0000:2b:00.0/0000:2c:01.0`),
    ...tunnelled(`${port}/0000:2b:00.0/0000:2c:01.0/0000:2d:00.0`),
    ...inner(`${port}/0000:2b:00.0/0000:2c:01.0/0000:2d:00.0/0000:2e:01.0`),
    ...nvme(`${port}/0000:2b:00.0/0000:2c:01.0/0000:2d:00.0/0000:2e:01.0/0000:2f:00.0`),
    ...device(dock, "0-1", "Col dock"),
    ...device(`${dock}/0-301`, "0-301", "Bergschrund box", { generation: "3" }),
  });

  it.each<[string, MadeUp]>([
    ["a port that depends on the controller", chained()],
    ["the links' own attributes alone", chained({})],
    ["the kernel's word", chained({ [`${port}/0000:2b:00.0/removable`]: "removable" })],
  ])("follows the tunnel through dock and box by %s", async (_, files) => {
    const report = await look(files, "/dev/nvme1n1");
    expect(modes(report)).toEqual([["usb4-40g-pcie", "thunderbolt-3", "pcie-3.0-x4"]]);
    const filled = fillRig(report, [])!;
    expect(filled.chain.map(({ draft }) => `${draft.kind} ${draft.name}`)).toEqual([
      "host-port port of Col dock",
      "hub Col dock",
      "enclosure Bergschrund box",
      "drive Moraine",
    ]);
    const parts = filled.chain.map(({ draft }, i) => ({
      ...PartDraft.parse(draft),
      id: String(i),
    }));
    expect(linksOf({ ...BARE_RIG, parts }).map(({ problem }) => problem)).toEqual([
      null,
      null,
      null,
    ]);
  });

  const two = (more: MadeUp): MadeUp => ({
    ...domain(),
    ...tunnelled(port),
    ...tunnelled(`${port}/0000:2b:00.0`),
    ...inner(`${port}/0000:2b:00.0/0000:2c:01.0`),
    ...nvme(`${port}/0000:2b:00.0/0000:2c:01.0/0000:2d:00.0`),
    ...device(`${nhi}/domain0/0-0/0-1`, "0-1", "First box"),
    ...device(`${nhi}/domain0/0-0/0-3`, "0-3", "Second box", more),
  });

  it("never takes a tunnel for a link of PCIe 1.0, whichever of two boxes holds the drive", async () => {
    const alike = await look(two({}), "/dev/nvme1n1");
    expect(modes(alike)).toEqual([["usb4-40g-pcie", "pcie-3.0-x4"]]);
    expect(gaps(alike)).toMatch(/several \(First box, Second box\)/);
    const unlike = await look(two({ rx_lanes: "1", tx_lanes: "1" }), "/dev/nvme1n1");
    expect(modes(unlike)).toEqual([["pcie-3.0-x4"]]);
    expect(fillRig(unlike, [])).toBeNull();
    const shut = await look(two({ authorized: "0" }), "/dev/nvme1n1");
    expect(shut.ways[0]!.nodes.map(({ name }) => name)).toContain("First box");
  });

  it("leaves the links behind a switch inside the box alone", async () => {
    const box = `${port}/0000:2b:00.0`;
    const report = await look(
      {
        ...domain(),
        ...supplied,
        ...tunnelled(port),
        ...tunnelled(box),
        ...inner(`${box}/0000:2c:01.0`),
        ...pci(`${box}/0000:2c:01.0/0000:2d:00.0`, bridge, "8.0", "2", "8.0"),
        ...inner(`${box}/0000:2c:01.0/0000:2d:00.0/0000:2e:00.0`),
        ...nvme(`${box}/0000:2c:01.0/0000:2d:00.0/0000:2e:00.0/0000:2f:00.0`),
        ...device(dock, "0-1", "Four-bay box"),
      },
      "/dev/nvme1n1",
    );
    expect(modes(report)).toEqual([["usb4-40g-pcie", "pcie-3.0-x2", "pcie-3.0-x4"]]);
  });

  it("of a controller on a board of its own, by the switch that both stand below", async () => {
    const up = `${host}/0000:00:1c.4/0000:04:00.0`;
    const at = `${up}/0000:05:00.0/0000:06:00.0`;
    const box = `${up}/0000:05:01.0/0000:07:00.0`;
    const report = await look(
      {
        ...domain(at),
        ...inner(`${host}/0000:00:1c.4`),
        ...inner(up),
        ...tunnelled(`${up}/0000:05:01.0`),
        // A bridge that does not look like one of a tunnel: only its place tells.
        ...pci(box, bridge, "8.0", "4"),
        ...inner(`${box}/0000:08:01.0`),
        ...nvme(`${box}/0000:08:01.0/0000:09:00.0`),
        ...device(`${at}/domain0/0-0/0-1`, "0-1", "Box", {
          generation: "2",
          rx_speed: "10.0 Gb/s",
        }),
      },
      "/dev/nvme1n1",
    );
    expect(modes(report)).toEqual([["pcie-3.0-x4", "thunderbolt-2", "pcie-3.0-x4"]]);
  });

  it("knows a plain slot for what it is, though Thunderbolt devices are there", async () => {
    const report = await look(
      {
        ...domain(),
        ...pci(`${host}/0000:00:1d.0`, bridge, "8.0", "4"),
        ...nvme(`${host}/0000:00:1d.0/0000:03:00.0`),
        ...device(dock, "0-1", "Col dock"),
      },
      "/dev/nvme1n1",
    );
    expect(modes(report)).toEqual([["pcie-3.0-x4"]]);
    expect(report.ways[0]!.nodes.map(({ kind }) => kind)).not.toContain("thunderbolt");
  });

  it.each<[MadeUp, string | null]>([
    [{ generation: "3", rx_speed: "10.0 Gb/s" }, "usb4-20g-pcie"],
    [{ rx_speed: "40.0 Gb/s", rx_lanes: "3", tx_lanes: "1" }, "usb4-120g-40g-pcie"],
    [{ rx_speed: "40.0 Gb/s" }, "usb4-80g-pcie"],
    [{ rx_speed: "40.0 Gb/s", rx_lanes: "1", tx_lanes: "3" }, null],
  ])("names the mode of %j", async (more, mode) => {
    const files = two({});
    const at = `${nhi}/domain0/0-0/0-1`;
    for (const name of Object.keys(files)) if (name.includes("0-3")) delete files[name];
    const report = await look({ ...files, ...inside(at, more) }, "/dev/nvme1n1");
    expect(modes(report)).toEqual([[mode, "pcie-3.0-x4"]]);
  });
});

describe("memory cards, networks, btrfs and what cannot be read", () => {
  const card = "/sys/devices/pci0000:00/0000:01:00.0/mmc_host/mmc0/mmc0:aaaa";
  const sd: MadeUp = {
    ...inside(card, { type: "SD", name: "SC64G", serial: "0x1234abcd" }),
    ...inside(`${card}/block/mmcblk0`, { dev: "179:0", size: "124735488", device: link(card) }),
    ...found(`${card}/block/mmcblk0`, "mmcblk0", "179:0"),
  };

  it("says the bus of an SD card where the debug files do, and that they do not", async () => {
    const silent = await look(sd, "/dev/mmcblk0");
    expect(modes(silent)).toEqual([[]]);
    expect(gaps(silent)).toMatch(/speed of the card’s bus: only the kernel’s debug files say it/);
    expect(reportLines(silent).join("\n")).toMatch(/SD SC64G: serial 0x1234abcd/);
    const ios = "clock:\t\t208000000 Hz\nbus width:\t2 (4 bits)\ntiming spec:\t6 (sd uhs SDR104)\n";
    const told = await look({ ...sd, "/sys/kernel/debug/mmc0/ios": ios }, "/dev/mmcblk0");
    expect(modes(told)).toEqual([["sd-sdr104"]]);
    expect(told.ways[0]!.transport).toBe("sd-card");
  });

  it("follows NVMe over TCP to its network interface, and says what lies beyond", async () => {
    const controller = "/sys/devices/virtual/nvme-fabrics/ctl/nvme2";
    const subsystem = "/sys/devices/virtual/nvme-subsystem/nvme-subsys2";
    const eth = "/sys/devices/pci0000:00/0000:04:00.0/net/eth0";
    const report = await look(
      {
        ...inside(controller, {
          transport: "tcp",
          address: "traddr=10.0.0.7,trsvcid=4420,host_iface=eth0",
          model: "Far drive",
        }),
        [`${subsystem}/nvme2`]: link(controller),
        ...inside(`${subsystem}/nvme2n1`, { dev: "259:9", size: "100" }),
        ...found(`${subsystem}/nvme2n1`, "nvme2n1", "259:9"),
        ...inside(eth, { speed: "10000", mtu: "9000", duplex: "full" }),
        "/sys/class/net/eth0": link(eth),
      },
      "/dev/nvme2n1",
    );
    expect(modes(report)).toEqual([["ethernet-10g"]]);
    expect(gaps(report)).toMatch(/far side of the network/);
    expect(reportLines(report).join("\n")).toMatch(/Far drive \[nvme2\]: carried over tcp/);
  });

  it("shows every device of a btrfs, and how it spreads data", async () => {
    const disk = (name: string, number: string) =>
      scsiDisk(
        `/sys/devices/pci0000:00/0000:00:17.0/ata${number.at(-1)}/host0/target0:0:0/0:0:0:0`,
        name,
        number,
      );
    const at = (name: string, number: string) =>
      `/sys/devices/pci0000:00/0000:00:17.0/ata${number.at(-1)}/host0/target0:0:0/0:0:0:0/block/${name}`;
    const report = await look(
      {
        ...disk("sda", "8:0"),
        ...disk("sdb", "8:16"),
        "/sys/fs/btrfs/features/raid56": "0",
        "/sys/fs/btrfs/aa-bb/devices/sda": link(at("sda", "8:0")),
        "/sys/fs/btrfs/aa-bb/devices/sdb": link(at("sdb", "8:16")),
        "/sys/fs/btrfs/aa-bb/allocation/data/raid1/total_bytes": "1",
        "/sys/fs/btrfs/aa-bb/allocation/data/flags": "1",
        ...mounted("0:42", "/mnt/ice", "btrfs", "/dev/sda"),
      },
      "/mnt/ice",
    );
    expect(report.ways.map(({ end }) => end)).toEqual(["sda", "sdb"]);
    expect(report.raid?.level).toBe("raid1");
    expect(reportLines(report).join("\n")).toMatch(/data spread as raid1/);
  });

  it("says that a partition's disk cannot be read, and takes an empty size for none", async () => {
    const at = "/sys/devices/pci0000:00/0000:00:17.0/ata1/host0/target0:0:0/0:0:0:0/block/sda/sda1";
    const report = await look(
      { ...inside(at, { dev: "8:1", partition: "1", size: "" }), ...found(at, "sda1", "8:1") },
      "/dev/sda1",
    );
    expect(report.blocks[0]!.bytes).toBeNull();
    expect(gaps(report)).toMatch(/disk of sda1: it cannot be read/);
    expect(gaps(report)).toMatch(/size of sda1: the file is empty/);
  });

  it("names a mapped volume, its kind, and the level and chunk of a RAID", async () => {
    const md = "/sys/devices/virtual/block/md0";
    const dm = "/sys/devices/virtual/block/dm-0";
    const report = await look(
      {
        ...inside(dm, {
          dev: "253:0",
          size: "8",
          "dm/name": "vault",
          "dm/uuid": "CRYPT-LUKS2-00aa-vault",
          "slaves/md0/dev": "9:0",
        }),
        ...found(dm, "dm-0", "253:0"),
        ...inside(md, {
          dev: "9:0",
          size: "8",
          "md/level": "raid5",
          "md/raid_disks": "4",
          "md/chunk_size": "524288",
        }),
        ...found(md, "md0", "9:0"),
      },
      "/dev/dm-0",
    );
    const lines = reportLines(report).join("\n");
    expect(lines).toMatch(/dm-0: device-mapper \(vault, encrypted volume\)/);
    expect(lines).toMatch(/md0: raid \(raid5 of 4, chunk 512 KiB\)/);
  });
});
