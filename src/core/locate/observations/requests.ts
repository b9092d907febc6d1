import { linksOf, otherLinks, transportOn } from "../../chain/link";
import { predict, predictedRate, queues } from "../../chain/predict";
import { frameTime } from "../../chain/request-time";
import type { Rig } from "../../chain/rig";
import type { Drill } from "../../drills/drill";
import { shapeOf } from "../../drills/shape";
import { account } from "../../ledger/account";
import type { LinkMode } from "../../ledger/mode";
import type { Direction } from "../../units/rate";

/** Requests whose own time counts, and what it lets through of a rig: they are small, or one at a time. */
export interface Requests {
  /** Bytes of each. */
  block: number;
  /** How many are in flight, as far as the rig can queue. */
  depth: number;
  /** What each takes on the way besides its payload, microseconds; a drive's own time where it is known. */
  overheadUs: number;
  /** Of that, what waiting for frames of a slow bus takes, microseconds. */
  frameUs: number;
  /** The lowest ceiling on the way, MB/s. */
  rate: number;
  /** What all that lets through, MB/s. */
  mbps: number;
  /** Whether it is the links that let no more through, not the requests' time. */
  byLinks: boolean;
}

/** What rigs of the same links show to be reached of what is foreseen of requests, as a share up to 1. */
export type Shown = (requests: Requests) => number;

/**
 * What was reached of what is foreseen, by rigs on whose way the same is foreseen: how far off that is
 * they share, since it comes of the same protocols and links.
 */
export function shownBy(seen: readonly { requests: Requests | null; median: number }[]): Shown {
  const shares = new Map<string, number>();
  for (const { requests, median } of seen) {
    if (!requests) continue;
    const key = likeOf(requests);
    shares.set(key, Math.min(1, Math.max(shares.get(key) ?? 0, median / requests.mbps)));
  }
  return (requests) => shares.get(likeOf(requests)) ?? 0;
}

const likeOf = ({ block, depth, overheadUs, rate }: Requests): string =>
  [block, depth, overheadUs.toFixed(1), rate.toFixed(1)].join();

/** Requests from this size on are large: their rate hardly depends on the time each takes. */
export const LARGE = 128 * 1024;
/**
 * Times per request are known to a factor of about two, as a difference of logarithms; nor is it known of
 * one large request at a time how much of its way through each part waits for the part before.
 */
export const VAGUE = 0.45;

/**
 * The requests of a drill on a rig, where the time that each takes counts.
 *
 * @returns null where it does not, since they are large and several in flight, or where there are none
 */
export function requestsOf(rig: Rig, direction: Direction, drill: Drill): Requests | null {
  const shape = shapeOf(drill);
  // Of one request at a time the time that it takes counts in full, however large it is.
  if (!shape || (shape.block >= LARGE && shape.depth > 1)) return null;
  const found = predict(rig, direction, shape);
  if (!found) return null;
  const { rate, overheadUs, queued, mbps } = found;
  return {
    block: shape.block,
    overheadUs,
    rate,
    mbps,
    depth: queued ? shape.depth : 1,
    frameUs: Math.max(
      0,
      ...[...linksOf(rig), ...otherLinks(rig)].map(({ mode }) => (mode ? frameTime(mode) : 0)),
    ),
    byLinks: mbps >= rate,
  };
}

/** What the same requests would give were one of a rig’s links at another mode, MB/s. */
export function rateAt(
  { block, depth, overheadUs, frameUs, rate }: Requests,
  rig: Pick<Rig, "transport">,
  mode: LinkMode,
  direction: Direction,
): number {
  const transport = transportOn(rig, { mode });
  const { attainable } = account(mode, direction, { transport });
  const us = overheadUs + Math.max(0, frameTime(mode) - frameUs);
  return predictedRate(Math.min(rate, attainable.high), us, block, depth, queues(transport));
}
