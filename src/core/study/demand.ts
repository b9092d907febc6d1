import * as z from "zod";
import { line } from "../units/text";
import { Direction } from "../units/rate";

const Count = (most: number) =>
  z.coerce.number({ error: "must be a number" }).positive("must be above 0").max(most, "too large");

/** A recording or playback: so many pixels so many times a second, or another steady source. */
export const Stream = z.object({
  what: line(80).min(1, "name the stream"),
  direction: Direction,
  width: Count(100_000),
  height: Count(100_000),
  /** Frames, or traces, or readings a second. */
  perSecond: Count(1e6),
  /** Bits of one pixel, all its colours together. */
  bits: Count(1024),
  /** How many such streams at once. */
  streams: Count(1000),
  /** By how much it is compressed before it reaches the drive: 1 for not at all. */
  compression: z.coerce.number().min(1, "at least 1").max(10_000).default(1),
});
export type Stream = z.infer<typeof Stream>;

/** A copy that must be done in time. */
export const Copy = z.object({
  what: line(80).min(1, "name the copy"),
  direction: Direction,
  gigabytes: Count(1e9),
  minutes: Count(1e6),
});
export type Copy = z.infer<typeof Copy>;

/** What a drive is wanted for: streams that run at once, and copies, one at a time. */
export const Demand = z
  .object({
    name: line(80).min(1, "give the demand a name"),
    streams: z.array(Stream).max(20).default([]),
    copies: z.array(Copy).max(20).default([]),
  })
  .refine(({ streams, copies }) => streams.length + copies.length > 0, {
    path: ["streams"],
    message: "add a stream or a copy",
  });
export type Demand = z.infer<typeof Demand>;

/** Sustained MB/s of one kind of stream, all of its number together. */
export const streamRate = ({ width, height, perSecond, bits, streams, compression }: Stream) =>
  (width * height * bits * perSecond * streams) / 8 / 1e6 / compression;

/** MB/s that brings so many GB (10^9 bytes) over in so many minutes. */
export const copyRate = ({ gigabytes, minutes }: Copy) => (gigabytes * 1e3) / (minutes * 60);

/** What the streams of a demand take in one direction, all at once, MB/s. */
export const flowOf = ({ streams }: Demand, direction: Direction): number =>
  streams
    .filter((stream) => stream.direction === direction)
    .reduce((sum, stream) => sum + streamRate(stream), 0);

/**
 * What a demand asks of a drive in one direction, sustained MB/s: streams run at once and add up; of
 * the copies, which come one after another, the most pressing counts, beside the streams.
 */
export function needOf(demand: Demand, direction: Direction): number {
  const pressing = demand.copies.filter((copy) => copy.direction === direction).map(copyRate);
  return flowOf(demand, direction) + Math.max(0, ...pressing);
}
