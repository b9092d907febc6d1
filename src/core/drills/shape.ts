import type { Requests } from "../chain/predict";
import { formatSize } from "../units/size";
import { DRILLS } from "./catalogue";
import { defineFrom, drillKey, kindOf, programOf, summaryOf, titleOf, type Drill } from "./drill";

/** What of a drill a prediction depends on: the requests of its flow, of a ladder those of its last step up. */
export interface DrillShape extends Requests {
  title: string;
  /** The trade description, always shown beside the title. */
  what: string;
}

/** The requests that a drill keeps in flight; null for one that keeps none, such as a copy. */
export function shapeOf(drill: Drill): DrillShape | null {
  if (!shapes.has(drill)) shapes.set(drill, makeShape(drill));
  return shapes.get(drill)!;
}

const shapes = new WeakMap<Drill, DrillShape | null>();

function makeShape(drill: Drill): DrillShape | null {
  const flows = programOf(drill).filter((step) => step.do === "flow");
  const [first] = flows;
  if (!first) return null;
  // A ladder is known by its fastest step: the one that asks for most at a time.
  const asks = ({ block, depth }: { block: number; depth: number }) => block * depth;
  const flow = flows.reduce((a, b) => (asks(b) > asks(a) ? b : a));
  return {
    title: titleOf(drill),
    what: `${kindOf(drill).what}: ${summaryOf(drill)}`,
    block: flow.block,
    depth: flow.depth,
  };
}

/**
 * The same for drills whose rates can be held against each other: of one kind, with as large requests
 * and as many of them in flight. Of a drill that keeps none in flight everything that is set counts.
 */
export function requestsKey(drill: Drill): string {
  const known = requests.get(drill);
  if (known) return known;
  const shape = shapeOf(drill);
  const key = shape ? [drill.name, shape.block, shape.depth].join() : drillKey(drill);
  requests.set(drill, key);
  return key;
}

const requests = new WeakMap<Drill, string>();

/** The requests of a drill in words, "4 KiB, 32 in flight"; of one without any, its settings. */
export function requestsWords(drill: Drill): string {
  const shape = shapeOf(drill);
  return shape ? `${formatSize(shape.block)}, ${shape.depth} in flight` : summaryOf(drill);
}

/** Whether two drills ask for the same, in the same direction. */
export const isAlike = (a: Drill, b: Drill): boolean =>
  a.direction === b.direction && requestsKey(a) === requestsKey(b);

/**
 * Whether what one drill reaches another is to reach as well, MB/s: it asks for no larger requests, and
 * has no more in flight.
 */
export function asksNoMore(one: Drill, other: Drill): boolean {
  const [a, b] = [shapeOf(one), shapeOf(other)];
  if (!a || !b) return requestsKey(one) === requestsKey(other);
  return a.block <= b.block && a.block * a.depth <= b.block * b.depth;
}

/** The usual form of a drill, with what is set of it. */
export const usualDrill = (
  name: string,
  direction: Drill["direction"],
  set: Readonly<Record<string, unknown>> = {},
): Drill => defineFrom({ name, direction, ...set }, null);

/** The drills that a rig's prediction is given for. */
export const PREDICTED_DRILLS: readonly DrillShape[] = DRILLS.flatMap(({ name, everyday = [] }) =>
  everyday.map(({ what, set }) => {
    const shape = shapeOf(usualDrill(name, "read", set))!;
    return { ...shape, what };
  }),
);

/** Drills whose trace is one flow, whose level may change by itself; of others the steps change it. */
export const hasLevels = (drill: Drill): boolean =>
  ["rate", "fill", "copy"].includes(kindOf(drill).picture) || kindOf(drill).goesOn === true;
