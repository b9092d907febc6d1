import * as z from "zod";
import { drillNamed, findDrill, isKind } from "./catalogue";
import type { DrillDirection, DrillKind } from "./kind";
import type { TargetFacts } from "./parameter";
import { Step, type Step as ProgramStep } from "../run/program";
import { settle } from "./settle";

export const DrillDirectionSchema = z.enum(["read", "write", "mixed"]);

/**
 * A fully defined workload: which drill, which way, how often, and everything that is set of it. A
 * run keeps the exact definition it used.
 */
export interface Drill {
  name: string;
  /** What the tester calls it, where it is one of their own. */
  title?: string;
  direction: DrillDirection;
  repeats: number;
  /** The parameters of its kind, by name. */
  [parameter: string]: unknown;
}

/** A drill that the tester has put together and named. */
export interface OwnDrill {
  id: string;
  drill: Drill;
}

const Recorded = z.looseObject({
  name: z.string().refine(isKind, "is not one of the drills"),
  title: z.string().trim().max(80, "at most 80 characters").optional(),
  direction: DrillDirectionSchema,
  repeats: z
    .number({ error: "must be a number" })
    .int("must be a whole number")
    .min(1, "must be at least 1")
    .max(50, "must be at most 50")
    .optional(),
});
const Head = Recorded.extend({
  name: z.string().refine((name) => findDrill(name) !== null, "is not one of the drills"),
});

/**
 * Completes a drill from what was set of it.
 *
 * @param input name and direction, and any of its parameters
 * @param facts of the target
 * @throws z.ZodError that names what makes no sense
 */
export const defineFrom = (input: unknown, facts: TargetFacts | null): Drill =>
  completedFrom(Head.parse(input), facts);

/** The same of what a run of a file holds, which may be no drill: what was watched, or that nothing works. */
export const recordedFrom = (input: unknown): Drill => completedFrom(Recorded.parse(input), null);

function completedFrom(
  { name, title, direction, repeats, ...set }: z.infer<typeof Recorded>,
  facts: TargetFacts | null,
): Drill {
  const kind = drillNamed(name);
  if (!kind.directions.includes(direction)) {
    const message = `${kind.title} goes ${kind.directions.join(" or ")} only`;
    throw new z.ZodError([
      { code: "custom", path: ["direction"], message, input: direction } as z.core.$ZodIssue,
    ]);
  }
  return {
    name,
    ...(title ? { title } : {}),
    direction,
    repeats: repeats ?? kind.repeats,
    ...settle(kind, set, facts),
  };
}

/** What is set of a drill beside its name, its direction and how often it is done. */
export function settingsOf(drill: Drill): Record<string, unknown> {
  const { name: _name, title: _title, direction: _direction, repeats: _repeats, ...set } = drill;
  return set;
}

/** The kind of a drill. @throws RangeError */
export const kindOf = ({ name }: Pick<Drill, "name">): DrillKind => drillNamed(name);

/**
 * The steps of a drill.
 *
 * @param targets how many it is done on
 */
export function programOf(drill: Drill, targets = 1): ProgramStep[] {
  const values = completed(drill);
  return kindOf(drill)
    .program({ ...values, direction: drill.direction }, { targets })
    .map((step) => Step.parse(step));
}

/** Settings of a drill; what an older version did not know is as usual. */
const completed = (drill: Drill) => settle(kindOf(drill), settingsOf(drill), null);

/** What a drill is called: by the tester, or by its kind. */
export const titleOf = (drill: Drill): string => drill.title || kindOf(drill).title;

/** In a few words what is set of a drill. */
export const summaryOf = (drill: Drill): string => kindOf(drill).summary(completed(drill) as never);

/**
 * What makes two runs runs of the same drill: everything but how often it is repeated, and what it is
 * called.
 */
export function drillKey(drill: Drill): string {
  const known = keys.get(drill);
  if (known) return known;
  const entries = Object.entries(completed(drill)).sort(([a], [b]) => (a < b ? -1 : 1));
  const key = JSON.stringify([drill.name, drill.direction, entries]);
  keys.set(drill, key);
  return key;
}

/** Keys made already: a study's runs are told apart again and again. */
const keys = new WeakMap<Drill, string>();
