import * as z from "zod";
import { defineDrill, together, type DrillDirection, type DrillKind } from "../kind";
import { wholeMiB, type Parameter, type TargetFacts } from "../parameter";
import { leastSeconds, Step, type MixEntry, type StepInput } from "../../run/program";
import { mixBytes } from "./ferry";

/** One piece of the work that a Round stands for: a drill with what is set of it. */
export const RoundPart = z.object({
  name: z.string().trim().min(1, "give the step a name").max(80, "at most 80 characters"),
  drill: z.string(),
  direction: z.enum(["read", "write", "mixed"]),
  set: z.record(z.string(), z.unknown()).default({}),
});
export type RoundPart = z.infer<typeof RoundPart>;

const KIB = 2 ** 10;
const MIB = 2 ** 20;

/** Pieces of work that come with the program. */
export const WORK: Record<string, RoundPart[]> = {
  "take in a card": [
    {
      name: "copy pictures and clips in",
      drill: "ferry",
      direction: "write",
      set: {
        mix: [
          { files: 60, bytes: 8 * MIB },
          { files: 2, bytes: 256 * MIB },
        ],
      },
    },
    {
      name: "make previews",
      drill: "scatter",
      direction: "read",
      set: { block: 128 * KIB, depth: 4, seconds: 5, span: 512 * MIB },
    },
    {
      name: "check what arrived",
      drill: "haul",
      direction: "read",
      set: { seconds: 5, span: 512 * MIB },
    },
  ],
  "open a project": [
    {
      name: "load its many small files",
      drill: "scatter",
      direction: "read",
      set: { block: 16 * KIB, depth: 2, seconds: 8, span: 512 * MIB },
    },
    {
      name: "play a recording",
      drill: "haul",
      direction: "read",
      set: { depth: 2, seconds: 8, span: 512 * MIB },
    },
    {
      name: "work in it",
      drill: "scatter",
      direction: "mixed",
      set: { block: 16 * KIB, depth: 4, writeShare: 0.3, seconds: 8, span: 512 * MIB },
    },
    {
      name: "save it",
      drill: "haul",
      direction: "write",
      set: { depth: 2, seconds: 5, span: 512 * MIB, countFlush: true },
    },
  ],
  "back it up": [
    {
      name: "many small files",
      drill: "ferry",
      direction: "write",
      set: {
        mix: [
          { files: 2000, bytes: 16 * KIB },
          { files: 100, bytes: MIB },
        ],
      },
    },
    {
      name: "a few large archives",
      drill: "haul",
      direction: "write",
      set: { seconds: 10, span: 512 * MIB, countFlush: true },
    },
    {
      name: "read an archive back",
      drill: "haul",
      direction: "read",
      set: { seconds: 5, span: 512 * MIB },
    },
  ],
};
const NAMES = Object.keys(WORK);
const [FIRST_WORK] = NAMES as [string];

/**
 * Round: several drills in a row that stand for a piece of work.
 *
 * @param kinds the drills it may be put together from
 * @param parse fills in what is left out of a part's settings; throws where they make no sense
 */
export function roundOf(
  kinds: readonly DrillKind[],
  parse: (kind: DrillKind, part: RoundPart, facts: TargetFacts | null) => Record<string, unknown>,
): DrillKind {
  const find = (name: string) => kinds.find((kind) => kind.name === name);
  const work: Parameter<string> = {
    label: "Work",
    hint: "what the steps stand for",
    kind: "text",
    schema: z.string().trim().min(1, "give the work a name").max(80, "at most 80 characters"),
    usual: () => ({
      value: FIRST_WORK,
      reason: `${FIRST_WORK}: one of those that come with the program (${NAMES.join(", ")})`,
    }),
  };
  const steps: Parameter<RoundPart[]> = {
    label: "Steps",
    hint: "the drills of the work, in order",
    kind: "parts",
    schema: z
      .array(RoundPart, { error: "must be a list of steps" })
      .min(1, "at least one step")
      .max(20, "at most twenty steps")
      .superRefine((parts, context) => {
        parts.forEach((part, i) => {
          const kind = find(part.drill);
          const problem = !kind
            ? `there is no drill "${part.drill}" that a Round can be made of`
            : !kind.directions.includes(part.direction)
              ? `${kind.title} does not go ${part.direction}`
              : problemOf(() => parse(kind, part, null));
          if (problem) context.addIssue({ code: "custom", path: [i], message: problem });
        });
      }),
    usual(facts, set) {
      const known = WORK[String(set.work)];
      const parts = known ?? WORK[FIRST_WORK]!;
      const value = facts ? parts.map((part) => fitted(part, facts.room)) : parts;
      const smaller = JSON.stringify(value) !== JSON.stringify(parts);
      const from = known ? `as ${String(set.work)} comes with the program` : "to begin with";
      return { value, reason: smaller ? `${from}, made to fit beside the reserve` : from };
    },
  };
  return defineDrill({
    name: "round",
    title: "Round",
    what: "several drills in a row that stand for a piece of work",
    why: "Shows which steps of a piece of work gain from a wider link, and which do not.",
    directions: ["mixed"],
    targets: "one",
    picture: "steps",
    shows: [],
    repeats: 1,
    parameters: { work, steps },
    complete: ({ steps }, facts) => ({
      steps: steps.map((part) => ({ ...part, set: parse(find(part.drill)!, part, facts) })),
    }),
    program: ({ steps }) =>
      steps.flatMap((part): StepInput[] => {
        const kind = find(part.drill)!;
        const values = { ...parse(kind, part, null), direction: part.direction };
        return kind
          .program(values as { direction: DrillDirection }, { targets: 1 })
          .map((step) => ({ ...step, label: { ...step.label, name: part.name } }));
      }),
    headline: together,
    summary({ work, steps }) {
      const program = this.program({ work, steps, direction: "mixed" }, { targets: 1 });
      const least = Math.round(leastSeconds(program.map((step) => Step.parse(step))));
      return `${work}: ${steps.length} steps, ${least} s at least`;
    },
  });
}

/** A part of a work that comes with the program, no larger than there is room for. */
function fitted(part: RoundPart, room: number): RoundPart {
  const { span, mix } = part.set as { span?: number; mix?: MixEntry[] };
  return {
    ...part,
    set: {
      ...part.set,
      ...(span && span > room ? { span: wholeMiB(room) } : {}),
      ...(mix && mixBytes(mix) > room ? { mix: fewer(mix, room) } : {}),
    },
  };
}

/** Fewer files of the same sizes; at the least one of the smallest. */
function fewer(mix: readonly MixEntry[], room: number): MixEntry[] {
  const share = room / mixBytes(mix);
  const left = mix
    .map(({ files, bytes }) => ({ files: Math.floor(files * share), bytes }))
    .filter(({ files }) => files > 0);
  const smallest = Math.min(...mix.map(({ bytes }) => bytes));
  return left.length > 0 ? left : [{ files: 1, bytes: Math.min(smallest, wholeMiB(room)) }];
}

function problemOf(attempt: () => unknown): string | null {
  try {
    attempt();
    return null;
  } catch (error) {
    return error instanceof z.ZodError
      ? error.issues.map(({ path, message }) => `${path.join(".")} ${message}`).join("; ")
      : String(error);
  }
}
