import { called } from "@/core/chain/wording";
import { flowParts } from "@/core/chain/rig";
import type { Study } from "@/core/study/study";
import { BENCH } from "@/store/count-writes";
import type { Store } from "@/store/database";
import * as rows from "@/store/studies";
import { findStudyWords, putStudyWords, removeStudyWords } from "@/store/study-words";
import { ownVersions } from "@/store/version";
import { briefOfStudy } from "../conclusions/study-brief";
import { keepUp, type EachStudy, type Versioned } from "./each-study";
import { openStudy } from "./studies";

/** Studies on one page of the list. */
export const STUDIES_A_PAGE = 20;

/** Words that are sought at most. */
const MOST_WORDS = 8;

/** For so long at most a page waits for studies to be indexed, milliseconds; the others are indexed after it. */
const PAGE_MS = 80;

/** What of the list of studies is asked for. */
export interface StudyQuery {
  /** Words that must all stand in a study; set aside ones are searched too. */
  sought: string;
  /** Only studies with this tag; empty for all. */
  tag: string;
  /** Those that are set aside, instead of the others. */
  aside: boolean;
  page: number;
}

export interface StudyPage {
  /** Each with a few words around those that were sought. */
  studies: { study: Study; excerpt: string }[];
  total: number;
  /** The tester's own studies in all, and those of them that are set aside. */
  own: number;
  aside: number;
  /** Tags of all studies, with how many have them. */
  tags: { tag: string; count: number }[];
  /** Studies whose words cannot be found yet. */
  waiting: number;
}

/** One page of the tester's own studies: the latest first, or those that hold some words, the best first. */
export function pageOfStudies(store: Store, query: StudyQuery, pageMs = PAGE_MS): StudyPage {
  const own = rows.listStudies(store).filter(({ simulated }) => !simulated);
  const words = query.sought.trim().split(/\s+/).filter(Boolean).slice(0, MOST_WORDS);
  const waiting = words.length > 0 ? indexed(store, pageMs) : 0;
  const byId = new Map(own.map((study) => [study.id, study]));
  const listed =
    words.length > 0
      ? findStudyWords(store, words).flatMap(({ studyId, excerpt }) => {
          const study = byId.get(studyId);
          return study ? [{ study, excerpt }] : [];
        })
      : own
          .filter(({ asideSince }) => (typeof asideSince === "string") === query.aside)
          .map((study) => ({ study, excerpt: "" }));
  const found = listed.filter(({ study }) => query.tag === "" || study.tags?.includes(query.tag));
  const from = query.page * STUDIES_A_PAGE;
  return {
    studies: found.slice(from, from + STUDIES_A_PAGE),
    total: found.length,
    own: own.length,
    tags: tagsOf(own),
    aside: own.filter(({ asideSince }) => typeof asideSince === "string").length,
    waiting,
  };
}

function tagsOf(studies: readonly Study[]): StudyPage["tags"] {
  const counts = new Map<string, number>();
  for (const { tags = [] } of studies)
    for (const tag of tags) counts.set(tag, (counts.get(tag) ?? 0) + 1);
  return [...counts]
    .map(([tag, count]) => ({ tag, count }))
    .toSorted((a, b) => b.count - a.count || a.tag.localeCompare(b.tag));
}

const shared = globalThis as { nerritIndexed?: WeakMap<Store, EachStudy> };

/** Indexes the words of the tester's own studies. @returns how many are still missing */
function indexed(store: Store, pageMs: number): number {
  const all = (shared.nerritIndexed ??= new WeakMap<Store, EachStudy>());
  const kept: EachStudy = all.get(store) ?? { done: new Map(), going: null };
  all.set(store, kept);
  return keepUp(
    store,
    kept,
    {
      studies: () => ownStudies(store),
      work: ({ id }) => indexStudy(store, id),
      forget: (id) => removeStudyWords(store, id),
    },
    pageMs,
  );
}

/** What a study's words rest on: itself, and the parts that all studies share. */
function ownStudies(store: Store): Versioned[] {
  const versions = ownVersions(store);
  return rows
    .listStudies(store)
    .flatMap(({ id, simulated }) =>
      simulated ? [] : [{ id, version: `${versions.get(BENCH)} ${versions.get(id)}` }],
    );
}

function indexStudy(store: Store, id: string): void {
  const { study, rigs } = openStudy(store, id);
  const parts = new Set(rigs.flatMap((rig) => [...flowParts(rig), ...rig.beside]));
  const wordsOf = (part: Parameters<typeof called>[0]) =>
    [called(part), part.maker, part.model, part.chip, part.tag, part.serial, part.notes].join(" ");
  putStudyWords(store, id, {
    title: study.title,
    tags: (study.tags ?? []).join(", "),
    notes: rows.extrasOf(store, id).notes,
    rigs: rigs.map(({ name, host, fileSystem }) => [name, host, fileSystem].join(" ")).join(". "),
    parts: [...parts].map(wordsOf).join(". "),
    findings: briefOfStudy(store, id, "MB/s").headline,
  });
}
