import type { LinkMode } from "../mode";

interface Bus {
  id: string;
  name: string;
  /** Transfers a second on one line, 10^9/s. */
  gigatransfers: number;
  year: number;
}

/** UHS-I: four data lines; each 512 B block has a start bit, a 16-bit CRC and an end bit on each. */
const UHS_I: Bus[] = [
  { id: "sd-ddr50", name: "SD DDR50", gigatransfers: 0.1, year: 2010 },
  { id: "sd-sdr50", name: "SD SDR50", gigatransfers: 0.1, year: 2010 },
  { id: "sd-sdr104", name: "SD SDR104", gigatransfers: 0.208, year: 2010 },
];

const uhsI = ({ id, name, gigatransfers, year }: Bus): LinkMode => ({
  id,
  name,
  formal: `${name}, UHS-I`,
  short: name,
  family: "sd",
  year,
  gigatransfers,
  signallingSource: "SD Physical Layer 3.01, 3.9",
  lanes: 4,
  lineCode: "none",
  duplex: "half",
  shared: false,
  framing: [
    {
      kind: "packet",
      what: "512 B block on four lines",
      payload: 512,
      overhead: [
        { what: "start and end bits of each line", bytes: 1 },
        { what: "CRC of each line", bytes: 8 },
      ],
      source: "SD Physical Layer 3.01, 3.6 and 4.12",
      basis: "standard",
    },
  ],
  assumptions: {},
  transports: [
    {
      id: "sd-card",
      read: [0.8, 0.98],
      write: [0.4, 0.95],
      source: "cards faster than the bus; writing depends on the card",
    },
  ],
});

const uhsII = (id: string, name: string, lanes: number, duplex: "full" | "half"): LinkMode => ({
  id,
  name,
  formal: `${name}, UHS-II`,
  short: name,
  family: "sd",
  year: 2011,
  gigatransfers: 1.56,
  signallingSource: "SD UHS-II Addendum 1.0, 4",
  lanes,
  lineCode: "8b/10b",
  duplex,
  shared: false,
  framing: [
    {
      kind: "packet",
      what: "512 B of payload in a data packet",
      payload: 512,
      overhead: [
        { what: "start and end of packet", bytes: 4 },
        { what: "header", bytes: 4 },
        { what: "CRC", bytes: 2 },
      ],
      source: "SD UHS-II Addendum 1.0, 6",
      basis: "standard",
    },
  ],
  assumptions: {},
  transports: [
    {
      id: "sd-card",
      read: [0.8, 0.98],
      write: [0.4, 0.95],
      source: "cards faster than the bus; writing depends on the card",
    },
  ],
});

export const SD_MODES: LinkMode[] = [
  ...UHS_I.map(uhsI),
  uhsII("sd-uhs2-full", "SD UHS-II full duplex", 1, "full"),
  uhsII("sd-uhs2-half", "SD UHS-II half duplex", 2, "half"),
];
