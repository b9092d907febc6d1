import * as z from "zod";
import type { FamilyId } from "../ledger/mode";

/** What a connector looks like: a plug that fits says little of how fast the link is. */
export const Shape = z.enum([
  "usb-a",
  "usb-b",
  "usb-micro-b",
  "usb-c",
  "mini-dp",
  "m2",
  "u2",
  "oculink",
  "slot",
  "sata",
  "esata",
  "sas",
  "ide",
  "ieee-1394",
  "rj45",
  "sfp",
  "sd",
  "cfexpress",
  "expresscard",
  "cardbus",
]);
export type Shape = z.infer<typeof Shape>;

/** Trade names of the shapes, and the families of modes that their standards put on them. */
export const SHAPES: Record<Shape, { name: string; families: readonly FamilyId[] }> = {
  "usb-a": { name: "USB-A", families: ["usb"] },
  "usb-b": { name: "USB-B", families: ["usb"] },
  "usb-micro-b": { name: "USB micro-B", families: ["usb"] },
  "usb-c": { name: "USB-C", families: ["usb", "usb4", "thunderbolt"] },
  "mini-dp": { name: "mini DisplayPort", families: ["thunderbolt"] },
  m2: { name: "M.2", families: ["pcie", "sata", "usb"] },
  u2: { name: "U.2", families: ["pcie", "sas", "sata"] },
  oculink: { name: "OCuLink", families: ["pcie", "sata"] },
  slot: { name: "PCIe slot", families: ["pcie"] },
  sata: { name: "SATA", families: ["sata"] },
  esata: { name: "eSATA", families: ["sata"] },
  sas: { name: "SAS", families: ["sas", "sata"] },
  ide: { name: "40-pin ATA", families: ["pata"] },
  "ieee-1394": { name: "IEEE 1394", families: ["ieee-1394"] },
  rj45: { name: "RJ45", families: ["ethernet"] },
  sfp: { name: "SFP", families: ["ethernet"] },
  sd: { name: "SD card", families: ["sd", "card"] },
  cfexpress: { name: "CFexpress", families: ["card"] },
  expresscard: { name: "ExpressCard", families: ["card", "usb"] },
  cardbus: { name: "CardBus", families: ["card"] },
};

/** Whether a connector of some shape can carry modes of a family; links that no list has go anywhere. */
export const carries = (shape: Shape, family: FamilyId): boolean =>
  family === "stated" || family === "own" || SHAPES[shape].families.includes(family);

/** Whether two ends can be put together; an end whose shape is not said fits all. */
export function fits(host: Shape | undefined, drive: Shape | undefined): boolean {
  if (!host || !drive || host === drive) return true;
  return host === "sas" && drive === "sata"; // SAS-4, connectors: a SAS receptacle takes a SATA drive
}
