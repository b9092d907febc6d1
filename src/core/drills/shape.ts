import { DRILLS } from "./catalogue";
import { defineFrom, kindOf, programOf, summaryOf, titleOf, type Drill } from "./drill";

/** What of a drill a prediction depends on: the requests of its first flow. */
export interface DrillShape {
  title: string;
  /** The trade description, always shown beside the title. */
  what: string;
  block: number;
  depth: number;
}

/** The requests that a drill keeps in flight; null for one that keeps none, such as a copy. */
export function shapeOf(drill: Drill): DrillShape | null {
  if (!shapes.has(drill)) shapes.set(drill, makeShape(drill));
  return shapes.get(drill)!;
}

const shapes = new WeakMap<Drill, DrillShape | null>();

function makeShape(drill: Drill): DrillShape | null {
  const flow = programOf(drill).find((step) => step.do === "flow");
  if (!flow) return null;
  return {
    title: titleOf(drill),
    what: `${kindOf(drill).what}: ${summaryOf(drill)}`,
    block: flow.block,
    depth: flow.depth,
  };
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
