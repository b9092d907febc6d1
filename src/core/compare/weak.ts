import { differences } from "../chain/difference";
import type { Part } from "../chain/part";
import { replacePart, type Rig } from "../chain/rig";
import { linkProblems } from "../chain/bottleneck";
import { conditionsDiffer } from "../study/condition-rows";
import type { AskedRig } from "../study/asked-rig";
import type { Observation } from "../study/measurement";
import type { Cell } from "./cell";

/** Something that makes a comparison weak. */
export interface Weakness {
  what: string;
  letters: string[];
  /** What would make it sound: a run, or a rig of which no more is different; null where nothing would. */
  cure: string | null;
  /** That rig, where it is one that can be put together. */
  rig: AskedRig | null;
}

export interface Side {
  letter: string;
  rig: Rig;
  seen: Observation;
  cell: Cell;
}

/** Repeats whose spread is larger than this are not to be trusted with a few per cent. */
const RESTLESS = 0.1;

/** What is weak about what was seen of a rig, by itself and beside the baseline. */
export function weaknesses(one: Side, base: Side | null): Weakness[] {
  const { letter, cell } = one;
  const found: Weakness[] = [];
  const say = (what: string, cure: string | null, rig: AskedRig | null = null) =>
    found.push({ what, letters: [letter], cure, rig });
  if (cell.repeats.n === 1)
    say("one run only: there is no interval to hold a difference against", "repeat it twice more");
  else if (cell.repeats.spread > RESTLESS)
    say(
      "its repeats lie more than 10 % apart",
      "repeat it on a quiet machine, and look at what happened in each run",
    );
  if (cell.efficiency !== null && cell.efficiency > 1)
    say(
      "above its hard ceiling: memory answered, or a link is not what was declared",
      "measure it past the page cache, with a span larger than memory",
    );
  else if (cell.doubtful) say("memory may have answered", "measure it past the page cache");
  if (!base || base.rig.id === one.rig.id) return found;
  if (cell.origin !== base.cell.origin)
    say(`${cell.origin} here and ${base.cell.origin} there`, "measure both");
  if (cell.key !== base.cell.key)
    say(
      "another definition of the same drill than the baseline’s",
      `measure it as rig ${base.letter} was`,
    );
  if (cell.mark === "same") say("the same as the baseline within the noise", null);
  const parts = differences(base.rig, one.rig);
  if (parts.length > 1) {
    const between = halfWay(base.rig, one.rig);
    say(
      `differs from the baseline in ${parts.length} things: ${parts.map(({ what }) => what).join("; ")}`,
      between
        ? `measure the rig between them: ${between.map(({ name }) => name).join(" · ")}`
        : "change one thing at a time",
      between && { like: base.rig.id, parts: between.map(({ id }) => id) },
    );
  }
  const circumstances = conditionsDiffer(one.seen.circumstances, base.seen.circumstances);
  if (circumstances.length > 0) {
    const words = circumstances.slice(0, 3).map(({ what, a, b }) => `${what} ${a}, there ${b}`);
    const more = circumstances.length > 3 ? ` and ${circumstances.length - 3} more` : "";
    say(`other conditions than the baseline: ${words.join("; ")}${more}`, "measure both as one");
  }
  return found;
}

/**
 * The rig that differs from a baseline in one part only, on the way to another rig: the baseline with
 * the first of its differing parts exchanged that links there.
 *
 * @returns its chain from host to drive; null where they differ in something else than exchanged parts
 */
export function halfWay(base: Rig, other: Rig): Part[] | null {
  for (const change of differences(base, other)) {
    if (change.kind !== "part" || !change.a || !change.b) continue;
    const { a, b } = change;
    if (!base.parts.some(({ id }) => id === a.id)) continue;
    const between = replacePart(base, a, b);
    if (linkProblems(between).length === 0) return between.parts;
  }
  return null;
}
