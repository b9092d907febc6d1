import { pcieMode } from "@/core/system/modes";
import type { SeenNode } from "@/core/system/system-report";
import { blankNode } from "@/core/system/blank-node";
import type { SystemTree } from "./tree";

/** PCI class codes, first two bytes (PCI Code and ID Assignment Specification, 1). */
const CLASSES: Record<string, string> = {
  "0x0100": "SCSI controller",
  "0x0101": "IDE controller",
  "0x0106": "SATA controller",
  "0x0107": "SAS controller",
  "0x0108": "NVMe drive",
  "0x0200": "network controller",
  "0x0280": "wireless controller",
  "0x0604": "PCIe port",
  "0x0805": "SD controller",
  "0x0c00": "IEEE 1394 controller",
  "0x0c03": "USB controller",
};

/** A PCI device's directory: ".../0000:03:00.0". */
export const PCI_ADDRESS = /\/[\da-f]{4,}:[\da-f]{2}:[\da-f]{2}\.[\da-f]$/;

/**
 * Whether a PCI device is at the lower end of its link. Below a root complex ("pci0000:00", or one
 * that a controller makes of its own) ports whose links lead down alternate with what is at the ends.
 */
export const isLowerEnd = (at: string): boolean =>
  at
    .split(/\/pci[\da-f]{4,}:[\da-f]{2}\//)
    .at(-1)!
    .split("/").length %
    2 ===
  0;

/**
 * A PCI device (Documentation/ABI/testing/sysfs-bus-pci).
 *
 * @param linkAbove whether its link attributes speak of the link towards the host; those of a root or
 *   downstream port speak of the one below it
 */
export async function readPci(
  tree: SystemTree,
  at: string,
  linkAbove = isLowerEnd(at),
): Promise<SeenNode> {
  const code = (await tree.read(`${at}/class`))?.slice(0, 6) ?? "";
  const name = CLASSES[code] ?? "PCI device";
  const node = blankNode(code === "0x0604" ? "pcie-port" : "pci-controller", name, at);
  const [now, width, most, widest] = await Promise.all(
    ["current_link_speed", "current_link_width", "max_link_speed", "max_link_width"].map((file) =>
      tree.read(`${at}/${file}`),
    ),
  );
  const words = (speed?: string | null, lanes?: string | null) =>
    speed && lanes ? `${speed} ×${lanes}` : null;
  const sensible = now && width && width !== "0" && !/unknown/i.test(now);
  if (sensible && linkAbove) {
    node.link = {
      mode: pcieMode(now, width),
      now: words(now, width)!,
      mostMode: most && widest ? pcieMode(most, widest) : null,
      most: words(most, widest),
      from: [`${at}/current_link_speed`, `${at}/current_link_width`],
    };
  } else if (most && widest && widest !== "0" && !/unknown/i.test(most)) {
    node.facts.push({
      what: "most it can do",
      value: words(most, widest)!,
      from: `${at}/max_link_speed`,
    });
  }
  node.facts.push(
    ...(await tree.fact("vendor", `${at}/vendor`)),
    ...(await tree.fact("device", `${at}/device`)),
    ...(await tree.fact("placement", `${at}/removable`)),
  );
  const bound = await tree.driver(at);
  return { ...node, driver: bound[0]?.value ?? null, facts: [...node.facts, ...bound] };
}
