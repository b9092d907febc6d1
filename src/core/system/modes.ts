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

/** @param timing "sd uhs SDR104" (drivers/mmc/core/debugfs.c, timing spec) */
export const sdMode = (timing: string): string | null =>
  known(timing.toLowerCase().replace(/^sd uhs /, "sd-"));

/**
 * A PCIe tunnel by its generation and what its link runs at.
 *
 * @param generation "3", "4" for USB4 (ABI: sysfs-bus-thunderbolt, generation)
 * @param speed of one lane: "20.0 Gb/s" (rx_speed)
 * @param rx lanes that the device receives on, "2": what is written to it (rx_lanes)
 * @param tx lanes that it sends on (tx_lanes)
 */
export function tunnelMode(
  generation: string,
  speed: string,
  rx: string,
  tx: string,
): string | null {
  const [out, back] = [rx, tx].map((lanes) => parseFloat(speed) * Number(lanes));
  if (out !== back) return generation === "4" ? known(`usb4-${out}g-${back}g-pcie`) : null;
  if (generation === "4") return known(`usb4-${out}g-pcie`);
  const full: Record<string, number> = { "1": 10, "2": 20, "3": 40 };
  if (full[generation] === out) return known(`thunderbolt-${generation}`);
  // Thunderbolt 3 on slow cables signals as USB4 does at 20 Gb/s, and its packets are USB4's.
  return generation === "3" && out === 20 ? known("usb4-20g-pcie") : null;
}
