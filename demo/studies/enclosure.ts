import type { DemoStudy } from "../study";

/** Everything hangs on the fast port; what is between it and the drive differs. */
const rig = (name: string, title: string, ...between: string[]) => ({
  id: `demo-box-${name}`,
  name: title,
  partIds: ["port-fast", ...between].map((part) => `demo-${part}`),
  fileSystem: "ext4",
});

const RIGS = [
  rig("serac", "Serac", "cable-l1", "serac", "moraine"),
  rig("nunatak", "Nunatak", "cable-l1", "nunatak", "moraine"),
  rig("cornice", "Cornice", "cable-l1", "cornice", "moraine"),
  rig("till", "Till", "cable-l1", "till", "moraine"),
  rig("till-esker", "Till, Esker inside", "cable-l1", "till", "esker"),
  // One part exchanged at a time: the drive, the cable, the port. Till stays as slow as it was.
  rig("till-k5", "Till · cable K5", "cable-k5", "till", "moraine"),
  {
    ...rig("till-rear", "Till · rear port", "cable-l1", "till", "moraine"),
    partIds: ["demo-port", "demo-cable-l1", "demo-till", "demo-moraine"],
  },
  rig("k7", "Serac · cable K7", "cable-k7", "serac", "moraine"),
  rig("hub", "Serac behind the Kame hub", "cable-l1", "hub", "cable-k5", "serac", "moraine"),
];

/** Enclosures for one drive: which keep their word, and what stands in the way of those that seem not to. */
export const ENCLOSURE: DemoStudy = {
  id: "demo-enclosures",
  title: "Which enclosure keeps its word",
  notes:
    "The drive set free by a faster link; a claim kept in bursts only; one missed whatever is put inside; a cable that drops the link; a hub at its slow side.",
  rigs: RIGS,
  faults: { "demo-box-k7": [{ kind: "dropped", at: "demo-serac" }] },
  runs: [
    { rigs: RIGS.map(({ id }) => id), drill: { name: "haul", directions: ["read", "write"] } },
    {
      rigs: ["demo-box-serac", "demo-box-cornice", "demo-box-till"],
      drill: {
        name: "long-fill",
        directions: ["write"],
        seconds: 600,
        size: 300 * 2 ** 30,
        repeats: 2,
      },
    },
  ],
};
