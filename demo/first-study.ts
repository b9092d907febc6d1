import type { PartInput } from "@/core/chain/part";
import type { RigInput } from "@/core/chain/rig";
import type { StudyDraft } from "@/core/study/study";

/**
 * The demo scenario, first study. A glaciology field team records ice radar and must choose what to
 * carry. Team, makers and parts are invented; every run is simulated.
 */

const USB_TO_20G = ["usb-480m", "usb-5g", "usb-10g", "usb-20g"];

export const DEMO_PARTS: Record<string, PartInput> = {
  "demo-port": {
    kind: "host-port",
    name: "Icefall rear port",
    maker: "Icefall Field Computing",
    model: "Icefall 14",
    connectors: [{ side: "down", modes: USB_TO_20G }],
  },
  "demo-cable-k5": {
    kind: "cable",
    name: "K5",
    maker: "Tarn Cable",
    model: "Braid 0.5 m",
    tag: "blue tape",
    connectors: [{ side: "through", modes: USB_TO_20G }],
    price: { amount: 24, currency: "EUR" },
  },
  "demo-cable-k2": {
    kind: "cable",
    name: "K2",
    maker: "Tarn Cable",
    model: "Braid 2 m",
    tag: "no tape",
    notes: "Came with a camera; long and thin.",
    connectors: [{ side: "through", modes: ["usb-480m", "usb-5g"] }],
    price: { amount: 9, currency: "EUR" },
  },
  "demo-serac": {
    kind: "enclosure",
    name: "Serac",
    maker: "Bergschrund Works",
    model: "Serac M",
    serial: "BSW-SER-2206",
    connectors: [
      { side: "up", modes: ["usb-480m", "usb-5g", "usb-10g"] },
      { side: "down", modes: ["pcie-3.0-x1", "pcie-3.0-x2"] },
    ],
    claims: [
      { direction: "read", kind: "peak", mbps: 1000 },
      { direction: "write", kind: "peak", mbps: 1000 },
    ],
    price: { amount: 59, currency: "EUR" },
  },
  "demo-moraine": {
    kind: "drive",
    name: "Moraine 1T",
    maker: "Firn Storage",
    model: "Moraine 1T",
    serial: "FRN-MOR-0417",
    connectors: [
      {
        side: "up",
        modes: [
          "pcie-3.0-x1",
          "pcie-3.0-x2",
          "pcie-3.0-x4",
          "pcie-4.0-x1",
          "pcie-4.0-x2",
          "pcie-4.0-x4",
        ],
      },
    ],
    limits: { read: 6870, write: 5200 },
    capacityBytes: 1e12,
    price: { amount: 89, currency: "EUR" },
  },
};

export const DEMO_STUDY: StudyDraft & { id: string } = {
  id: "demo-first",
  title: "Which cable to carry for the Moraine drive",
  tolerance: 0.05,
  smallestEffect: 0.03,
};

export const DEMO_RIGS: (RigInput & { id: string })[] = [
  {
    id: "demo-rig-k5",
    name: "Laptop rear · cable K5",
    partIds: ["demo-port", "demo-cable-k5", "demo-serac", "demo-moraine"],
    transport: "usb-queued",
    fileSystem: "ext4",
  },
  {
    id: "demo-rig-k2",
    name: "Laptop rear · cable K2",
    partIds: ["demo-port", "demo-cable-k2", "demo-serac", "demo-moraine"],
    transport: "usb-queued",
    fileSystem: "ext4",
  },
];

/** Seed of the first simulated run; the others follow from it. */
export const DEMO_SEED = 1912;
