import type { HostFacts } from "./host-facts";

/** A clock, asked for once: when it was asked and answered here, and what it said, as `date +%s.%N` writes it. */
export interface Trip {
  sent: number;
  back: number;
  said: string;
}

/**
 * How far a host's clock is ahead: what it said less the middle between question and answer, of the trip that took
 * least (Cristian, "Probabilistic clock synchronization", Distributed Computing 3, 1989). It is wrong by half of
 * that trip at most, and by half a second where the host's `date` knows no fractions.
 */
export function leastTrip(trips: readonly Trip[]): Pick<HostFacts, "clock" | "roundTripMs"> {
  const [least] = trips.toSorted((a, b) => a.back - a.sent - (b.back - b.sent));
  if (!least) return { clock: null, roundTripMs: null };
  const roundTripMs = least.back - least.sent;
  const said = /^(\d{1,12})(?:\.(\d+))?/.exec(least.said);
  if (!said) return { clock: null, roundTripMs };
  const [, seconds, fraction] = said;
  // A whole second that was said stands for all of it.
  const saidMs = Number(`${seconds}.${fraction ?? "5"}`) * 1000;
  return {
    clock: {
      aheadMs: saidMs - (least.sent + least.back) / 2,
      uncertainMs: roundTripMs / 2 + (fraction === undefined ? 500 : 0),
    },
    roundTripMs,
  };
}
