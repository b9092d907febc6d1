import type { Part } from "./part";
import type { RigDraft } from "./rig";

/** A place on the path from host to drive, and the parts that take it in turn; empty where it is left out. */
export interface PathPlace {
  parts: readonly Part[];
}

/** More rigs than one study is set up with at once. */
export const MOST_COMBINED = 48;

/** How many rigs a path makes: one of each part in each place with each of the others. */
export const countCombined = (path: readonly PathPlace[]): number =>
  path.reduce((product, { parts }) => product * Math.max(1, parts.length), 1);

/**
 * The rigs that a path makes: every choice of one part for each place, in the order in which the last place
 * changes first. Each is named by what differs; where nothing does, by all its parts.
 *
 * @returns none where they would be more than can be looked through
 */
export function combine(path: readonly PathPlace[]): { name: string; parts: Part[] }[] {
  if (countCombined(path) > MOST_COMBINED) return [];
  const filled = path.filter(({ parts }) => parts.length > 0);
  const several = filled.map(({ parts }) => parts.length > 1);
  const choices = filled.reduce<Part[][]>(
    (chains, { parts }) => chains.flatMap((chain) => parts.map((part) => [...chain, part])),
    [[]],
  );
  if (filled.length === 0) return [];
  return choices.map((parts) => {
    const differing = parts.filter((_, i) => several[i]);
    const named = differing.length > 0 ? differing : parts;
    return {
      name: named
        .map(({ name }) => name)
        .join(" · ")
        .slice(0, 80),
      parts,
    };
  });
}

/** What makes two rigs one and the same: everything that is said of them but their name and pictures. */
const sameness = ({ name: _, photos: _photos, ...said }: RigDraft): string =>
  JSON.stringify(ordered(said));

/** The same value with the keys of every object in one order. */
function ordered(value: unknown): unknown {
  if (Array.isArray(value)) return value.map(ordered);
  if (value === null || typeof value !== "object") return value;
  const entries = Object.entries(value).filter(([, one]) => one !== undefined);
  return Object.fromEntries(
    entries.sort(([a], [b]) => (a < b ? -1 : 1)).map(([key, one]) => [key, ordered(one)]),
  );
}

/** Whether two rigs are one and the same, whatever they are called. */
export const isEqualRig = (a: RigDraft, b: RigDraft): boolean => sameness(a) === sameness(b);
