import type { LineCodeId } from "./mode";

/** What a line code costs: the share of transferred bits that carry data, and where that is laid down. */
export const LINE_CODES: Record<LineCodeId, { share: number; what: string; source: string }> = {
  none: {
    share: 1,
    what: "rate is stated after coding",
    source: "the mode's own standard states the data rate",
  },
  nrzi: {
    share: 1,
    what: "NRZI; stuffed bits not counted (at most 1 in 7, none at best)",
    source: "USB 2.0, 7.1.8 and 7.1.9",
  },
  "8b/10b": {
    share: 8 / 10,
    what: "8b/10b: 8 data bits in 10",
    source: "ANSI INCITS 230 (FC-PH), transmission code",
  },
  "64b/66b": {
    share: 64 / 66,
    what: "64b/66b: 64 data bits in 66",
    source: "IEEE 802.3, 49.2.4; USB4 2.0, chapter 4",
  },
  "128b/130b": {
    share: 128 / 130,
    what: "128b/130b: 128 data bits in 130",
    source: "PCI Express Base 3.0, 4.2.2",
  },
  "128b/150b": {
    share: 128 / 150,
    what: "128b/150b: 128 data bits in 150, error correction included",
    source: "SPL-4, packet mode of 22.5 Gb/s",
  },
  "11b/7t": {
    share: 11 / 7,
    what: "PAM-3: 11 bits in 7 three-level symbols",
    source: "USB4 2.0, chapter 4",
  },
  "128b/132b": {
    share: 128 / 132,
    what: "128b/132b: 128 data bits in 132",
    source: "USB 3.2, 6.3; USB4 2.0, chapter 4",
  },
};
