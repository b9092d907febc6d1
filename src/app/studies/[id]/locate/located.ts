import { drillsDone, letterOf } from "@/core/answer/study";
import type { Part } from "@/core/chain/part";
import type { Drill } from "@/core/drills/drill";
import { usualDrill } from "@/core/drills/shape";
import { USUAL_DRILL } from "@/core/drills/catalogue";
import { locate } from "@/core/locate/locate";
import { showLocated, type ShownLocated } from "@/core/locate/shown";
import { isOf, observationsOf } from "@/core/study/measurement";
import type { RateWords } from "@/core/units/number";
import { Direction } from "@/core/units/rate";
import type { Asked, loadStudy } from "../study";

/** What is located in a study, for one drill in one direction. */
export interface LocatedStudy {
  drill: string;
  asDone: Drill;
  direction: Direction;
  simulated: boolean;
  /** What is open first, then what was found, then what is as designed. */
  rigs: ShownLocated[];
}

/** Locates in a study what the address asks for; without a drill, the first that was done. */
export function locatedIn(
  { rigs, measurements }: ReturnType<typeof loadStudy>,
  shelf: readonly Part[],
  { drill, direction }: Asked,
  rates: RateWords,
): LocatedStudy {
  const ways = [direction, ...Direction.options.filter((way) => way !== direction)];
  const way = ways.find((one) => drillsDone(measurements, one).length > 0) ?? direction;
  const name = drill ?? drillsDone(measurements, way)[0]?.name ?? USUAL_DRILL.name;
  const all = observationsOf(measurements)
    .filter((seen) => rigs.some((rig) => isOf(seen, rig)))
    .filter((seen) => seen.drill.name === name && seen.drill.direction === way);
  const real = all.filter(({ origin }) => origin !== "simulated");
  const seen = real.length > 0 ? real : all;
  const letter = (id: string) => {
    const index = rigs.findIndex((rig) => rig.id === id);
    return index < 0 ? null : letterOf(index);
  };
  const order = ({ asDesigned, settled }: ShownLocated) => (asDesigned ? 2 : settled ? 1 : 0);
  return {
    ...{ drill: name, direction: way, simulated: real.length === 0 && all.length > 0 },
    asDone: seen[0]?.drill ?? usualDrill(name, way),
    rigs: locate(seen, shelf)
      .map((located) => showLocated(located, rates, letter))
      .toSorted((a, b) => order(a) - order(b) || a.observedMBps - b.observedMBps),
  };
}
