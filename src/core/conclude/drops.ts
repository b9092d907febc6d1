import type { DropIn } from "../judge/bursts";
import { dropOf } from "../judge/drop";
import { counts, isTraced, type BriefMeasurement } from "../study/measurement";
import { openRun } from "../study/open-run";

/** Places of a trace that is read and not drawn. */
const FEW = 10;

/** What slowed long runs down, read from the traces that came with them. */
export function dropsFrom(measurements: readonly BriefMeasurement[]): DropIn {
  const byId = new Map(measurements.map((one) => [one.id, one]));
  return ([id]) => {
    const one = id === undefined ? undefined : byId.get(id);
    // What was typed has no trace.
    const run = one?.origin === "typed" ? undefined : one?.runs.find(counts);
    return one && run && isTraced(run) ? dropOf(openRun(one, run, FEW)) : null;
  };
}
