import type { LinkMode } from "../mode";

/** One word of two bytes moves in each cycle; cycle times in nanoseconds from ATA/ATAPI-7, annex C. */
const CYCLES: { id: string; name: string; ns: number; year: number; band: [number, number] }[] = [
  { id: "pata-pio-4", name: "PIO 4", ns: 120, year: 1996, band: [0.25, 0.7] },
  { id: "pata-mwdma-2", name: "multiword DMA 2", ns: 120, year: 1996, band: [0.6, 0.95] },
  { id: "pata-udma-2", name: "UDMA 2", ns: 60, year: 1998, band: [0.7, 0.95] },
  { id: "pata-udma-3", name: "UDMA 3", ns: 45, year: 2000, band: [0.7, 0.95] },
  { id: "pata-udma-4", name: "UDMA 4", ns: 30, year: 2000, band: [0.7, 0.94] },
  { id: "pata-udma-5", name: "UDMA 5", ns: 20, year: 2001, band: [0.7, 0.95] },
  { id: "pata-udma-6", name: "UDMA 6", ns: 15, year: 2003, band: [0.65, 0.92] },
];

/** Parallel ATA: a 16-bit bus that two devices share, one direction at a time. */
export const PARALLEL_ATA_MODES: LinkMode[] = CYCLES.map(({ id, name, ns, year, band }) => ({
  id,
  name: `Parallel ATA ${name}`,
  formal: `ATA, ${name}: a word every ${ns} ns`,
  short: name,
  family: "pata",
  year,
  gigatransfers: 1 / ns,
  signallingSource: "ATA/ATAPI-7, volume 2 (parallel transport)",
  lanes: 16,
  lineCode: "none",
  duplex: "half",
  shared: true,
  framing: [],
  assumptions: {},
  transports: [
    {
      id: "legacy-ata",
      read: band,
      write: [band[0] * 0.9, band[1]],
      source: "one command at a time, turn-round between bursts",
    },
  ],
}));
