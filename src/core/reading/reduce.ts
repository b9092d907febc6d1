import { bytesUntil, gapsOf, sampleAt, type Flow } from "./flow";

/** A stretch of a trace as a picture shows it: its mean rate, and the extremes within it. */
export interface Place {
  fromMs: number;
  toMs: number;
  /** Bytes moved up to its end, since the run began. */
  bytes: number;
  /** MB/s. */
  mean: number;
  least: number;
  most: number;
}

/**
 * A stretch of a trace in few places, so that extremes survive: none is lost between two places, and
 * no byte. Where there are fewer samples than places, each sample is one. Gaps stay gaps.
 *
 * @param fromMs where the stretch begins @param toMs where it ends
 * @param most places
 */
export function reduced(flow: Flow, fromMs: number, toMs: number, most: number): Place[] {
  const first = sampleAt(flow, fromMs);
  const end = Math.min(flow.to.length, sampleAt(flow, toMs) + 1);
  const width = (toMs - fromMs) / most;
  const gaps = new Set(gapsOf(flow).map(({ to }) => to));
  const places: Place[] = [];
  const single = end - first <= most;
  let last = -1;
  for (let i = first; i < end; i++) {
    const [from, to] = [flow.from[i]!, flow.to[i]!];
    if (from >= toMs) break;
    const rate = flow.bytes[i]! / 1e3 / (to - from);
    const at = single ? i : Math.floor((Math.max(from, fromMs) - fromMs) / width);
    const place = places.at(-1);
    if (place && at === last && !gaps.has(from)) {
      place.toMs = to;
      place.bytes = flow.sum[i + 1]!;
      place.least = Math.min(place.least, rate);
      place.most = Math.max(place.most, rate);
    } else {
      places.push({
        fromMs: from,
        toMs: to,
        bytes: flow.sum[i + 1]!,
        mean: rate,
        least: rate,
        most: rate,
      });
      last = at;
    }
  }
  for (const place of places) {
    const moved = place.bytes - bytesUntil(flow, place.fromMs);
    place.mean = moved / 1e3 / (place.toMs - place.fromMs);
  }
  return places;
}
