import { findMode } from "../ledger/catalogue";

/** Turns the kernel's words for a link into Nerrit's modes; null where they fit none. */

const known = (id: string): string | null => (findMode(id) ? id : null);

const PCIE_VERSIONS: Record<string, string> = {
  "2.5": "1.0",
  "5": "2.0",
  "8": "3.0",
  "16": "4.0",
  "32": "5.0",
  "64": "6.0",
};

/** @param speed "8.0 GT/s PCIe" (ABI: sysfs-bus-pci, current_link_speed). @param width "4" */
export function pcieMode(speed: string, width: string): string | null {
  const version = PCIE_VERSIONS[String(parseFloat(speed))];
  return version ? known(`pcie-${version}-x${Number(width)}`) : null;
}

/**
 * @param speed Mb/s as the kernel writes it: "480", "5000" (ABI: sysfs-bus-usb, speed)
 * @param lanes of one direction; "1" where the kernel does not say
 */
export function usbMode(speed: string, lanes = "1"): string | null {
  const both = lanes === "2";
  const ids: Record<string, string> = {
    "12": "usb-12m",
    "480": "usb-480m",
    "5000": "usb-5g",
    "10000": both ? "usb-10g-two-lane" : "usb-10g",
    "20000": "usb-20g",
  };
  return ids[speed] ?? null;
}

/** @param speed "3.0 Gbps" (ABI: sysfs-ata, sata_spd) */
export const sataMode = (speed: string): string | null => known(`sata-${parseFloat(speed)}g`);

/** @param rate "6.0 Gbit" (sas_phy, negotiated_linkrate) */
export const sasMode = (rate: string): string | null => known(`sas-${parseFloat(rate)}g`);

/** @param transfer "XFER_UDMA_6" (ABI: sysfs-ata, xfer_mode) */
export const pataMode = (transfer: string): string | null =>
  known(
    `pata-${transfer
      .replace(/^XFER_/, "")
      .replace("MW_DMA", "MWDMA")
      .toLowerCase()
      .replaceAll("_", "-")}`,
  );

/** @param megabits as the kernel writes it: "1000" (ABI: sysfs-class-net, speed) */
export function ethernetMode(megabits: string): string | null {
  const rate = Number(megabits);
  return known(rate >= 1000 ? `ethernet-${rate / 1000}g` : `ethernet-${rate}m`);
}

/**
 * A PCIe tunnel by its generation and what one direction runs at.
 *
 * @param generation "3", "4" for USB4 (ABI: sysfs-bus-thunderbolt, generation)
 * @param speed of one lane: "20.0 Gb/s" (rx_speed). @param lanes "2" (rx_lanes)
 */
export function tunnelMode(generation: string, speed: string, lanes: string): string | null {
  const gigabits = parseFloat(speed) * Number(lanes);
  if (generation === "4") return known(`usb4-${gigabits}g-pcie`);
  const full: Record<string, number> = { "1": 10, "2": 20, "3": 40 };
  return full[generation] === gigabits ? known(`thunderbolt-${generation}`) : null;
}
