import { z } from "zod";

/** The units a tester may read rates in. Throughput is stored as bytes and shown in one of these. */
export const RateUnit = z.enum(["MB/s", "MiB/s"]);
export type RateUnit = z.infer<typeof RateUnit>;

/** Bytes in one megabyte as the trade counts it (SI). */
export const MB = 1e6;

/** Converts a rate from MB/s (10^6 bytes) to the unit shown. */
export function inUnit(mbps: number, unit: RateUnit): number {
  return unit === "MB/s" ? mbps : (mbps * MB) / 2 ** 20;
}

/** Which way payload flows: reading is from the drive to the host, writing the other way. */
export const Direction = z.enum(["read", "write"]);
export type Direction = z.infer<typeof Direction>;

/** What a drive does in each direction, as said in a sentence. */
export const DOING: Record<Direction, string> = { read: "reading", write: "writing" };
