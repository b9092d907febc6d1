import type { DemoStudy } from "../study";

/** The sample recordings (docs/sample-recordings.md). */
const COMPILER = "sample-20261201T100000001";
const DATABASE = "sample-20261201T100000002";
const PICTURES = "sample-20261201T100000003";

const DONE_ON = ["demo-work-k2", "demo-work-k5", "demo-work-nunatak"];

/** Which link the work itself needs: recorded work done again, and a cache by what is free of its drive. */
export const WORK: DemoStudy = {
  id: "demo-work",
  title: "Which link the work in the tent needs",
  notes:
    "Recorded work done again through three links, and foretold for a fourth; a cache that shrinks as its drive fills.",
  rigs: [
    {
      id: "demo-work-k2",
      name: "Moraine · Serac, cable K2",
      partIds: ["demo-port", "demo-cable-k2", "demo-serac", "demo-moraine"],
      transport: "usb-queued",
      fileSystem: "ext4",
    },
    {
      id: "demo-work-k5",
      name: "Moraine · Serac, cable K5",
      partIds: ["demo-port", "demo-cable-k5", "demo-serac", "demo-moraine"],
      transport: "usb-queued",
      fileSystem: "ext4",
    },
    {
      id: "demo-work-nunatak",
      name: "Moraine · Nunatak",
      partIds: ["demo-port-fast", "demo-cable-l1", "demo-nunatak", "demo-moraine"],
      fileSystem: "ext4",
    },
    {
      id: "demo-work-varve",
      name: "Varve · Corrie",
      partIds: ["demo-port", "demo-cable-k5", "demo-corrie", "demo-varve"],
      transport: "usb-queued",
      fileSystem: "ext4",
    },
    {
      id: "demo-work-talus",
      name: "Talus · Serac",
      partIds: ["demo-port", "demo-cable-k5", "demo-serac", "demo-talus"],
      transport: "usb-queued",
      fileSystem: "ext4",
    },
  ],
  runs: [
    ...[COMPILER, DATABASE, PICTURES].map((recording) => ({
      rigs: DONE_ON,
      drill: { name: "encore", directions: ["mixed" as const] },
      recording,
    })),
    {
      rigs: [...DONE_ON, "demo-work-varve"],
      drill: { name: "stride-ladder", directions: ["read", "write"] },
    },
    ...[0, 0.25, 0.5, 0.75, 0.9].map((filled) => ({
      rigs: ["demo-work-talus"],
      drill: { name: "long-fill", directions: ["write" as const], seconds: 300 },
      filled,
    })),
  ],
};
