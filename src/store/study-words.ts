import { MARKS } from "@/core/study/found-words";
import type { Store } from "./store";

/** The words by which a study is found, each column by itself. */
export interface StudyWords {
  title: string;
  tags: string;
  notes: string;
  rigs: string;
  parts: string;
  findings: string;
}

/** A study that was found. */
export interface FoundWords {
  studyId: string;
  /** A few words around those that were sought, marked by MARKS. */
  excerpt: string;
}

const COLUMNS = ["title", "tags", "notes", "rigs", "parts", "findings"] as const;

/** How much a word counts in each column (bm25): a title more than a note. */
const WEIGHTS = [8, 6, 2, 3, 2, 2];

/** Words of an excerpt. */
const EXCERPT = 14;

/**
 * Has a connection index the words of studies: SQLite's full text search (sqlite.org/fts5.html), in memory.
 * The file holds nothing of it, as the words can be read again from the studies.
 */
function ready(store: Store): void {
  store.$client.exec(
    `create virtual table if not exists temp.study_words using fts5(
      study_id unindexed, ${COLUMNS.join(", ")}, tokenize = "unicode61 remove_diacritics 2"
    )`,
  );
}

/** Puts the words of a study in the place of those that were there. */
export function putStudyWords(store: Store, studyId: string, words: StudyWords): void {
  removeStudyWords(store, studyId);
  const names = COLUMNS.join(", ");
  const values = COLUMNS.map((column) => `@${column}`).join(", ");
  store.$client
    .prepare(`insert into temp.study_words (study_id, ${names}) values (@studyId, ${values})`)
    .run({ studyId, ...words });
}

/** Takes the words of a study out. */
export function removeStudyWords(store: Store, studyId: string): void {
  ready(store);
  store.$client.prepare("delete from temp.study_words where study_id = ?").run(studyId);
}

/**
 * Returns the studies that hold all of some words, or words that begin with them, the best first.
 *
 * @param sought each taken as it is, whatever signs it holds
 */
export function findStudyWords(store: Store, sought: readonly string[]): FoundWords[] {
  ready(store);
  const words = sought.map((word) => `"${word.replaceAll('"', '""')}"*`);
  if (words.length === 0) return [];
  return store.$client
    .prepare(
      `select study_id as studyId, snippet(study_words, -1, '${MARKS[0]}', '${MARKS[1]}', ' … ', ${EXCERPT}) as excerpt
      from temp.study_words where study_words match ?
      order by bm25(study_words, 0, ${WEIGHTS.join(", ")})`,
    )
    .all(words.join(" ")) as FoundWords[];
}
