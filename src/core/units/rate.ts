import * as z from "zod";

/** The units a tester may read rates in. Throughput is stored as bytes and shown in one of these. */
export const RateUnit = z.enum(["MB/s", "MiB/s", "Gb/s", "GB/s"]);
export type RateUnit = z.infer<typeof RateUnit>;

/** Bytes in one megabyte as the trade counts it (SI). */
export const MB = 1e6;

/** How many of a unit one MB/s is: 10^6 bytes or 8 · 10^6 bits a second. */
const PER_MB: Record<RateUnit, number> = {
  "MB/s": 1,
  "MiB/s": MB / 2 ** 20,
  "Gb/s": 8e-3,
  "GB/s": 1e-3,
};

/** Converts a rate from MB/s (10^6 bytes) to the unit shown. */
export const inUnit = (mbps: number, unit: RateUnit): number => mbps * PER_MB[unit];

/** Which way payload flows: reading is from the drive to the host, writing the other way. */
export const Direction = z.enum(["read", "write"]);
export type Direction = z.infer<typeof Direction>;

/** What a drive does in each direction, as said in a sentence. */
export const DOING: Record<Direction, string> = { read: "reading", write: "writing" };
