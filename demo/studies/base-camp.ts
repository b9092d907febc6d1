import type { DemoStudy } from "../study";

const BAYS = [1, 2, 3, 4].map((bay) => `demo-drumlin-${bay}`);

/** At base camp: four disks on one uplink, an old adapter, a share over the network. */
export const BASE_CAMP: DemoStudy = {
  id: "demo-base-camp",
  title: "Base camp: the four-disk box, the old adapter, the depot",
  notes:
    "Drives that share one uplink, one of them in a bad bay; an adapter without queueing; a path over the network.",
  rigs: [
    {
      id: "demo-camp-box",
      name: "Ogive, all four",
      partIds: ["demo-port", "demo-cable-k5", "demo-ogive", BAYS[0]!],
      besideIds: BAYS.slice(1),
      fileSystem: "ext4",
    },
    ...BAYS.map((drive, i) => ({
      id: `demo-camp-bay-${i + 1}`,
      name: `Ogive, bay ${i + 1}`,
      partIds: ["demo-port", "demo-cable-k5", "demo-ogive", drive],
      bay: `${i + 1}`,
      fileSystem: "ext4",
    })),
    {
      id: "demo-camp-moved",
      name: "Ogive, bay 4, Drumlin 3 moved there",
      partIds: ["demo-port", "demo-cable-k5", "demo-ogive", BAYS[2]!],
      bay: "4",
      fileSystem: "ext4",
    },
    {
      id: "demo-camp-col",
      name: "Varve · Col, no queueing",
      partIds: ["demo-port", "demo-cable-k5", "demo-col", "demo-varve"],
      transport: "usb-unqueued",
      fileSystem: "ext4",
    },
    {
      id: "demo-camp-corrie",
      name: "Varve · Corrie",
      partIds: ["demo-port", "demo-cable-k5", "demo-corrie", "demo-varve"],
      transport: "usb-queued",
      fileSystem: "ext4",
    },
    {
      id: "demo-camp-drumlin-3",
      name: "Drumlin 3 · Corrie",
      partIds: ["demo-port", "demo-cable-k5", "demo-corrie", BAYS[2]!],
      fileSystem: "ext4",
    },
    {
      id: "demo-camp-depot",
      name: "Depot over the network",
      partIds: ["demo-port-network", "demo-cable-e3", "demo-depot", "demo-varve"],
      mountedAs: "nfs4",
    },
  ],
  faults: {
    "demo-camp-box": [{ kind: "bad-bay", at: BAYS[2]! }],
    "demo-camp-bay-3": [{ kind: "bad-bay", at: BAYS[2]! }],
  },
  runs: [
    {
      rigs: [
        ...[1, 2, 3, 4].map((bay) => `demo-camp-bay-${bay}`),
        "demo-camp-moved",
        "demo-camp-drumlin-3",
      ],
      drill: { name: "haul", directions: ["read"] },
    },
    {
      rigs: ["demo-camp-col", "demo-camp-corrie", "demo-camp-depot"],
      drill: { name: "haul", directions: ["read", "write"] },
    },
    {
      rigs: ["demo-camp-col", "demo-camp-corrie"],
      drill: { name: "depth-ladder", directions: ["read"] },
    },
    {
      rigs: ["demo-camp-col", "demo-camp-corrie", "demo-camp-depot"],
      drill: { name: "scatter", directions: ["read"] },
    },
    {
      rigs: ["demo-camp-box"],
      drill: { name: "convoy", directions: ["read"], everySeconds: 5, repeats: 3 },
    },
  ],
};
