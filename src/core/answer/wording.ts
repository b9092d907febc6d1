import { PART_KIND_NAMES, type Part } from "../chain/part";
import type { Narrows } from "../locate/narrows";
import { DOING, type Direction } from "../units/rate";

/** A piece of an answer's sentence; `narrows` marks the words that name what limits. */
export type Segment = { text: string; narrows?: boolean };

export const say = (text: string): Segment => ({ text });
export const mark = (text: string): Segment => ({ text, narrows: true });

/** A part as said in a sentence: "cable K2", "the Serac enclosure", with no kind said twice. */
export function called(part: Part): string {
  if (part.kind === "network-box") return part.name;
  const kind = PART_KIND_NAMES[part.kind];
  const lastWord = kind.split(" ").at(-1)!;
  if (part.name.toLowerCase().includes(lastWord)) return part.name;
  return part.kind === "cable" ? `cable ${part.name}` : `the ${part.name} ${kind}`;
}

/** Puts a capital at the start of a sentence. */
export function capital(text: string): string {
  return text.charAt(0).toUpperCase() + text.slice(1);
}

/** The narrows as the subject of a sentence, in segments. */
export function nameNarrows(narrows: Narrows): Segment[] {
  const { link, culprits } = narrows;
  const [only] = culprits;
  if (!link?.mode) {
    return only!.kind === "drive"
      ? [mark(called(only!)), say(" itself")]
      : [mark(called(only!)), say("’s own limit")];
  }
  if (only && culprits.length === 1) {
    return only.kind === "cable"
      ? [mark(called(only)), say(`, which holds its link to ${link.mode.short}`)]
      : [mark(called(only)), say(`’s own ${link.mode.short} link`)];
  }
  return [
    say("the "),
    mark(`${link.mode.short} link`),
    say(` from ${link.upper.name} to ${link.lower.name}`),
  ];
}

/** "reading" or "writing". */
export const doing = (direction: Direction) => DOING[direction];

/** Joins names as in speech: "a", "a and b", "a, b and c". */
export function list(items: readonly string[]): string {
  if (items.length < 2) return items.join("");
  return `${items.slice(0, -1).join(", ")} and ${items.at(-1)}`;
}
