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
  framing: (version: string) => LinkMode["framing"];
  band: [number, number];
}

/** What a generation without fixed units loses to clock tolerance, and how it marks a packet's start. */
interface PacketStream {
  skips: { what: string; lost: number; outOf: number };
  mark: string;
  framedBy: string;
}

/** Packets of any length in a stream: their framing, header and check come with each. */
const packetFraming =
  ({ skips, mark, framedBy }: PacketStream): Generation["framing"] =>
  (version) => [
    {
      kind: "periodic",
      ...skips,
      source: `PCI Express Base ${version}, clock tolerance compensation`,
      basis: "standard",
    },
    {
      kind: "packet",
      what: "payload in a transaction packet",
      payload: { assumption: "payload", less: 0 },
      overhead: [
        { what: mark, bytes: 4 },
        { what: "header of 3 double words", bytes: 12 },
        { what: "link CRC", bytes: 4 },
      ],
      source: `PCI Express Base ${version}, 2.2 (packet format) and ${framedBy}`,
      basis: "assumption",
    },
  ];

/** 8b/10b generations: a symbol to start and one to end each packet. */
const symbolFraming = packetFraming({
  skips: { what: "skip ordered sets: 4 symbols in every 1538 at least", lost: 4, outOf: 1542 },
  mark: "start and end symbols, sequence number",
  framedBy: "chapter 3 (sequence number, link CRC)",
});

/** 128b/130b generations: a token starts each packet. */
const blockFraming = packetFraming({
  skips: { what: "skip ordered sets: one block in every 375", lost: 1, outOf: 376 },
  mark: "start token with sequence number",
  framedBy: "framing of data streams",
});

/** Generation 6: fixed units of 256 B, of which 236 carry packets. */
const flitFraming: Generation["framing"] = (version) => [
  {
    kind: "packet",
    what: "236 B of packets in a unit of 256 B",
    payload: 236,
    overhead: [
      { what: "link layer", bytes: 6 },
      { what: "CRC", bytes: 8 },
      { what: "error correction", bytes: 6 },
    ],
    source: `PCI Express Base ${version}, flit mode`,
    basis: "standard",
  },
  {
    kind: "packet",
    what: "payload in a transaction packet",
    payload: { assumption: "payload", less: 0 },
    overhead: [{ what: "header of 3 double words", bytes: 12 }],
    source: `PCI Express Base ${version}, 2.2 (packet format)`,
    basis: "assumption",
  },
];

const GENERATIONS: Generation[] = [
  {
    version: "1.0",
    year: 2003,
    gigatransfers: 2.5,
    lineCode: "8b/10b",
    framing: symbolFraming,
    band: [0.78, 0.95],
  },
  {
    version: "2.0",
    year: 2007,
    gigatransfers: 5,
    lineCode: "8b/10b",
    framing: symbolFraming,
    band: [0.78, 0.95],
  },
  {
    version: "3.0",
    year: 2010,
    gigatransfers: 8,
    lineCode: "128b/130b",
    framing: blockFraming,
    band: [0.84, 0.965],
  },
  {
    version: "4.0",
    year: 2017,
    gigatransfers: 16,
    lineCode: "128b/130b",
    framing: blockFraming,
    band: [0.84, 0.985],
  },
  {
    version: "5.0",
    year: 2019,
    gigatransfers: 32,
    lineCode: "128b/130b",
    framing: blockFraming,
    band: [0.82, 0.985],
  },
  {
    version: "6.0",
    year: 2022,
    gigatransfers: 64,
    lineCode: "none",
    framing: flitFraming,
    band: [0.8, 0.98],
  },
];

const WIDTHS = [1, 2, 4, 8, 16];

function pcie(generation: Generation, lanes: number): LinkMode {
  const { version } = generation;
  return {
    id: `pcie-${version}-x${lanes}`,
    name: `PCIe ${version} ×${lanes}`,
    formal: `PCI Express ${version}, ${lanes} ${lanes === 1 ? "lane" : "lanes"}`,
    short: `PCIe ${version} ×${lanes}`,
    family: "pcie",
    year: generation.year,
    gigatransfers: generation.gigatransfers,
    signallingSource: `PCI Express Base ${version}, electrical sub-block`,
    lanes,
    lineCode: generation.lineCode,
    duplex: "full",
    shared: false,
    framing: generation.framing(version),
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

/** Cards and plugs that are PCI Express by another name. */
export const CARD_MODES: LinkMode[] = [
  alias("expresscard", "ExpressCard", "pcie-1.0-x1", 2003),
  alias("sd-express-3.0-x1", "SD Express, PCIe 3.0 ×1", "pcie-3.0-x1", 2018),
  alias("sd-express-4.0-x2", "SD Express, PCIe 4.0 ×2", "pcie-4.0-x2", 2020),
  alias("cfexpress-a", "CFexpress A", "pcie-3.0-x1", 2019),
  alias("cfexpress-b", "CFexpress B", "pcie-3.0-x2", 2017),
  alias("cfexpress-4.0-a", "CFexpress 4.0 A", "pcie-4.0-x1", 2023),
  alias("cfexpress-4.0-b", "CFexpress 4.0 B", "pcie-4.0-x2", 2023),
];

function alias(id: string, name: string, pcieId: string, year: number): LinkMode {
  const mode = PCIE_MODES.find((candidate) => candidate.id === pcieId)!;
  return {
    ...mode,
    id,
    name,
    formal: `${name} (${mode.formal})`,
    short: name,
    family: "card",
    year,
  };
}
