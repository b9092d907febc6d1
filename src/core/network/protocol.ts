import * as z from "zod";
import { MOST_BYTES, MOST_MS } from "../units/bounds";
import { Direction } from "../units/rate";

/**
 * What the measuring processes at the two ends of a network are told, and what they tell: one JSON document a
 * line. One end answers, the other asks; "read" is from the answering end to the asking one.
 */

/** Most TCP connections at once: more than any file protocol opens between two machines. */
export const MOST_CONNECTIONS = 64;
/** Most seconds of one passage. */
const MOST_SECONDS = 600;

/** Data sent one way over some connections at once, from memory to memory. */
export const Passage = z.object({
  direction: Direction,
  connections: z.number().int().min(1).max(MOST_CONNECTIONS),
  /** Bytes handed to the system at once. */
  block: z
    .number()
    .int()
    .min(512)
    .max(16 * 2 ** 20),
  seconds: z.number().positive().max(MOST_SECONDS),
  /** Seconds of flow before counting starts. */
  leadIn: z.number().nonnegative().max(MOST_SECONDS),
});
export type Passage = z.infer<typeof Passage>;

/** Known to both ends alone, so that nobody else is sent anything. */
const token = z.string().regex(/^[0-9a-f]{32,128}$/);

export const NetworkJob = z.discriminatedUnion("role", [
  /** Takes connections at its end for as long as it is let. */
  z.object({ role: z.literal("answer"), token }),
  /** Connects to the other end, and does one passage after the other. */
  z.object({
    role: z.literal("ask"),
    token,
    address: z.string().min(1).max(255),
    port: z.number().int().min(1).max(65_535),
    passages: z.array(Passage).min(1).max(200),
  }),
]);
export type NetworkJob = z.infer<typeof NetworkJob>;

/** The first line of every connection. */
export const Hello = Passage.extend({ token, passage: z.number().int().nonnegative() });
export type Hello = z.infer<typeof Hello>;

/** The interface that an end is reached by. */
export const NetworkEnd = z.object({
  interface: z.string().max(80).nullable(),
  /** What its link signals, in Mb/s; null where the interface does not say. */
  megabits: z.number().positive().max(1e9).nullable(),
  /** The largest frame payload, bytes; null where that is not known. */
  mtu: z.number().int().positive().max(1e6).nullable(),
});
export type NetworkEnd = z.infer<typeof NetworkEnd>;

const share = z.number().min(0).max(1);

/** What a passage carried, as the end counted that the data arrived at. */
export const Carried = z.object({
  bytes: z.number().nonnegative().max(MOST_BYTES),
  ms: z.number().positive().max(MOST_MS),
  /** Share of a core that the process there used, and of its time that the busiest core there was not idle. */
  process: share,
  busiestCore: share.nullable(),
});
export type Carried = z.infer<typeof Carried>;

export const NetworkEvent = z.discriminatedUnion("event", [
  /** Where it is reached, as far as it knows: the address at which its own shell was reached. */
  z.object({
    event: z.literal("listening"),
    port: z.number().int(),
    address: z.string().max(255).nullable(),
  }),
  z.object({ event: z.literal("end"), end: NetworkEnd }),
  z.object({ event: z.literal("begun"), passage: z.number().int() }),
  z.object({ event: z.literal("carried"), passage: z.number().int(), carried: Carried }),
  z.object({ event: z.literal("done") }),
  z.object({ event: z.literal("failed"), reason: z.string().max(1000) }),
]);
export type NetworkEvent = z.infer<typeof NetworkEvent>;
