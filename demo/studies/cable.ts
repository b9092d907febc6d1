import type { DemoStudy } from "../study";

/** A clean rig at its link's limit, and the same behind a cable that carries one generation less. */
export const CABLE: DemoStudy = {
  id: "demo-first",
  title: "Which cable to carry for the Moraine drive",
  notes: "A clean rig at its link’s limit, and a cable that halves it.",
  rigs: [
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
  ],
  runs: [
    {
      rigs: ["demo-rig-k5", "demo-rig-k2"],
      drill: { name: "haul", directions: ["read", "write"] },
    },
  ],
};
