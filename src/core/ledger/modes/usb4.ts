import type { FramingStep, LinkMode } from "../mode";
import { PCIE_MODES } from "./pcie";
import { innerLink, pcieInside, tunnelledPayload, usbInside } from "./tunnel";
import { USB_MODES } from "./usb";

interface Rate {
  id: string;
  gigabits: string;
  year: number;
  gigatransfers: number;
  lanes: number;
  lanesByDirection?: LinkMode["lanesByDirection"];
  lineCode: LinkMode["lineCode"];
  /** The USB link it can tunnel. */
  usb: string;
}

const RATES: Rate[] = [
  {
    id: "usb4-20g",
    gigabits: "20",
    year: 2019,
    gigatransfers: 10,
    lanes: 2,
    lineCode: "64b/66b",
    usb: "usb-10g",
  },
  {
    id: "usb4-40g",
    gigabits: "40",
    year: 2019,
    gigatransfers: 20,
    lanes: 2,
    lineCode: "128b/132b",
    usb: "usb-10g",
  },
  {
    id: "usb4-80g",
    gigabits: "80",
    year: 2022,
    gigatransfers: 25.6,
    lanes: 2,
    lineCode: "11b/7t",
    usb: "usb-20g",
  },
  {
    id: "usb4-120g-40g",
    gigabits: "120 out, 40 in",
    year: 2022,
    gigatransfers: 25.6,
    lanes: 2,
    lanesByDirection: { read: 1, write: 3 },
    lineCode: "11b/7t",
    usb: "usb-20g",
  },
];

const SOURCE = "USB4 2.0, chapters 5 (transport), 9 (USB tunnels) and 11 (PCIe tunnels)";
const pcie4 = PCIE_MODES.find(({ id }) => id === "pcie-4.0-x4")!;

function tunnel(
  rate: Rate,
  inner: "pcie" | "usb",
  framing: FramingStep[],
  transports: LinkMode["transports"],
): LinkMode {
  const { id, gigabits, year, gigatransfers, lanes, lanesByDirection, lineCode } = rate;
  const carries = inner === "pcie" ? "PCIe" : "USB";
  return {
    id: `${id}-${inner}`,
    name: `USB4 ${gigabits} Gb/s, ${carries} tunnel`,
    formal: `USB4 at ${gigabits} Gb/s carrying ${carries}`,
    short: `USB4 ${gigabits} Gb/s`,
    family: "usb4",
    signallingSource: "USB4 2.0, chapter 4 (logical layer)",
    duplex: "full",
    shared: true,
    framing,
    assumptions: inner === "pcie" ? tunnelledPayload(year < 2022 ? 128 : 256) : {},
    transports,
    year,
    gigatransfers,
    lanes,
    lanesByDirection,
    lineCode,
  };
}

export const USB4_MODES: LinkMode[] = RATES.flatMap((rate) => {
  const usb = USB_MODES.find(({ id }) => id === rate.usb)!;
  return [
    tunnel(
      rate,
      "pcie",
      [pcieInside(SOURCE), innerLink(pcie4)],
      [
        {
          id: "nvme",
          read: [0.72, 0.96],
          write: [0.6, 0.96],
          source: "fast drives, no display on the link",
        },
      ],
    ),
    tunnel(
      rate,
      "usb",
      [usbInside(SOURCE), innerLink(usb)],
      usb.transports.filter(({ id }) => id === "usb-queued"),
    ),
  ];
});
