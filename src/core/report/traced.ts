import { counts, type BriefMeasurement } from "../study/measurement";

/** Traces that one report shows: more is in the study's file. */
export const MOST_TRACES = 32;

/**
 * The measurements whose trace a report shows or reads: the longest, of which time tells most.
 *
 * @param measurements of a study, with the results of their runs
 */
export const tracedIn = (measurements: readonly BriefMeasurement[]): BriefMeasurement[] => {
  const lengthOf = ({ runs }: BriefMeasurement) => runs.find(counts)?.result?.ms ?? -1;
  // Of one rig and drill the latest is enough.
  const latest = new Map<string, BriefMeasurement>();
  for (const one of measurements) {
    const key = `${one.rigId} ${one.drill.name} ${one.drill.direction}`;
    if (!one.warmUp && lengthOf(one) >= 0 && !latest.has(key)) latest.set(key, one);
  }
  return [...latest.values()].toSorted((a, b) => lengthOf(b) - lengthOf(a)).slice(0, MOST_TRACES);
};
