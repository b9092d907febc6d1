import fs from "node:fs";
import os from "node:os";
import path from "node:path";
import { afterEach, beforeEach, describe, expect, it } from "vitest";
import type { SystemReport } from "@/core/system/system-report";
import { SystemTree } from "../probe/tree";
import { readErrorCounters, throttledClocks } from "./counters";
import { lineOf } from "./kernel-log";

describe("a line of the kernel's log", () => {
  const record = (text: string) => `6,1234,5678901,-;${text}\n SUBSYSTEM=usb\n DEVICE=c189:3\n`;
  const names = ["sdb", "2-1.2", "0000:01:00.0", "nvme0n1"];

  it.each([
    ["sd 6:0:0:0: [sdb] tag#0 FAILED Result: hostbyte=DID_ERROR", "error"],
    ["usb 2-1.2: reset SuperSpeed USB device number 4 using xhci_hcd", "reset"],
    ["usb 2-1.2: USB disconnect, device number 4", "gone"],
    ["nvme0n1: I/O Cmd(0x2) @ LBA 0, I/O Error (sct 0x0)", "error"],
    ["pcieport 0000:01:00.0: AER: Corrected error received", "error"],
    ["sd 6:0:0:0: [sdb] Attached SCSI disk", "kernel"],
  ])("%s is %s", (text, kind) => {
    expect(lineOf(record(text), names)).toEqual({ text, kind });
  });

  it.each([
    "[sdbc] failed",
    "usb 12-1.2: reset",
    "usb 2-1.2.4: reset",
    "usb 2-1: reset",
    "eth0: link up",
  ])("%s concerns other devices", (text) => expect(lineOf(record(text), names)).toBeNull());

  it("is no line where it is no record", () => {
    for (const nonsense of ["", "sdb failed", "6,1,2,-"])
      expect(lineOf(nonsense, names)).toBeNull();
  });
});

describe("error counters", () => {
  let root: string;
  beforeEach(() => {
    root = fs.mkdtempSync(path.join(os.tmpdir(), "nerrit-counters-"));
  });
  afterEach(() => fs.rmSync(root, { recursive: true }));

  const put = (file: string, text: string) => {
    const full = path.join(root, file);
    fs.mkdirSync(path.dirname(full), { recursive: true });
    fs.writeFileSync(full, text);
  };
  const node = (kind: string, name: string, at: string) => ({ kind, name, at, facts: [] });
  const report = {
    blocks: [
      { name: "sdb", kind: "disk" },
      { name: "sdb1", kind: "partition" },
    ],
    ways: [
      {
        nodes: [
          node("pcie-port", "Port 1", "/sys/devices/pci0000:00/0000:00:1c.0"),
          node("network-interface", "eth0", "/sys/class/net/eth0"),
          node("usb-device", "Box", "/sys/devices/usb1/1-1"),
        ],
      },
    ],
  } as unknown as SystemReport;

  it("are read of drive, PCIe links and interfaces, as the kernel writes them", async () => {
    put("sys/block/sdb/device/ioerr_cnt", "0x1f\n");
    put("sys/block/sdb/device/iotmo_cnt", "0x0\n");
    const aer = "RxErr 3\nBadTLP 1\nBadDLLP 0\nTOTAL_ERR_COR 4\n";
    put("sys/devices/pci0000:00/0000:00:1c.0/aer_dev_correctable", aer);
    put("sys/devices/pci0000:00/0000:00:1c.0/aer_dev_fatal", "Undefined 0\nDLP 2\n");
    put("sys/class/net/eth0/statistics/rx_crc_errors", "17\n");
    const found = await readErrorCounters(new SystemTree(root), [report, report]);
    const counts = Object.fromEntries(found.map(({ what, count }) => [what, count]));
    expect(counts).toEqual({
      "sdb: requests that failed": 31,
      "sdb: requests that timed out": 0,
      "Port 1: PCIe errors, corrected": 4,
      "Port 1: PCIe errors, fatal": 2,
      "eth0: packets with a wrong check": 17,
    });
    for (const { from } of found) expect(fs.existsSync(path.join(root, from))).toBe(true);
  });

  it("are none where the system keeps none", async () => {
    expect(await readErrorCounters(new SystemTree(root), [report])).toEqual([]);
    expect(await throttledClocks(new SystemTree(root))).toBeNull();
  });

  it("sum the cores that were slowed down for heat", async () => {
    for (const [core, count] of [
      [0, 3],
      [1, 4],
    ]) {
      put(`sys/devices/system/cpu/cpu${core}/thermal_throttle/core_throttle_count`, `${count}\n`);
    }
    put("sys/devices/system/cpu/cpufreq/policy0/scaling_governor", "powersave\n");
    expect(await throttledClocks(new SystemTree(root))).toBe(7);
  });
});
