import type { LinkMode } from "../mode";

/** What differs between the SD buses; all carry 512 B blocks for card commands. */
interface Bus {
  id: string;
  name: string;
  generation: "UHS-I" | "UHS-II";
  year: number;
  /** Transfers a second on one line, 10^9/s. */
  gigatransfers: number;
  lanes: number;
  lineCode: LinkMode["lineCode"];
  duplex: LinkMode["duplex"];
}

/** UHS-I has four data lines with a CRC on each; UHS-II sends packets on serial lanes. */
const FRAMING = {
  "UHS-I": {
    signalling: "SD Physical Layer 3.01, UHS-I",
    what: "512 B block on four lines",
    overhead: [
      { what: "start and end bits of each line", bytes: 1 },
      { what: "CRC of each line", bytes: 8 },
    ],
    source: "SD Physical Layer 3.01, bus protocol",
  },
  "UHS-II": {
    signalling: "SD UHS-II Addendum 1.0, physical layer",
    what: "512 B of payload in a data packet",
    overhead: [
      { what: "start and end of packet", bytes: 4 },
      { what: "header", bytes: 4 },
      { what: "CRC", bytes: 2 },
    ],
    source: "SD UHS-II Addendum 1.0, link layer",
  },
};

const uhsI = {
  generation: "UHS-I",
  year: 2010,
  lanes: 4,
  lineCode: "none",
  duplex: "half",
} as const;
const uhsII = {
  generation: "UHS-II",
  year: 2011,
  gigatransfers: 1.56,
  lineCode: "8b/10b",
} as const;

const BUSES: Bus[] = [
  { ...uhsI, id: "sd-ddr50", name: "SD DDR50", gigatransfers: 0.1 },
  { ...uhsI, id: "sd-sdr50", name: "SD SDR50", gigatransfers: 0.1 },
  { ...uhsI, id: "sd-sdr104", name: "SD SDR104", gigatransfers: 0.208 },
  { ...uhsII, id: "sd-uhs2-full", name: "SD UHS-II full duplex", lanes: 1, duplex: "full" },
  { ...uhsII, id: "sd-uhs2-half", name: "SD UHS-II half duplex", lanes: 2, duplex: "half" },
];

export const SD_MODES: LinkMode[] = BUSES.map(({ generation, ...bus }) => {
  const { signalling, ...packet } = FRAMING[generation];
  return {
    ...bus,
    formal: `${bus.name}, ${generation}`,
    short: bus.name,
    family: "sd",
    signallingSource: signalling,
    shared: false,
    framing: [{ kind: "packet", payload: 512, basis: "standard", ...packet }],
    assumptions: {},
    transports: [
      {
        id: "sd-card",
        read: [0.8, 0.98],
        write: [0.4, 0.95],
        source: "cards faster than the bus; writing depends on the card",
      },
    ],
  };
});
