import type { LinkMode } from "../mode";

/** Base rate of IEEE 1394: S100 is 98.304 Mb/s. */
const S100 = 0.098304;

/**
 * IEEE 1394 with asynchronous block writes at the largest payload of the speed. Arbitration gaps
 * depend on the number of hops; none is counted, so that the ceiling stays hard.
 */
function ieee1394(
  speed: number,
  payload: number,
  year: number,
  lineCode: LinkMode["lineCode"],
  read: [number, number],
): LinkMode {
  const coded = lineCode === "8b/10b" ? 10 / 8 : 1;
  return {
    id: `ieee-1394-s${speed}`,
    name: `IEEE 1394 S${speed}`,
    formal: `IEEE 1394, S${speed}`,
    short: `IEEE 1394 S${speed}`,
    family: "ieee-1394",
    year,
    gigatransfers: (S100 * speed * coded) / 100,
    signallingSource:
      lineCode === "none" ? "IEEE 1394-1995, cable physical layer" : "IEEE 1394b-2002, beta mode",
    lanes: 1,
    lineCode,
    duplex: "half",
    shared: true,
    framing: [
      {
        kind: "packet",
        what: "payload in an asynchronous block packet",
        payload: { assumption: "packet", less: 0 },
        overhead: [
          { what: "header and its CRC", bytes: 20 },
          { what: "data CRC", bytes: 4 },
          { what: "acknowledgement, data prefix and end", bytes: 24 },
        ],
        source: "IEEE 1394-1995, link layer (asynchronous packets)",
        basis: "standard",
      },
    ],
    assumptions: {
      packet: {
        label: "largest asynchronous payload",
        unit: "B",
        options: [payload, payload / 2, payload / 4],
        standard: payload,
        note: "The speed allows this much; bridges may agree on less.",
      },
    },
    transports: [
      {
        id: "scsi",
        read,
        write: [read[0] - 0.1, read[1]],
        source: "disks behind good bridges, one device on the bus",
      },
    ],
  };
}

export const IEEE_1394_MODES: LinkMode[] = [
  ieee1394(400, 2048, 1995, "none", [0.68, 0.92]),
  ieee1394(800, 4096, 2002, "8b/10b", [0.65, 0.93]),
];
