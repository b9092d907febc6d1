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
