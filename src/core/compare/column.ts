import { DRILLS } from "../drills/catalogue";
import { drillKey, kindOf, summaryOf, titleOf, type Drill } from "../drills/drill";
import { requestsKey, requestsWords, shapeOf } from "../drills/shape";
import type { Observation } from "../study/measurement";
import { Direction } from "../units/rate";
import type { Question } from "./question";

/** A drill in one direction, as far as its rates can be held against each other. */
export interface Column {
  /** Definitions of the drill whose runs stand in it: never two of one rig. */
  keys: readonly string[];
  drill: string;
  title: string;
  /** The trade's description of the drill. */
  what: string;
  direction: Direction;
  depth: number | null;
  block: number | null;
}

/** Runs that a column is made for. */
type Seen = Pick<Observation, "rig" | "drill">;

/** Definitions of a drill that stand in one column, by the rigs that they were done on. */
interface Definitions {
  drill: Drill;
  keys: string[];
  rigIds: Set<string>;
}

/**
 * The drills that are asked for and were done, in the directions that are asked for. Other requests are a
 * column of their own. Other settings are one only where a rig was measured by both: a span, for one,
 * follows from the room there is, and parts no rigs.
 *
 * @param seen the latest first
 */
export function columnsOf({ drill: name, direction }: Question, seen: readonly Seen[]): Column[] {
  const asked = seen.filter(
    ({ drill }) =>
      (name === "all" || drill.name === name) &&
      (direction === "both" || drill.direction === direction),
  );
  const byRequests = new Map<string, Seen[]>();
  for (const one of asked) {
    const key = `${one.drill.direction} ${requestsKey(one.drill)}`;
    byRequests.set(key, [...(byRequests.get(key) ?? []), one]);
  }
  const all = [...byRequests.values()].flatMap(withoutOverlap);
  const place = ({ drill, direction: way }: Column) =>
    DRILLS.findIndex((kind) => kind.name === drill) * 2 + Direction.options.indexOf(way);
  return all
    .map(({ drill, keys }) => {
      const beside = all.filter(
        (other) =>
          other.keys !== keys &&
          other.drill.name === drill.name &&
          other.drill.direction === drill.direction,
      );
      return columnOf(
        drill,
        keys,
        beside.map((other) => other.drill),
      );
    })
    .toSorted(
      (a, b) =>
        place(a) - place(b) || (a.block ?? 0) - (b.block ?? 0) || (a.depth ?? 0) - (b.depth ?? 0),
    );
}

/** Definitions put together as far as no rig was measured by two of them; the one with the most rigs first. */
function withoutOverlap(seen: readonly Seen[]): Definitions[] {
  const byKey = new Map<string, Definitions>();
  for (const { drill, rig } of seen) {
    const key = drillKey(drill);
    const known = byKey.get(key) ?? { drill, keys: [key], rigIds: new Set() };
    known.rigIds.add(rig.id);
    byKey.set(key, known);
  }
  const found: Definitions[] = [];
  for (const one of [...byKey.values()].toSorted((a, b) => b.rigIds.size - a.rigIds.size)) {
    const fits = found.find(({ rigIds }) => ![...one.rigIds].some((id) => rigIds.has(id)));
    if (!fits) found.push(one);
    else {
      fits.keys.push(...one.keys);
      for (const id of one.rigIds) fits.rigIds.add(id);
    }
  }
  return found;
}

/** @param beside other columns of the same drill and direction: the title says what differs */
function columnOf(drill: Drill, keys: readonly string[], beside: readonly Drill[]): Column {
  const shape = shapeOf(drill);
  return {
    keys,
    drill: drill.name,
    title: [titleOf(drill), ...ownWords(drill, beside)].join(", "),
    what: kindOf(drill).what,
    direction: drill.direction as Direction,
    depth: shape?.depth ?? null,
    block: shape?.block ?? null,
  };
}

/** What is set of a drill and not of all others: by its requests where those differ, else by what does. */
function ownWords(drill: Drill, beside: readonly Drill[]): string[] {
  if (beside.length === 0) return [];
  const requests = requestsWords(drill);
  if (beside.every((other) => requestsWords(other) !== requests)) return [requests];
  const others = beside.map((other) => summaryOf(other).split(", "));
  const own = summaryOf(drill)
    .split(", ")
    .filter((words) => !others.every((all) => all.includes(words)));
  return own.length > 0 ? own : ["other settings"];
}
