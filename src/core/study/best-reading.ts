import * as z from "zod";
import { flowParts } from "../chain/rig";
import { counts, isFromMemory, type BriefMeasurement } from "./measurement";

/** The best run of reading through a part, past the page cache. */
export const BestReading = z.object({ mbps: z.number().positive(), simulated: z.boolean() });
export type BestReading = z.infer<typeof BestReading>;

/**
 * Returns the best run of reading through rigs that held a part, by part, MB/s. Where anything was measured,
 * what was simulated does not count.
 */
export function bestReadings(
  measurements: readonly BriefMeasurement[],
): Record<string, BestReading> {
  const best: Record<string, BestReading> = {};
  for (const one of measurements) {
    const { rig, drill, origin, warmUp } = one;
    const isKnown = origin === "measured" || origin === "simulated";
    if (!isKnown || warmUp || drill.direction !== "read" || one.conditions?.io !== "direct")
      continue;
    const rates = one.runs.flatMap((run) =>
      counts(run) && !isFromMemory(one, run) ? run.result!.meanMBps : [],
    );
    const mbps = Math.max(0, ...rates);
    if (mbps === 0) continue;
    const own = { mbps, simulated: origin === "simulated" };
    for (const { id } of flowParts(rig)) best[id] = better(best[id], own);
  }
  return best;
}

/** The better of two: measured before simulated, then the faster. */
export const better = (a: BestReading | undefined, b: BestReading): BestReading =>
  a === undefined ||
  (a.simulated && !b.simulated) ||
  (a.simulated === b.simulated && b.mbps > a.mbps)
    ? b
    : a;
