import { requestsKey } from "../drills/shape";
import { byRigOf, isOf, observationsOf, Origin } from "../study/measurement";
import type { BriefMeasurement, Observation } from "../study/measurement";
import type { Direction } from "../units/rate";
import type { Rig } from "../chain/rig";

/** What was seen in a study, and what of it counts. */
export interface Counted {
  /** Everything that was seen of the rigs as they stand, the latest first. */
  seen: readonly Observation[];
  /**
   * What conclusions are drawn from: of real parts where there is anything, else what was simulated,
   * which shows nothing of parts that something real is known of.
   */
  counting: readonly Observation[];
}

/**
 * Which runs of a study count. What a rig was before it was changed, or before it was taken out, may have
 * been said wrongly: it counts for nothing.
 *
 * @param measurements the latest first
 * @param without runs that count for nothing beside those that the tester left out, by their ids
 */
export function countedIn(
  rigs: readonly Rig[],
  measurements: readonly BriefMeasurement[],
  without: readonly string[] = [],
): Counted {
  const byId = new Map(rigs.map((rig) => [rig.id, rig]));
  const seen = observationsOf(leaving(measurements, without)).filter((one) => {
    const rig = byId.get(one.rig.id);
    return rig !== undefined && isOf(one, rig);
  });
  const real = seen.filter(({ origin }) => origin !== "simulated");
  return { seen, counting: withoutBallast(real.length > 0 ? real : seen) };
}

/** What was made beside ballast counts only where the same rig and drill were never measured without it. */
export function withoutBallast(seen: readonly Observation[]): readonly Observation[] {
  if (!seen.some(hasBallast)) return seen;
  const key = ({ rig, drill }: Observation) => `${rig.id}|${drill.name}|${drill.direction}`;
  const free = new Set(seen.filter((one) => !hasBallast(one)).map(key));
  return seen.filter((one) => !hasBallast(one) || !free.has(key(one)));
}

const hasBallast = ({ circumstances }: Observation): boolean =>
  circumstances?.conditions?.ballast !== undefined;

function leaving(
  measurements: readonly BriefMeasurement[],
  without: readonly string[],
): readonly BriefMeasurement[] {
  const out = new Set(without);
  if (out.size === 0) return measurements;
  return measurements.map((one) => ({
    ...one,
    runs: one.runs.map((run) => (out.has(run.id) ? { ...run, leftOut: "asked" } : run)),
  }));
}

/**
 * What each rig is known by in one drill and direction, wherever it is shown: measured before typed, typed
 * before simulated; then what was asked of most rigs, as only alike requests can be held against each
 * other; then the latest.
 *
 * @param seen the latest first
 * @returns by the id of the rig, in the order in which they were seen
 */
export function knownIn(
  seen: readonly Observation[],
  drill: string,
  direction: Direction,
): ReadonlyMap<string, Observation> {
  const alike = seen.filter((one) => one.drill.name === drill && one.drill.direction === direction);
  const asked = new Map<string, number>();
  for (const one of alike) {
    const key = requestsKey(one.drill);
    asked.set(key, (asked.get(key) ?? 0) + 1);
  }
  const often = (one: Observation) => asked.get(requestsKey(one.drill))!;
  const rank = (one: Observation) =>
    2 * Origin.options.indexOf(one.origin) + Number(hasBallast(one));
  return new Map(
    [...byRigOf(alike)].map(([id, own]) => [
      id,
      own.reduce((best, one) =>
        rank(one) < rank(best) || (rank(one) === rank(best) && often(one) > often(best))
          ? one
          : best,
      ),
    ]),
  );
}
