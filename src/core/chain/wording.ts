import { PART_KIND_NAMES, type Part } from "./part";
import type { Bottleneck } from "./bottleneck";
import { DOING, type Direction } from "../units/rate";
import type { Rig } from "./rig";

/** A piece of an answer's sentence; `bottleneck` marks the words that name what limits. */
export type Segment = { text: string; bottleneck?: boolean };

export const say = (text: string): Segment => ({ text });
export const mark = (text: string): Segment => ({ text, bottleneck: true });

/** A part as said in a sentence: "cable K2", "the Serac enclosure", with no kind said twice. */
export function called(part: Part): string {
  if (part.kind === "network-box") return part.name;
  const kind = PART_KIND_NAMES[part.kind];
  const lastWord = kind.split(" ").at(-1)!;
  if (part.name.toLowerCase().includes(lastWord)) return part.name;
  return part.kind === "cable" ? `cable ${part.name}` : `the ${part.name} ${kind}`;
}

/** File systems that are written in capitals, by how systems name them. */
const FILE_SYSTEM_NAMES: Readonly<Record<string, string>> = {
  ntfs: "NTFS",
  ntfs3: "NTFS",
  exfat: "exFAT",
  vfat: "FAT32",
  hfsplus: "HFS+",
  apfs: "APFS",
};

/** A rig's file system as the subject of a sentence: "NTFS through FUSE", "the file system ext4". */
export function fileSystemCalled({ fileSystem, mountedAs }: Pick<Rig, "fileSystem" | "mountedAs">) {
  const [name = "", ...rest] = fileSystem.split(",").map((word) => word.trim());
  const known = FILE_SYSTEM_NAMES[name.toLowerCase()] ?? name;
  const isFuse = rest.includes("in user space") || /^fuse/.test(mountedAs ?? "");
  if (isFuse) return `${known} through FUSE`;
  const whole = [known, ...rest, ...(mountedAs ? [`mounted as ${mountedAs}`] : [])].join(", ");
  return `the file system ${whole}`;
}

/** Puts a capital at the start of a sentence. */
export function capital(text: string): string {
  return text.charAt(0).toUpperCase() + text.slice(1);
}

/** The bottleneck as the subject of a sentence, in segments. */
export function nameBottleneck(bottleneck: Bottleneck): Segment[] {
  const { link, culprits } = bottleneck;
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

/**
 * The least and the largest of some figures: "88 to 91 %"; one where both are written alike.
 *
 * @param lower writes the lower one, from which a unit that both have is taken
 */
export function span(
  values: readonly number[],
  lower: (value: number) => string,
  upper: (value: number) => string,
): string {
  const [low, high] = [Math.min(...values), Math.max(...values)];
  const most = upper(high);
  if (upper(low) === most) return most;
  const unit = /\s\D+$/.exec(most)?.[0] ?? "";
  const least = lower(low);
  return `${unit && least.endsWith(unit) ? least.slice(0, -unit.length) : least} to ${most}`;
}

/** Letters of rigs as said in a sentence, those that follow one another in one: "A, C and F to K". */
export function inRows(letters: readonly string[]): string {
  const order = letters.toSorted((a, b) => placeOf(a) - placeOf(b));
  const rows: string[][] = [];
  for (const letter of order) {
    const row = rows.at(-1);
    if (row && placeOf(letter) === placeOf(row.at(-1)!) + 1) row.push(letter);
    else rows.push([letter]);
  }
  return list(rows.flatMap((row) => (row.length < 3 ? row : [`${row[0]!} to ${row.at(-1)!}`])));
}

/** Where a letter stands: A is 1, Z 26, AA 27. */
const placeOf = (letter: string): number =>
  [...letter].reduce((sum, sign) => sum * 26 + sign.charCodeAt(0) - 64, 0);
