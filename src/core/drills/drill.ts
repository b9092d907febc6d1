import { z } from "zod";
import { Direction } from "../units/rate";

/** A fully defined workload. A run keeps the exact definition it used. */
export const Drill = z.object({
  name: z.literal("haul"),
  direction: Direction,
  /** Bytes of one request. */
  block: z
    .number({ error: "must be a size, for example 512KiB" })
    .int("must be whole bytes")
    .min(512, "must be at least 512 bytes")
    .max(64 * 2 ** 20, "must be at most 64 MiB")
    .refine((bytes) => bytes % 512 === 0, "must be a multiple of 512 bytes"),
  /** Requests kept in flight. */
  depth: z
    .number({ error: "must be a number" })
    .int()
    .min(1, "must be at least 1")
    .max(64, "must be at most 64"),
  /** Bytes of the medium that the drill walks over, again and again. */
  span: z
    .number({ error: "must be a size, for example 1GiB" })
    .int()
    .min(2 ** 20, "must be at least 1 MiB")
    .max(2 ** 50, "must be at most 1 PiB"),
  /** Seconds that count, after the lead-in. */
  seconds: z
    .number({ error: "must be a number of seconds" })
    .min(0.5, "must be at least half a second")
    .max(3600, "must be at most an hour"),
  repeats: z
    .number({ error: "must be a number" })
    .int()
    .min(1, "must be at least 1")
    .max(50, "must be at most 50"),
});
export type Drill = z.infer<typeof Drill>;

/**
 * Haul: sequential, large blocks, deep queue.
 *
 * 512 KiB is where hosts commonly cap one USB storage transfer, so the system does not split the
 * request; 16 of them, 8 MiB in flight, cover the delay of any link the ledger lists. Three
 * repeats are the fewest that give a spread worth showing.
 */
export const HAUL = {
  name: "haul",
  block: 512 * 2 ** 10,
  depth: 16,
  span: 2 ** 30,
  seconds: 10,
  repeats: 3,
} as const satisfies Omit<Drill, "direction">;

/** What of a drill a prediction depends on. */
export interface DrillShape {
  title: string;
  /** The trade description, always shown beside the name. */
  what: string;
  block: number;
  depth: number;
}

/**
 * The drills a rig's prediction is given for. Scatter asks for 4 KiB, the page of most systems: one
 * at a time is what a waiting program feels, 24 at once what a busy one gets.
 */
export const PREDICTED_DRILLS: readonly DrillShape[] = [
  {
    title: "Haul",
    what: "sequential, 512 KiB, 16 in flight",
    block: HAUL.block,
    depth: HAUL.depth,
  },
  { title: "Scatter", what: "random, 4 KiB, one at a time", block: 4096, depth: 1 },
  { title: "Scatter", what: "random, 4 KiB, 24 in flight", block: 4096, depth: 24 },
];

/** What makes two runs runs of the same drill: everything but how often it is repeated. */
export function drillKey(drill: Drill): string {
  const { name, direction, block, depth, span, seconds } = drill;
  return [name, direction, block, depth, span, seconds].join("/");
}
