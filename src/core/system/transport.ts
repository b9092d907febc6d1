import type { TransportId } from "../ledger/mode";
import type { SeenNode } from "./system-report";

/** How requests travel, by the driver nearest to the drive that says so. */
export function transportOf(nodes: readonly SeenNode[]): TransportId | null {
  const usb = nodes.findLast(({ kind }) => kind === "usb-device");
  if (usb)
    return usb.driver === "uas"
      ? "usb-queued"
      : usb.driver === "usb-storage"
        ? "usb-unqueued"
        : null;
  const kinds = nodes.map(({ kind }) => kind);
  if (kinds.at(-1) === "nvme") return "nvme";
  if (kinds.at(-1) === "memory-card") return "sd-card";
  if (kinds.includes("sas-port") || kinds.includes("sas-expander")) return "scsi";
  const controller = nodes.findLast(({ kind }) => kind === "pci-controller");
  if (kinds.includes("pata-port")) return "legacy-ata";
  if (!kinds.includes("sata-port")) return null;
  const depth = nodes.at(-1)?.facts.find(({ what }) => what === "requests at once")?.value;
  return controller?.driver === "ahci" && depth !== "1" ? "ahci" : "legacy-ata";
}
