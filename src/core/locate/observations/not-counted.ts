import { summaryOf, titleOf } from "../../drills/drill";
import { requestsKey } from "../../drills/shape";
import { conditionsDiffer } from "../../study/condition-rows";
import { isOf, type BriefMeasurement, type Observation } from "../../study/measurement";
import type { Rig } from "../../chain/rig";
import { differences } from "../../chain/difference";
import { counted } from "../../units/counted";
import { DOING } from "../../units/rate";
import { counts } from "../../study/measurement";

const LEFT_OUT = "left out by the tester";

/** Something that was measured and does not count, or counts for little, with the reason. */
export interface NotCounted {
  text: string;
  why: string;
  measurementIds: string[];
}

/**
 * What speaks neither for nor against anything that may hold a rig back, and why.
 *
 * @param slow what was seen of the rig
 * @param measurements of the study, the latest first
 * @param rigs of the study as they stand
 * @param used everything that was weighed for the rig
 */
export function notCounted(
  slow: Observation,
  measurements: readonly BriefMeasurement[],
  rigs: readonly Rig[],
  used: readonly Observation[],
): NotCounted[] {
  const found = new Map<string, NotCounted & { names: Set<string> }>();
  const say = (why: string, name: string, ids: readonly string[]) => {
    const known = found.get(why) ?? { text: "", why, measurementIds: [], names: new Set<string>() };
    known.names.add(name);
    known.measurementIds.push(...ids);
    found.set(why, known);
  };
  /** How many runs were left out, by the name of their rig. */
  const leftOut = new Map<string, number>();
  const real = slow.origin !== "simulated";
  for (const one of measurements) {
    const name = one.rig.name || "a rig";
    const ids = [one.id];
    const left = one.runs.filter(({ leftOut, result }) => result && leftOut !== null);
    if (left.length > 0) {
      leftOut.set(name, (leftOut.get(name) ?? 0) + left.length);
      say(LEFT_OUT, name, ids);
    }
    if (one.warmUp) say("made to warm up", name, ids);
    else if (one.origin === "watched")
      say("watched while other programs worked: no drill says what was asked of it", name, ids);
    else if (!one.runs.some(counts)) {
      if (one.runs.length > 0 && left.length === 0) say("never finished", name, ids);
    } else if (one.conditions?.io === "buffered")
      say("measured through the page cache: memory may have answered", name, ids);
    else if (real && one.origin === "simulated")
      say("simulated: it shows nothing of real parts", name, ids);
    else if (!rigs.some((rig) => isOf({ rig: one.rig } as Observation, rig)))
      say("its rig was changed since, or taken out of the study", name, ids);
    else if (one.drill.name !== slow.drill.name)
      say(`another drill: ${titleOf(one.drill)}`, name, ids);
    else if (one.drill.direction !== slow.drill.direction)
      say(
        `the other direction: ${one.drill.direction === "mixed" ? "mixed" : DOING[one.drill.direction]}`,
        name,
        ids,
      );
    else if (requestsKey(one.drill) !== requestsKey(slow.drill))
      say(`with other requests: ${summaryOf(one.drill)}`, name, ids);
  }
  for (const one of used) {
    if (one.rig === slow.rig) {
      if (one.repeats.n === 1)
        say("one repeat only: it counts as one, without a spread of its own", one.rig.name, [
          ...one.measurementIds,
        ]);
      continue;
    }
    const apart = differences(slow.rig, one.rig).length;
    if (apart > 1)
      say(
        "differs in several things at once: by itself it shows nothing of one part, and counts only with all others",
        `${one.rig.name} (${apart})`,
        one.measurementIds,
      );
    if (one.repeats.n === 1)
      say("one repeat only: it counts as one, without a spread of its own", one.rig.name, [
        ...one.measurementIds,
      ]);
    const hot = conditionsDiffer(one.circumstances, slow.circumstances).find(
      ({ what }) => what === "drive as it began",
    );
    if (hot)
      say("began warmer or cooler than this rig did", `${one.rig.name} (${hot.a}, not ${hot.b})`, [
        ...one.measurementIds,
      ]);
  }
  return [...found.values()].map(({ names, why, measurementIds }) => {
    const runs = (name: string) => `${name} (${counted(leftOut.get(name) ?? 0, "run")})`;
    const all = why === LEFT_OUT ? [...names].map(runs) : [...names];
    const more = all.length > 4 ? ` and ${counted(all.length - 4, "other")}` : "";
    return { why, measurementIds, text: all.slice(0, 4).join(", ") + more };
  });
}
