import type { LinkMode } from "../mode";

interface Rate {
  gigatransfers: number;
  name: string;
  lineCode: LinkMode["lineCode"];
  year: number;
}

const RATES: Rate[] = [
  { gigatransfers: 3, name: "3", lineCode: "8b/10b", year: 2004 },
  { gigatransfers: 6, name: "6", lineCode: "8b/10b", year: 2009 },
  { gigatransfers: 12, name: "12", lineCode: "8b/10b", year: 2013 },
  { gigatransfers: 22.5, name: "22.5", lineCode: "128b/150b", year: 2017 },
];

/** Serial attached SCSI, one phy: 1024 B of data in an SSP frame, both directions at once. */
export const SAS_MODES: LinkMode[] = RATES.map(({ gigatransfers, name, lineCode, year }) => ({
  id: `sas-${name}g`,
  name: `SAS ${name} Gb/s`,
  formal: `Serial Attached SCSI, ${name} Gb/s`,
  short: `SAS ${name} Gb/s`,
  family: "sas",
  year,
  gigatransfers,
  signallingSource: "SAS-4, physical layer",
  lanes: 1,
  lineCode,
  duplex: "full",
  shared: false,
  framing: [
    {
      kind: "packet",
      what: "1024 B payload in an SSP data frame",
      payload: 1024,
      overhead: [
        { what: "SOF and EOF", bytes: 8 },
        { what: "frame header", bytes: 24 },
        { what: "CRC", bytes: 4 },
      ],
      source: "SPL-4, SSP frame format",
      basis: "standard",
    },
    {
      kind: "periodic",
      what: "physical link rate tolerance: one deletable primitive in every 2048 double words",
      lost: 1,
      outOf: 2048,
      source: "SPL-4, physical link rate tolerance management",
      basis: "standard",
    },
  ],
  assumptions: {},
  transports: [
    {
      id: "scsi",
      read: [0.85, 0.98],
      write: [0.82, 0.98],
      source: "drives faster than the link settle here with command queueing",
    },
  ],
}));
