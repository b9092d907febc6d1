import { StudyFile, type StudyFileInput } from "../exchange/study-file";

const USB = ["usb-480m", "usb-5g", "usb-10g"];
const SLOT = ["pcie-3.0-x2"];

/** A small study's file: two enclosures for one drive, on the same port and cable, of which one is slow. */
export const twoBoxes = (change: Partial<StudyFileInput> = {}): StudyFile =>
  StudyFile.parse({
    format: "nerrit-study",
    version: 1,
    title: "Does it deliver?",
    parts: [
      { id: "p", kind: "host-port", name: "Port", connectors: [{ side: "down", modes: USB }] },
      { id: "k", kind: "cable", name: "K", connectors: [{ side: "through", modes: USB }] },
      ...["own", "other"].map((id) => ({
        id,
        kind: "enclosure" as const,
        name: `Box ${id}`,
        connectors: [
          { side: "up" as const, modes: USB },
          { side: "down" as const, modes: SLOT },
        ],
        claims: [{ kind: "peak" as const, direction: "read" as const, mbps: 950 }],
        price: { amount: 40, currency: "EUR" },
      })),
      { id: "d", kind: "drive", name: "Disk", connectors: [{ side: "up", modes: SLOT }] },
    ],
    rigs: [
      { id: "r", name: "own box", partIds: ["p", "k", "own", "d"] },
      { id: "s", name: "other box", partIds: ["p", "k", "other", "d"] },
    ],
    runs: [
      { rigId: "r", drill: { name: "haul", direction: "read" }, ratesMBps: [601.5, 604, 603] },
      { rigId: "s", drill: { name: "haul", direction: "read" }, ratesMBps: [1001, 1004, 1003] },
    ],
    ...change,
  } satisfies StudyFileInput);
