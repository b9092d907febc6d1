import type { FarLoad } from "../run/far-host";
import { isHostFull } from "../run/host-load";
import { isCoreFull } from "../run/full-core";
import { formatDuration, formatPercent, IN_MB } from "../units/number";
import { formatSize } from "../units/size";
import type { TraceReading } from "./read";

type Rate = (mbps: number) => string;

/** What else is known of a run that may explain its course. */
export interface Beside {
  /** The busiest core's share of the run's time, 0 to 1; null where nobody looked. */
  busiestCore?: number | null;
  /** What the machine did that served a share; null where nobody looked. */
  farHost?: FarLoad | null;
}

/**
 * What happened in a run, in short sentences. The rates are those of its levels, as the table of levels
 * has them.
 *
 * @param rate how a rate is written, with its unit
 */
export function tellReading(
  reading: TraceReading,
  rate: Rate = IN_MB.said,
  { busiestCore = null, farHost = null }: Beside = {},
): string {
  const { levels, marks, sustainedMBps } = reading;
  if (levels.length === 0) return "Nothing was sampled.";
  const moving = levels.filter(({ name }) => name !== "stall");
  const sentences = [
    ...tellEdge(reading, rate),
    ...tellHeat(reading, rate),
    ...tellOpenFall(reading, rate),
  ];
  if (sentences.length === 0)
    sentences.push(
      moving.length === 1
        ? `The run kept one level, ${rate(moving[0]!.rateMBps)}, from beginning to end.`
        : `The run ended at ${rate(sustainedMBps)}; neither heat nor a cache made it change.`,
    );
  const stalls = marks.filter(({ name }) => name === "stall").length;
  if (stalls > 0)
    sentences.push(stalls === 1 ? "The flow stalled once." : `The flow stalled ${stalls} times.`);
  if (busiestCore !== null && isCoreFull({ busiestCore }))
    sentences.unshift(
      `A processor core was busy for ${formatPercent(busiestCore)} of the run: the host may have limited it.`,
    );
  if (farHost && isHostFull(farHost))
    sentences.unshift(
      `Core ${farHost.core!.number} of ${farHost.host}, which serves the share, was busy for ${formatPercent(farHost.core!.mean)} of the run: the far host may have limited it.`,
    );
  return sentences.join(" ");
}

/** Why a cause is open, to follow "cache or heat:". */
const unknownBecause = ({ warmthKnown }: TraceReading) =>
  warmthKnown ? "the temperature does not tell which" : "no temperature was reported";

function tellEdge(reading: TraceReading, rate: Rate): string[] {
  const { cacheEdge, levels } = reading;
  if (!cacheEdge) return [];
  const at = levels.findIndex(({ name }) => name === "folded");
  const before = levels.slice(0, Math.max(0, at)).findLast(({ name }) => name !== "stall");
  const after = levels[at];
  const place = `${formatSize(cacheEdge.bytes, 1000)}, ${formatDuration(cacheEdge.ms)} into the run`;
  const rates =
    before && after ? `${rate(before.rateMBps)} before, ${rate(after.rateMBps)} after` : null;
  if (cacheEdge.cause === "cache") {
    const { freeBytes } = cacheEdge;
    const free = freeBytes === null ? "" : `, with ${formatSize(freeBytes, 1000)} still free`;
    return [`The cache gave out after ${place}${free}${rates ? `: ${rates}` : ""}.`];
  }
  return [
    `The rate fell after ${place}${rates ? `: ${rates}` : ""}. Cache or heat: ${unknownBecause(reading)}.`,
  ];
}

function tellHeat({ throttled, levels, sustainedMBps }: TraceReading, rate: Rate): string[] {
  if (throttled !== true) return [];
  const slow = levels.filter(({ name }) => name === "throttled");
  const cool = levels.filter(({ name }) => name !== "throttled" && name !== "stall");
  if (slow.length === 0 || cool.length === 0) return ["Heat slowed the run down."];
  const least = Math.min(...slow.map(({ rateMBps }) => rateMBps));
  const most = Math.max(...cool.map(({ rateMBps }) => rateMBps));
  const kept =
    slow.length > 1 ? `; over its ups and downs it sustained ${rate(sustainedMBps)}` : "";
  return [`Heat slowed the run down, from ${rate(most)} to ${rate(least)}${kept}.`];
}

/** A fall that is no edge of a write cache, and that nothing explains. */
function tellOpenFall(reading: TraceReading, rate: Rate): string[] {
  const { throttled, cacheEdge, levels } = reading;
  if (throttled !== null || cacheEdge) return [];
  const moving = levels.filter(({ name }) => name !== "stall");
  const most = Math.max(...moving.map(({ rateMBps }) => rateMBps));
  const last = moving.at(-1)!.rateMBps;
  return [
    `The rate fell from ${rate(most)} to ${rate(last)}. Whether heat did that is open: ${unknownBecause(reading)}.`,
  ];
}
