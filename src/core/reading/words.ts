import { formatDuration, IN_MB } from "../units/number";
import { formatSize } from "../units/size";
import type { TraceReading } from "./read";

/**
 * What happened in a run, in one or two sentences.
 *
 * @param rate how a rate is written, with its unit
 */
export function tellReading(
  { cacheEdge, levels, throttled, burstMBps, steadyMBps, sustainedMBps, marks }: TraceReading,
  rate: (mbps: number) => string = IN_MB.said,
): string {
  const first = levels[0];
  if (!first) return "Nothing was sampled.";
  const sentences: string[] = [];
  if (cacheEdge) {
    const after = levels.find(({ name }) => name === "folded");
    const free =
      cacheEdge.freeBytes === null
        ? ""
        : `, with ${formatSize(cacheEdge.freeBytes, 1000)} still free`;
    sentences.push(
      `The cache gave out after ${formatSize(cacheEdge.bytes, 1000)}, ${formatDuration(cacheEdge.ms)} into the run${free}: ${rate(first.medianMBps)} before it${after ? `, ${rate(after.medianMBps)} after` : ""}.`,
    );
  }
  if (throttled === true) {
    const slow = levels.filter(({ name }) => name === "throttled");
    const cool = levels.filter(({ name }) => name !== "throttled" && name !== "stall");
    const least = Math.min(...slow.map(({ medianMBps }) => medianMBps));
    const most = Math.max(...cool.map(({ medianMBps }) => medianMBps));
    sentences.push(
      slow.length > 0 && cool.length > 0
        ? `Heat slowed it down, from ${rate(most)} to ${rate(least)}${slow.length > 1 ? `; over its ups and downs it sustained ${rate(sustainedMBps)}` : ""}.`
        : "Heat slowed it down.",
    );
  }
  if (throttled === null && !cacheEdge)
    sentences.push(
      `It fell from ${rate(burstMBps)} to ${rate(sustainedMBps)}; without a temperature it cannot be told whether that was heat.`,
    );
  if (sentences.length === 0)
    sentences.push(
      levels.filter(({ name }) => name !== "stall").length === 1
        ? `It kept one level, ${rate(steadyMBps)}, from beginning to end.`
        : `It ended at ${rate(sustainedMBps)}, neither by heat nor by a cache.`,
    );
  const stalls = marks.filter(({ name }) => name === "stall").length;
  if (stalls > 0) sentences.push(stalls === 1 ? "It stalled once." : `It stalled ${stalls} times.`);
  return sentences.join(" ");
}
