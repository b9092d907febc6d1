import type { Part, PartKind } from "@/core/chain/part";

/** Quick entries: what a generic part of a kind supports. */
export interface Template {
  name: string;
  kind: PartKind;
  connectors: Part["connectors"];
}

const USB = ["usb-480m", "usb-5g", "usb-10g", "usb-20g"];
const upTo = (mode: string) => USB.slice(0, USB.indexOf(mode) + 1);
const PCIE_3 = ["pcie-3.0-x1", "pcie-3.0-x2", "pcie-3.0-x4"];
const PCIE_4 = ["pcie-4.0-x1", "pcie-4.0-x2", "pcie-4.0-x4"];
const USB4 = [...upTo("usb-20g"), "usb4-20g-pcie", "usb4-40g-pcie"];
const ETHERNET = ["ethernet-100m", "ethernet-1g", "ethernet-2.5g"];
const SATA = ["sata-1.5g", "sata-3g", "sata-6g"];

const usb = (kind: "host-port" | "cable" | "hub", mode: string, name: string): Template => {
  const modes = upTo(mode);
  const sides = { "host-port": ["down"], cable: ["through"], hub: ["up", "down"] } as const;
  return { kind, name, connectors: sides[kind].map((side) => ({ side, modes })) };
};

export const TEMPLATES: Template[] = [
  usb("host-port", "usb-480m", "USB 480 Mb/s port"),
  usb("host-port", "usb-5g", "USB 5 Gb/s port"),
  usb("host-port", "usb-10g", "USB 10 Gb/s port"),
  usb("host-port", "usb-20g", "USB 20 Gb/s port"),
  { kind: "host-port", name: "SATA 6 Gb/s port", connectors: [{ side: "down", modes: SATA }] },
  { kind: "host-port", name: "PCIe 3.0 ×4 slot", connectors: [{ side: "down", modes: PCIE_3 }] },
  {
    kind: "host-port",
    name: "PCIe 4.0 ×4 slot",
    connectors: [{ side: "down", modes: [...PCIE_3, ...PCIE_4] }],
  },
  usb("cable", "usb-480m", "USB 480 Mb/s cable"),
  usb("cable", "usb-5g", "USB 5 Gb/s cable"),
  usb("cable", "usb-10g", "USB 10 Gb/s cable"),
  usb("cable", "usb-20g", "USB 20 Gb/s cable"),
  { kind: "cable", name: "SATA cable", connectors: [{ side: "through", modes: SATA }] },
  usb("hub", "usb-480m", "USB 480 Mb/s hub"),
  usb("hub", "usb-5g", "USB 5 Gb/s hub"),
  usb("hub", "usb-10g", "USB 10 Gb/s hub"),
  {
    kind: "enclosure",
    name: "USB 5 Gb/s enclosure for SATA",
    connectors: [
      { side: "up", modes: upTo("usb-5g") },
      { side: "down", modes: SATA },
    ],
  },
  {
    kind: "enclosure",
    name: "USB 10 Gb/s enclosure for NVMe",
    connectors: [
      { side: "up", modes: upTo("usb-10g") },
      { side: "down", modes: PCIE_3.slice(0, 2) },
    ],
  },
  {
    kind: "enclosure",
    name: "USB 20 Gb/s enclosure for NVMe",
    connectors: [
      { side: "up", modes: upTo("usb-20g") },
      { side: "down", modes: PCIE_3 },
    ],
  },
  { kind: "drive", name: "SATA drive", connectors: [{ side: "up", modes: SATA }] },
  { kind: "drive", name: "NVMe drive, PCIe 3.0 ×4", connectors: [{ side: "up", modes: PCIE_3 }] },
  {
    kind: "drive",
    name: "NVMe drive, PCIe 4.0 ×4",
    connectors: [{ side: "up", modes: [...PCIE_3, ...PCIE_4] }],
  },
  { kind: "drive", name: "USB stick, 5 Gb/s", connectors: [{ side: "up", modes: upTo("usb-5g") }] },
  {
    kind: "adapter",
    name: "PCIe ×1 card with a USB 10 Gb/s port",
    connectors: [
      { side: "up", modes: PCIE_3.slice(0, 1), shape: "slot" },
      { side: "down", modes: upTo("usb-10g") },
    ],
  },
  {
    kind: "adapter",
    name: "M.2 to PCIe slot adapter",
    connectors: [
      { side: "up", modes: [...PCIE_3, ...PCIE_4], shape: "slot" },
      { side: "down", modes: [...PCIE_3, ...PCIE_4], shape: "m2" },
    ],
  },
  {
    kind: "enclosure",
    name: "USB4 40 Gb/s enclosure for NVMe",
    connectors: [
      { side: "up", modes: [...upTo("usb-10g"), "usb4-20g-pcie", "usb4-40g-pcie"], shape: "usb-c" },
      { side: "down", modes: [...PCIE_3, ...PCIE_4], shape: "m2" },
    ],
  },
  {
    kind: "enclosure",
    name: "Box of several SATA drives, USB 10 Gb/s",
    connectors: [
      { side: "up", modes: upTo("usb-10g") },
      { side: "down", modes: SATA },
    ],
  },
  {
    kind: "host-port",
    name: "USB4 40 Gb/s port",
    connectors: [{ side: "down", modes: USB4, shape: "usb-c" }],
  },
  {
    kind: "cable",
    name: "USB4 40 Gb/s cable",
    connectors: [{ side: "through", modes: USB4, shape: "usb-c", farShape: "usb-c" }],
  },
  {
    kind: "host-port",
    name: "Ethernet 1 Gb/s port",
    connectors: [{ side: "down", modes: ETHERNET.slice(0, 2) }],
  },
  {
    kind: "host-port",
    name: "Ethernet 2.5 Gb/s port",
    connectors: [{ side: "down", modes: ETHERNET }],
  },
  { kind: "cable", name: "network cable", connectors: [{ side: "through", modes: ETHERNET }] },
  {
    kind: "hub",
    name: "network switch, 1 Gb/s",
    connectors: [
      { side: "up", modes: ETHERNET.slice(0, 2) },
      { side: "down", modes: ETHERNET.slice(0, 2) },
    ],
  },
  {
    kind: "network-box",
    name: "NAS, 1 Gb/s, SATA bays",
    connectors: [
      { side: "up", modes: ETHERNET.slice(0, 2) },
      { side: "down", modes: SATA },
    ],
  },
  {
    kind: "network-box",
    name: "Router with a USB 5 Gb/s socket",
    connectors: [
      { side: "up", modes: ETHERNET.slice(0, 2) },
      { side: "down", modes: upTo("usb-5g") },
    ],
  },
];

/** What most benches have, for a first rig where the shelf is empty yet. */
export const EVERYDAY: readonly Template[] = [
  "USB 10 Gb/s port",
  "SATA 6 Gb/s port",
  "USB 10 Gb/s cable",
  "USB 5 Gb/s hub",
  "USB 5 Gb/s enclosure for SATA",
  "USB 10 Gb/s enclosure for NVMe",
  "SATA drive",
  "NVMe drive, PCIe 3.0 ×4",
  "USB stick, 5 Gb/s",
].map((name) => TEMPLATES.find((template) => template.name === name)!);
