import type { LinkMode } from "../mode";

const FRAMING: LinkMode["framing"] = [
  {
    kind: "periodic",
    what: "ALIGN primitives: 2 double words in every 256",
    lost: 2,
    outOf: 256,
    source: "Serial ATA 3.1, link layer (clock skew management)",
    basis: "standard",
  },
  {
    kind: "packet",
    what: "payload in a data frame",
    payload: { assumption: "frame", less: 0 },
    overhead: [
      { what: "SOF, frame header, CRC, EOF", bytes: 16 },
      { what: "X_RDY, WTRM and SYNC around the frame, one of each at best", bytes: 12 },
    ],
    source: "Serial ATA 3.1, link layer (frames) and transport layer (Data FIS)",
    basis: "standard",
  },
];

function sata(id: string, rate: number, year: number, read: [number, number]): LinkMode {
  return {
    id,
    name: `SATA ${rate} Gb/s`,
    formal: `Serial ATA, ${rate} Gb/s`,
    short: `SATA ${rate} Gb/s`,
    family: "sata",
    year,
    gigatransfers: rate,
    signallingSource: "Serial ATA 3.1, physical layer",
    lanes: 1,
    lineCode: "8b/10b",
    duplex: "half",
    shared: false,
    framing: FRAMING,
    assumptions: {
      frame: {
        label: "largest data frame",
        unit: "B",
        options: [8192, 4096, 2048],
        standard: 8192,
        note: "A frame carries at most 8192 B; some bridges and drives send smaller ones.",
      },
    },
    transports: [
      {
        id: "ahci",
        read,
        write: [read[0] - 0.05, read[1]],
        source: "drives faster than the link settle here with command queueing",
      },
      {
        id: "legacy-ata",
        read: [0.5, 0.9],
        write: [0.4, 0.88],
        source: "controller in its IDE mode: one command at a time",
      },
    ],
  };
}

export const SATA_MODES: LinkMode[] = [
  sata("sata-1.5g", 1.5, 2003, [0.85, 0.985]),
  sata("sata-3g", 3, 2004, [0.87, 0.985]),
  sata("sata-6g", 6, 2009, [0.86, 0.965]),
];
