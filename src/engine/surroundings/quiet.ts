import type { Fact, SystemReport } from "@/core/system/system-report";
import type { SystemTree } from "../probe/tree";

/**
 * What quietly costs speed, as the system has it now: power policies of processor, PCIe, SATA and USB,
 * and how requests are queued. Each fact with the file it came from.
 */
export async function quietFacts(tree: SystemTree, report: SystemReport): Promise<Fact[]> {
  const nodes = report.ways.flatMap((way) => way.nodes);
  const usb = nodes.filter(({ kind }) => kind === "usb-device" || kind === "usb-hub");
  const hosts = new Set(nodes.flatMap(({ at }) => /\/host(\d+)\//.exec(at)?.[1] ?? []));
  const disks = report.blocks.filter(({ kind }) => kind === "disk");
  const facts = [
    tree.fact("processor governor", "/sys/devices/system/cpu/cpu0/cpufreq/scaling_governor"),
    tree.fact("PCIe link power", "/sys/module/pcie_aspm/parameters/policy"),
    ...[...hosts].map((host) =>
      tree.fact("SATA link power", `/sys/class/scsi_host/host${host}/link_power_management_policy`),
    ),
    ...usb.map(({ at }) => tree.fact("USB power", `${at}/power/control`)),
    ...disks.flatMap(({ name }) =>
      [
        ["scheduler", "scheduler"],
        ["requests queued", "nr_requests"],
        ["read-ahead, KiB", "read_ahead_kb"],
        ["write cache", "write_cache"],
      ].map(([what, file]) => tree.fact(what!, `/sys/class/block/${name}/queue/${file}`)),
    ),
  ];
  return (await Promise.all(facts)).flat().map((fact) => ({ ...fact, value: chosen(fact.value) }));
}

/** Of several that can be chosen the kernel marks the one that is: "default [performance] powersave". */
const chosen = (value: string) => /\[([^\]]+)\]/.exec(value)?.[1] ?? value;

/** That the machine runs on its battery (Documentation/ABI/testing/sysfs-class-power); null where not. */
export async function onBattery(tree: SystemTree): Promise<Fact | null> {
  const SUPPLIES = "/sys/class/power_supply";
  for (const name of await tree.list(SUPPLIES)) {
    const [type, scope] = [
      await tree.read(`${SUPPLIES}/${name}/type`),
      await tree.read(`${SUPPLIES}/${name}/scope`),
    ];
    // The battery of a mouse or keyboard says "Device".
    if (type !== "Battery" || scope === "Device") continue;
    const from = `${SUPPLIES}/${name}/status`;
    const value = await tree.read(from);
    if (value === "Discharging") return { what: "battery", value, from };
  }
  return null;
}
