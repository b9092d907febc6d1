import type { LinkMode } from "../mode";

/**
 * PCI Express: memory writes (reading a drive) and completions (writing to it) with 3-double-word
 * headers. Acknowledgements and credits travel seldom enough to be left out of a hard ceiling.
 */

interface Generation {
  version: string;
  year: number;
  gigatransfers: number;
  lineCode: LinkMode["lineCode"];
  skips: { what: string; lost: number; outOf: number; source: string };
  band: [number, number];
}

const GENERATIONS: Generation[] = [
  {
    version: "3.0",
    year: 2010,
    gigatransfers: 8,
    lineCode: "128b/130b",
    skips: {
      what: "skip ordered sets: one block in every 375",
      lost: 1,
      outOf: 376,
      source: "PCI Express Base 3.0, 4.2.7.3",
    },
    band: [0.84, 0.965],
  },
  {
    version: "4.0",
    year: 2017,
    gigatransfers: 16,
    lineCode: "128b/130b",
    skips: {
      what: "skip ordered sets: one block in every 375",
      lost: 1,
      outOf: 376,
      source: "PCI Express Base 4.0, 4.2.7.3",
    },
    band: [0.84, 0.985],
  },
];

const WIDTHS = [1, 2, 4];

function pcie(generation: Generation, lanes: number): LinkMode {
  const { version, skips } = generation;
  return {
    id: `pcie-${version}-x${lanes}`,
    name: `PCIe ${version} ×${lanes}`,
    formal: `PCI Express ${version}, ${lanes} ${lanes === 1 ? "lane" : "lanes"}`,
    short: `PCIe ${version} ×${lanes}`,
    family: "pcie",
    year: generation.year,
    gigatransfers: generation.gigatransfers,
    signallingSource: `PCI Express Base ${version}, 4.3`,
    lanes,
    lineCode: generation.lineCode,
    duplex: "full",
    shared: false,
    framing: [
      { kind: "periodic", basis: "standard", ...skips },
      {
        kind: "packet",
        what: "payload in a transaction packet",
        payload: { assumption: "payload", less: 0 },
        overhead: [
          { what: "start token with sequence number", bytes: 4 },
          { what: "header of 3 double words", bytes: 12 },
          { what: "link CRC", bytes: 4 },
        ],
        source: `PCI Express Base ${version}, 2.2 and 4.2.2.3`,
        basis: "assumption",
      },
    ],
    assumptions: {
      payload: {
        label: "largest payload of a packet",
        unit: "B",
        options: [128, 256, 512],
        standard: 512,
        note: "The host and the drive agree on it; many hosts stop at 256. 512 keeps the ceiling hard.",
      },
    },
    transports: [
      {
        id: "nvme",
        read: generation.band,
        write: [generation.band[0] - 0.04, generation.band[1]],
        source: "drives faster than the link, at depth; hosts with 256 B payloads",
      },
      {
        id: "ahci",
        read: [0.7, 0.9],
        write: [0.66, 0.9],
        source: "drives that speak AHCI over PCIe",
      },
    ],
  };
}

export const PCIE_MODES: LinkMode[] = GENERATIONS.flatMap((generation) =>
  WIDTHS.map((lanes) => pcie(generation, lanes)),
);
