import type { LinkMode } from "../mode";
import { PCIE_MODES } from "./pcie";
import { innerLink, pcieInside, tunnelledPayload } from "./tunnel";

/**
 * Thunderbolt carrying PCI Express. Its makers published rates and widths, not the packet formats of
 * the first three generations; those are taken to be USB4's, which grew out of them.
 */

interface Generation {
  version: number;
  year: number;
  gigatransfers: number;
  lanes: number;
  lineCode: LinkMode["lineCode"];
  inner: string;
  band: [number, number];
}

const GENERATIONS: Generation[] = [
  {
    version: 1,
    year: 2011,
    gigatransfers: 10.3125,
    lanes: 1,
    lineCode: "64b/66b",
    inner: "pcie-2.0-x4",
    band: [0.72, 0.92],
  },
  {
    version: 2,
    year: 2013,
    gigatransfers: 10.3125,
    lanes: 2,
    lineCode: "64b/66b",
    inner: "pcie-2.0-x4",
    band: [0.72, 0.9],
  },
  {
    version: 3,
    year: 2015,
    gigatransfers: 20.625,
    lanes: 2,
    lineCode: "64b/66b",
    inner: "pcie-3.0-x4",
    band: [0.72, 0.9],
  },
  {
    version: 4,
    year: 2020,
    gigatransfers: 20.625,
    lanes: 2,
    lineCode: "64b/66b",
    inner: "pcie-4.0-x4",
    band: [0.66, 0.92],
  },
  {
    version: 5,
    year: 2023,
    gigatransfers: 25.6,
    lanes: 2,
    lineCode: "11b/7t",
    inner: "pcie-4.0-x4",
    band: [0.78, 0.99],
  },
];

export const THUNDERBOLT_MODES: LinkMode[] = GENERATIONS.map((generation) => {
  const { version, year, gigatransfers, lanes, lineCode, inner, band } = generation;
  const pcie = PCIE_MODES.find(({ id }) => id === inner)!;
  return {
    id: `thunderbolt-${version}`,
    name: `Thunderbolt ${version}, PCIe tunnel`,
    formal: `Thunderbolt ${version} carrying ${pcie.formal}`,
    short: `Thunderbolt ${version}`,
    family: "thunderbolt",
    year,
    gigatransfers,
    signallingSource: "published by its makers; USB4 1.0, chapter 4 for the coding",
    lanes,
    lineCode,
    duplex: "full",
    shared: true,
    framing: [
      pcieInside("USB4 1.0, chapters 5 and 11, taken to hold for Thunderbolt"),
      innerLink(pcie),
    ],
    assumptions: tunnelledPayload(version < 5 ? 128 : 256),
    transports: [
      {
        id: "nvme",
        read: band,
        write: [band[0] - 0.1, band[1]],
        source: "fast drives, no display on the link",
      },
    ],
  };
});
