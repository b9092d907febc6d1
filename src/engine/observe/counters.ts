import type { SystemReport } from "@/core/system/system-report";
import type { SystemTree } from "../probe/tree";

/** A count of something that went wrong, kept by the kernel. */
export interface ErrorCounter {
  what: string;
  from: string;
  count: number;
}

/** Counters of the SCSI layer, hexadecimal (Documentation/scsi: iorequest_cnt, iodone_cnt, ioerr_cnt, iotmo_cnt). */
const SCSI = [
  ["ioerr_cnt", "requests that failed"],
  ["iotmo_cnt", "requests that timed out"],
] as const;

/** One line a kind of error, with a total (Documentation/ABI/testing/sysfs-bus-pci-devices-aer). */
const AER = [
  ["aer_dev_correctable", "PCIe errors, corrected"],
  ["aer_dev_nonfatal", "PCIe errors, not fatal"],
  ["aer_dev_fatal", "PCIe errors, fatal"],
] as const;

/** Documentation/ABI/testing/sysfs-class-net-statistics. */
const NETWORK = [
  ["rx_errors", "packets received with errors"],
  ["tx_errors", "packets sent with errors"],
  ["rx_crc_errors", "packets with a wrong check"],
  ["rx_dropped", "received packets dropped"],
  ["tx_dropped", "sent packets dropped"],
] as const;

/** How often the kernel slowed a core down for heat (arch/x86: therm_throt.c). */
const CORES = "/sys/devices/system/cpu";

/** Reads every error counter of the drives and of the way to them; what is not kept is left out. */
export async function readErrorCounters(
  tree: SystemTree,
  reports: readonly SystemReport[],
): Promise<ErrorCounter[]> {
  const found: ErrorCounter[] = [];
  const add = async (what: string, from: string, read: (text: string) => number) => {
    if (found.some((counter) => counter.from === from)) return;
    const text = await tree.read(from);
    const count = text === null ? NaN : read(text);
    if (Number.isFinite(count)) found.push({ what, from, count });
  };
  for (const { blocks, ways } of reports) {
    for (const { name, kind } of blocks) {
      if (kind !== "disk") continue;
      for (const [file, what] of SCSI) {
        await add(`${name}: ${what}`, `/sys/block/${name}/device/${file}`, (text) =>
          parseInt(text, 16),
        );
      }
    }
    for (const { kind, name, at } of ways.flatMap(({ nodes }) => nodes)) {
      if (kind === "pci-controller" || kind === "pcie-port" || kind === "nvme") {
        for (const [file, what] of AER) await add(`${name}: ${what}`, `${at}/${file}`, totalOf);
      }
      if (kind === "network-interface") {
        for (const [file, what] of NETWORK)
          await add(`${name}: ${what}`, `${at}/statistics/${file}`, Number);
      }
    }
  }
  return found;
}

/** The total of a counter file of PCIe errors: its last line, or the sum of its lines. */
function totalOf(text: string): number {
  const lines = text.split("\n").map((line) => line.trim().split(/\s+/));
  const total = lines.find(([name]) => name?.startsWith("TOTAL_ERR"));
  return total ? Number(total[1]) : lines.reduce((sum, [, count]) => sum + Number(count ?? 0), 0);
}

/** How often cores were slowed down for heat, all together; null where the system keeps no count. */
export async function throttledClocks(tree: SystemTree): Promise<number | null> {
  let sum: number | null = null;
  for (const name of await tree.list(CORES)) {
    if (!/^cpu\d+$/.test(name)) continue;
    const text = await tree.read(`${CORES}/${name}/thermal_throttle/core_throttle_count`);
    if (text !== null) sum = (sum ?? 0) + Number(text);
  }
  return sum;
}
