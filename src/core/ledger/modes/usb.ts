import type { LinkMode } from "../mode";

/**
 * USB as storage uses it: bulk transfers at the largest packet.
 *
 * Bands are the trade's experience with good bridges; the unqueued protocol waits for a status
 * after every command, which costs more the faster the link is.
 */

const FIVE_GBPS_SKIPS = {
  kind: "periodic" as const,
  what: "skip ordered sets: 2 symbols in every 354",
  lost: 2,
  outOf: 354,
  source: "USB 3.2, 6.4.3 (skip ordered sets, Gen 1)",
  basis: "standard" as const,
};

const TEN_GBPS_SKIPS = {
  kind: "periodic" as const,
  what: "skip ordered sets: one block after every 40",
  lost: 1,
  outOf: 41,
  source: "USB 3.2, 6.4.3 (skip ordered sets, Gen 2)",
  basis: "standard" as const,
};

/** Acknowledging once a burst is the kindest reading of the standard, so the ceiling stays hard. */
const CREDITS = {
  what: "one LGOOD and one LCRD (8 B each) for the acknowledgement of a burst of 16 packets",
  bytes: 1,
};

const GEN1_PACKETS = {
  kind: "packet" as const,
  what: "1024 B payload in a data packet",
  payload: 1024,
  overhead: [
    { what: "header packet: framing 4, header 12, CRC-16 2, link control word 2", bytes: 20 },
    { what: "payload framing 4 + 4, CRC-32 4", bytes: 12 },
    CREDITS,
  ],
  source: "USB 3.2, 7.2.1 and 7.2.2 (packets, link commands)",
  basis: "standard" as const,
};

const GEN2_PACKETS = {
  ...GEN1_PACKETS,
  overhead: [...GEN1_PACKETS.overhead, { what: "replica of the length field", bytes: 4 }],
  source: "USB 3.2, 7.2.1 and 7.2.2 (packets, link commands)",
};

/** What all modes of USB 2 have in common: one pair of wires for both directions. */
const SHARED_BUS = {
  family: "usb",
  signallingSource: "USB 2.0, 7.1.11",
  lanes: 1,
  lineCode: "nrzi",
  duplex: "half",
  shared: true,
  assumptions: {},
} as const;

/** What all modes of USB 3 have in common: a pair for each direction, on each lane. */
const POINT_TO_POINT = {
  family: "usb",
  signallingSource: "USB 3.2, 6.1",
  duplex: "full",
  shared: false,
  assumptions: {},
} as const;

const GEN_1 = {
  ...POINT_TO_POINT,
  gigatransfers: 5,
  lineCode: "8b/10b",
  framing: [FIVE_GBPS_SKIPS, GEN1_PACKETS],
} satisfies Partial<LinkMode>;

const GEN_2 = {
  ...POINT_TO_POINT,
  gigatransfers: 10,
  lineCode: "128b/132b",
  framing: [TEN_GBPS_SKIPS, GEN2_PACKETS],
} satisfies Partial<LinkMode>;

/** The unqueued protocol on the faster links: how fast a bridge turns a command round decides. */
const unqueued = (
  read: [number, number],
  write: [number, number],
): LinkMode["transports"][number] => ({
  id: "usb-unqueued",
  read,
  write,
  source: "the wait after every command dominates",
});

export const USB_MODES: LinkMode[] = [
  {
    id: "usb-12m",
    name: "USB 12 Mb/s",
    formal: "USB 1.1 full speed",
    short: "12 Mb/s",
    ...SHARED_BUS,
    year: 1998,
    gigatransfers: 0.012,
    framing: [
      {
        kind: "slots",
        what: "at most 19 bulk packets of 64 B in a frame of 1 ms",
        packets: 19,
        payload: 64,
        periodSeconds: 1e-3,
        source: "USB 2.0, 5.8.4, table 5-9",
        basis: "standard",
      },
    ],
    transports: [
      {
        id: "usb-unqueued",
        read: [0.65, 0.95],
        write: [0.55, 0.95],
        source: "0.8 to 1.15 MB/s reading",
      },
    ],
  },
  {
    id: "usb-480m",
    name: "USB 480 Mb/s",
    formal: "USB 2.0 high speed",
    short: "480 Mb/s",
    ...SHARED_BUS,
    year: 2000,
    gigatransfers: 0.48,
    framing: [
      {
        kind: "slots",
        what: "at most 13 bulk packets of 512 B in a micro-frame of 125 µs",
        packets: 13,
        payload: 512,
        periodSeconds: 125e-6,
        source: "USB 2.0, 5.8.4, table 5-10",
        basis: "standard",
      },
    ],
    transports: [
      {
        id: "usb-unqueued",
        read: [0.62, 0.85],
        write: [0.5, 0.83],
        source: "good bridges read at 33 to 45 MB/s and write at 27 to 44 MB/s",
      },
      {
        id: "usb-queued",
        read: [0.62, 0.87],
        write: [0.5, 0.85],
        source: "queueing gains little at this speed",
      },
    ],
  },
  {
    id: "usb-5g",
    name: "USB 5 Gb/s",
    formal: "USB 3.2 Gen 1x1",
    short: "5 Gb/s",
    ...GEN_1,
    year: 2008,
    lanes: 1,
    transports: [
      {
        id: "usb-queued",
        read: [0.84, 0.975],
        write: [0.8, 0.97],
        source: "good bridges read at 405 to 470 MB/s and write at 385 to 467 MB/s",
      },
      {
        id: "usb-unqueued",
        read: [0.45, 0.93],
        write: [0.4, 0.9],
        source: "215 to 450 MB/s reading, by how fast the bridge turns a command round",
      },
    ],
  },
  {
    id: "usb-10g-two-lane",
    name: "USB 10 Gb/s, two lanes",
    formal: "USB 3.2 Gen 1x2",
    short: "10 Gb/s (two lanes of 5)",
    ...GEN_1,
    year: 2017,
    lanes: 2,
    transports: [
      {
        id: "usb-queued",
        read: [0.8, 0.97],
        write: [0.76, 0.97],
        source: "770 to 935 MB/s reading; seldom seen",
      },
    ],
  },
  {
    id: "usb-10g",
    name: "USB 10 Gb/s",
    formal: "USB 3.2 Gen 2x1",
    short: "10 Gb/s",
    ...GEN_2,
    year: 2013,
    lanes: 1,
    transports: [
      {
        id: "usb-queued",
        read: [0.82, 0.965],
        write: [0.8, 0.965],
        source: "good bridges read at 935 to 1100 MB/s and write at 915 to 1100 MB/s",
      },
      unqueued([0.3, 0.75], [0.28, 0.72]),
    ],
  },
  {
    id: "usb-20g",
    name: "USB 20 Gb/s",
    formal: "USB 3.2 Gen 2x2",
    short: "20 Gb/s",
    ...GEN_2,
    year: 2017,
    lanes: 2,
    transports: [
      {
        id: "usb-queued",
        read: [0.79, 0.945],
        write: [0.76, 0.945],
        source: "good bridges read at 1800 to 2155 MB/s and write at 1735 to 2155 MB/s",
      },
      unqueued([0.2, 0.55], [0.18, 0.5]),
    ],
  },
];
