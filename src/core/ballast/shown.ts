import * as z from "zod";
import { MOST_BYTES } from "../units/bounds";
import { Ballast, Room } from "./ballast";

const bytes = z.number().nonnegative().max(MOST_BYTES);

/** Ballast as pages and commands show it. */
export const ShownBallast = Ballast.extend({
  /** The directory that it was asked for in. */
  target: z.string(),
  room: Room,
  /** While it is being written: how far that is. */
  doing: z.object({ bytes, total: bytes }).nullable(),
});
export type ShownBallast = z.infer<typeof ShownBallast>;

/** A place as it is before ballast is asked for there. */
export const BallastPlace = z.object({
  target: z.string(),
  room: Room,
  /** Bytes left free whatever is asked. */
  reserve: bytes,
  /** What lies there already. */
  held: Ballast.nullable(),
});
export type BallastPlace = z.infer<typeof BallastPlace>;

/** How a place stands, null where there is no such directory, and all ballast on the drives of the machine. */
export const BallastState = z.object({
  place: BallastPlace.nullable(),
  /** Why the last filling there did not come to its end; null where it did. */
  trouble: z.string().nullable(),
  all: ShownBallast.array(),
});
export type BallastState = z.infer<typeof BallastState>;
