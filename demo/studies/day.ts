import type { DemoStudy } from "../study";

/** What a day's recordings take: caches that give out, copies that wait, file systems that cost. */
export const DAY: DemoStudy = {
  id: "demo-day",
  title: "What two terabytes a day really take",
  notes:
    "A drive whose cache gives out; a copy that waits for its source; a file system that halves the rate; a result above the ceiling, because memory answered.",
  demands: [
    {
      name: "Ice radar, all day",
      streams: [
        {
          what: "radar traces",
          direction: "write",
          width: 4096,
          height: 96,
          perSecond: 160,
          bits: 16,
          streams: 4,
        },
      ],
      copies: [
        {
          what: "a day’s 2 TB to the depot drive",
          direction: "write",
          gigabytes: 2000,
          minutes: 120,
        },
      ],
    },
  ],
  rigs: [
    {
      id: "demo-day-moraine",
      name: "Moraine",
      partIds: ["demo-port", "demo-cable-k5", "demo-serac", "demo-moraine"],
      fileSystem: "ext4",
    },
    {
      id: "demo-day-talus",
      name: "Talus",
      partIds: ["demo-port", "demo-cable-k5", "demo-serac", "demo-talus"],
      fileSystem: "ext4",
    },
    {
      id: "demo-day-user-space",
      name: "Moraine, NTFS in user space",
      partIds: ["demo-port", "demo-cable-k5", "demo-serac", "demo-moraine"],
      fileSystem: "ntfs, in user space",
    },
    {
      id: "demo-day-copy",
      name: "Radar card to Moraine",
      partIds: ["demo-port", "demo-cable-k5", "demo-serac", "demo-moraine"],
      otherIds: ["demo-port-fast", "demo-cable-l1", "demo-reader", "demo-card"],
      fileSystem: "ext4",
    },
    {
      id: "demo-day-memory",
      name: "Moraine · cable K2, as first measured",
      partIds: ["demo-port", "demo-cable-k2", "demo-serac", "demo-moraine"],
      fileSystem: "ext4",
    },
  ],
  faults: {
    "demo-day-user-space": [{ kind: "file-system", share: 0.48 }],
    "demo-day-memory": [{ kind: "memory" }],
  },
  runs: [
    {
      rigs: ["demo-day-moraine", "demo-day-talus", "demo-day-user-space"],
      drill: {
        name: "long-fill",
        directions: ["write"],
        seconds: 1800,
        size: 300 * 2 ** 30,
        repeats: 2,
      },
    },
    {
      rigs: ["demo-day-moraine", "demo-day-talus", "demo-day-user-space", "demo-day-memory"],
      drill: { name: "haul", directions: ["read"] },
    },
    {
      rigs: ["demo-day-moraine", "demo-day-talus", "demo-day-user-space"],
      drill: { name: "haul", directions: ["write"] },
    },
    {
      rigs: ["demo-day-talus"],
      drill: {
        name: "rest-and-return",
        directions: ["write"],
        fill: 100 * 2 ** 30,
        rests: [60, 300],
      },
    },
    {
      rigs: ["demo-day-copy"],
      drill: { name: "ferry", directions: ["write"] },
    },
  ],
};
