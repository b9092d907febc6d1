import * as z from "zod";

/** What a level of a trace is called. */
export const LevelName = z.enum(["burst", "folded", "recovery", "throttled", "steady"]);
export type LevelName = z.infer<typeof LevelName>;

/** Level names as pages and commands say them. */
const LEVEL_WORDS: Record<LevelName, string> = {
  burst: "burst",
  folded: "after the cache",
  recovery: "recovery",
  throttled: "throttled",
  steady: "steady",
};

/** What a mark is called; of a fall whose cause is open, no cause. */
export const markWords = ({ name, open }: Pick<Mark, "name" | "open">): string => {
  if (open) return "after the fall";
  return name in LEVEL_WORDS ? LEVEL_WORDS[name as LevelName] : name;
};

/** What a level is called, by the mark that begins it. @param marks of the same trace */
export const levelWords = (
  { name, fromMs }: { name: LevelName | "stall"; fromMs: number },
  marks: readonly Mark[],
): string => {
  const mark = marks.find(({ of, ms }) => of === "level" && ms === fromMs);
  return markWords(mark?.open ? { name, open: true } : { name });
};

/** What else happens in a trace. */
export const HappeningName = z.enum([
  "stall",
  "gap",
  "dip",
  "dips",
  "reset",
  "error",
  "gone",
  "link",
  "kernel",
  "space",
  "note",
  "mark",
  "heat",
]);
export type HappeningName = z.infer<typeof HappeningName>;

/**
 * Something found in a trace at some time: the beginning of a level, or something that happened.
 * Both can be corrected by hand.
 */
export interface Mark {
  /** The same whenever the same trace is read, and whatever was corrected. */
  id: string;
  of: "level" | "happening";
  name: LevelName | HappeningName;
  ms: number;
  /** Of what lasts for a while; null for a moment. A level lasts until the next one. */
  until: number | null;
  /** Why it is called so, or what it was, in words. */
  text: string;
  /** Of a level that begins with a fall whose cause is open: a cache, heat, or what nobody saw. */
  open?: true;
  /** How it was corrected by hand, if it was. */
  corrected: "moved" | "renamed" | "added" | null;
}

const id = z.string().min(1).max(60);
const ms = z.number().min(-1e12).max(1e12);

/** A correction by hand. */
export const Correction = z.discriminatedUnion("do", [
  z.strictObject({ do: z.literal("move"), id, ms }),
  z.strictObject({ do: z.literal("rename"), id, name: z.union([LevelName, HappeningName]) }),
  z.strictObject({ do: z.literal("strike"), id }),
  z.strictObject({
    do: z.literal("add"),
    id,
    of: z.enum(["level", "happening"]),
    name: z.union([LevelName, HappeningName]),
    ms,
  }),
]);
export type Correction = z.infer<typeof Correction>;

export const Corrections = z.array(Correction).max(200, "at most 200 corrections of one run");

/**
 * Marks with the corrections made to them, one after another. A correction of a mark that is not there
 * (any more) changes nothing.
 *
 * @returns in order of time
 */
export function corrected(marks: readonly Mark[], corrections: readonly Correction[]): Mark[] {
  let all = [...marks];
  for (const one of corrections) {
    const at = all.findIndex((mark) => mark.id === one.id);
    const mark = all[at];
    switch (one.do) {
      case "add":
        if (mark) break;
        all.push({
          id: one.id,
          of: one.of,
          name: one.name,
          ms: one.ms,
          until: null,
          text: "added by hand",
          corrected: "added",
        });
        break;
      case "strike":
        // The first level is the trace's beginning: it can be renamed, and not taken away.
        if (mark && mark !== firstLevel(all)) all = all.filter((other) => other !== mark);
        break;
      case "move": {
        if (!mark || mark === firstLevel(all)) break;
        const until = mark.until === null ? null : mark.until + one.ms - mark.ms;
        all[at] = { ...mark, ms: one.ms, until, corrected: mark.corrected ?? "moved" };
        break;
      }
      case "rename":
        if (mark && kindOf(one.name) === mark.of) {
          // Who gives a level its name knows what it comes from.
          const { open: _, ...known } = mark;
          all[at] = { ...known, name: one.name, corrected: mark.corrected ?? "renamed" };
        }
        break;
    }
  }
  return all.sort((a, b) => a.ms - b.ms);
}

const kindOf = (name: string): Mark["of"] =>
  LevelName.safeParse(name).success ? "level" : "happening";

const firstLevel = (marks: readonly Mark[]) =>
  marks.filter(({ of }) => of === "level").reduce((a, b) => (b.ms < a.ms ? b : a));
