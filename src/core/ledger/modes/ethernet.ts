import type { LinkMode } from "../mode";

/** Ethernet carrying a file protocol over TCP/IPv4 with time stamps; rates are after the PHY's coding. */
function ethernet(
  id: string,
  gigabits: number,
  formal: string,
  year: number,
  clause: string,
): LinkMode {
  const rate = gigabits < 1 ? `${gigabits * 1000} Mb/s` : `${gigabits} Gb/s`;
  return {
    id,
    name: `Ethernet ${rate}`,
    formal,
    short: `${rate} Ethernet`,
    family: "ethernet",
    year,
    gigatransfers: gigabits,
    signallingSource: `IEEE 802.3, clause ${clause}`,
    lanes: 1,
    lineCode: "none",
    duplex: "full",
    shared: false,
    framing: [
      {
        kind: "packet",
        what: "TCP payload in a full frame",
        payload: { assumption: "mtu", less: 52 },
        overhead: [
          { what: "preamble and start 8, inter-frame gap 12", bytes: 20 },
          { what: "Ethernet header 14, frame check 4", bytes: 18 },
          { what: "IPv4 header", bytes: 20 },
          { what: "TCP header 20, time stamps 12", bytes: 32 },
        ],
        source: "IEEE 802.3, 3.1.1 and 4.4.2; RFC 791; RFC 9293; RFC 7323",
        basis: "assumption",
      },
    ],
    assumptions: {
      mtu: {
        label: "largest frame payload (MTU)",
        unit: "B",
        options: [1500, 9000],
        standard: 1500,
        note: "9000 only where every device on the path is set to it.",
      },
    },
    transports: [
      {
        id: "network-file",
        read: [0.89, 0.995],
        write: [0.87, 0.995],
        source: "large files between hosts that are not otherwise busy",
      },
    ],
  };
}

export const ETHERNET_MODES: LinkMode[] = [
  ethernet("ethernet-100m", 0.1, "100BASE-TX", 1995, "25"),
  ethernet("ethernet-1g", 1, "1000BASE-T", 1999, "40"),
  ethernet("ethernet-2.5g", 2.5, "2.5GBASE-T", 2016, "126"),
  ethernet("ethernet-5g", 5, "5GBASE-T", 2016, "126"),
  ethernet("ethernet-10g", 10, "10GBASE-T, 10GBASE-R", 2002, "49 and 55"),
  ethernet("ethernet-25g", 25, "25GBASE-R", 2016, "107"),
  ethernet("ethernet-40g", 40, "40GBASE-R", 2010, "82"),
];
