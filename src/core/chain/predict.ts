import type { TransportId } from "../ledger/mode";
import type { Direction } from "../units/rate";
import { allLinks, transportOn } from "./link";
import { driveTimeKnown, requestTimes } from "./request-time";
import type { Rig } from "./rig";
import { stagesOf } from "./stages";

/**
 * Predicted throughput of a drill with requests of one size: X(b, q) = min(q b / (t0 + b/R), R).
 *
 * @param rate R, the rate of the narrowest stage, MB/s
 * @param overheadUs t0, the time per request that does not depend on its size, microseconds
 * @param block b, bytes of one request
 * @param depth q, requests in flight; taken as 1 where the driver cannot queue
 * @returns MB/s
 */
export function predictedRate(
  rate: number,
  overheadUs: number,
  block: number,
  depth: number,
  queued: boolean,
): number {
  const inFlight = queued ? depth : 1;
  const single = block / (overheadUs + block / rate); // bytes per microsecond is MB/s
  return Math.min(inFlight * single, rate);
}

/** Requests that are kept in flight: bytes of one, and how many. */
export interface Requests {
  block: number;
  depth: number;
}

/** What a drill should give on a rig, before anything is measured. */
export interface Prediction {
  /** MB/s of payload. */
  mbps: number;
  /** Requests a second. */
  iops: number;
  /** R: the lowest ceiling of the rig's stages, MB/s. */
  rate: number;
  /** t0, microseconds. */
  overheadUs: number;
  queued: boolean;
  /** Whether the drive's own time is in t0; without it the prediction is what the rest allows. */
  whole: boolean;
}

const UNQUEUED: readonly (TransportId | undefined)[] = ["usb-unqueued", "legacy-ata"];

/** Whether a protocol can keep several requests in flight. */
export const queues = (protocol: TransportId | undefined): boolean => !UNQUEUED.includes(protocol);

/** Whether every protocol on a rig's way can keep several requests in flight. */
export const canQueue = (rig: Rig): boolean =>
  allLinks(rig).every((link) => queues(transportOn(rig, link)));

/** Predicts what requests give on a rig; null where a link does not come up. */
export function predict(rig: Rig, direction: Direction, requests: Requests): Prediction | null {
  const rate = Math.min(...stagesOf(rig, direction).map(({ ceiling }) => ceiling));
  if (!Number.isFinite(rate) || rate <= 0) return null;
  const overheadUs = requestTimes(rig, direction).reduce((sum, { us }) => sum + us, 0);
  const queued = canQueue(rig);
  const mbps = predictedRate(rate, overheadUs, requests.block, requests.depth, queued);
  return {
    mbps,
    iops: (mbps * 1e6) / requests.block,
    rate,
    overheadUs,
    queued,
    whole: driveTimeKnown(rig, direction),
  };
}
