import type { FamilyId } from "./mode";

/** How a tester knows the kinds of link. */
export const FAMILY_NAMES: Record<FamilyId, string> = {
  usb: "USB",
  usb4: "USB4",
  thunderbolt: "Thunderbolt",
  pcie: "PCIe",
  card: "Cards",
  sata: "SATA",
  sas: "SAS",
  pata: "Parallel ATA",
  "ieee-1394": "IEEE 1394",
  sd: "SD",
  ethernet: "Ethernet",
  stated: "Stated rate",
  own: "Your own",
};
