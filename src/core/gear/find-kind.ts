import type { PartKind } from "../chain/part";
import type { GearKind } from "./gear-kind";
import { means, typedWords } from "./gear-words";

/** What was typed, told apart: the words that say what it is, and those that do not. */
export interface FoundKinds {
  /**
   * Those that have most of the words, first those that are called by them, then in their usual order; all
   * where no word says anything.
   */
  kinds: GearKind[];
  /** Whether the kinds that were found have every word that says what it is. */
  whole: boolean;
  /** Words that no kind knows: what the tester calls it. */
  others: string[];
}

/**
 * Finds everyday kinds of gear by the words that were typed: "10g nvme box".
 *
 * @param sorts the sorts of part to look among; all where none is named
 */
export function findKinds(
  typed: string,
  kinds: readonly GearKind[],
  sorts: readonly PartKind[] = [],
): FoundKinds {
  const among = sorts.length === 0 ? kinds : kinds.filter(({ kind }) => sorts.includes(kind));
  const words = typedWords(typed);
  const known = words.filter((word) => kinds.some((kind) => means(word, kind.words)));
  const others = words.filter((word) => !known.includes(word));
  if (known.length === 0) return { kinds: [...among], whole: true, others };
  const count = (words: ReadonlySet<string>) => known.filter((word) => means(word, words)).length;
  const scored = among.map((kind) => ({
    kind,
    score: count(kind.words),
    named: count(kind.named),
  }));
  const best = Math.max(0, ...scored.map(({ score }) => score));
  return {
    kinds: scored
      .filter(({ score }) => best > 0 && score === best)
      .sort((a, b) => b.named - a.named)
      .map(({ kind }) => kind),
    whole: best === known.length,
    others,
  };
}
