import type { LinkMode } from "../ledger/mode";

/** Boxes print 10 Gb/s for a link that signals at 10.3125: a few percent are no other class. */
const ROUNDING = 0.05;

/** Signalling rate of a mode in its wider direction, Gb/s, as printed on boxes. */
export const gigabits = ({ gigatransfers, lanes, lanesByDirection }: LinkMode): number =>
  gigatransfers * Math.max(lanes, lanesByDirection?.read ?? 0, lanesByDirection?.write ?? 0);

/** Whether a mode signals as fast as a printed class, Gb/s, or faster. */
export const isOfClass = (mode: LinkMode, gbps: number): boolean =>
  gigabits(mode) >= gbps * (1 - ROUNDING);
