import { answerFor } from "@/core/answer/study";
import { studyBrief, type StudyBrief } from "@/core/answer/study-brief";
import { ratesIn } from "@/core/units/number";
import type { RateUnit } from "@/core/units/rate";
import { getStudyBrief, putStudyBrief } from "@/store/study-briefs";
import type { Store } from "@/store/database";
import { studyVersion } from "@/store/version";
import { log } from "../log";
import { keepUp, type EachStudy } from "../studies/each-study";
import { openCompared } from "./comparison";
import { conclusionsOf } from "./conclusions";

/** The build of the program: what another one worked out is worked out anew. Without one, nothing is kept. */
const BUILD = process.env.NERRIT_BUILD ?? null;

/**
 * A study in brief: worked out when anything was written that it rests on, kept beside the study else, so that
 * a list of many studies is there at once, also after a start.
 *
 * @throws Problem 404
 */
export function briefOfStudy(
  store: Store,
  studyId: string,
  unit: RateUnit,
  build = BUILD,
): StudyBrief {
  const version = `${studyVersion(store, studyId)} ${build}`;
  const kept = build === null ? null : getStudyBrief(store, studyId, unit, version);
  if (kept) return kept;
  const conclusions = conclusionsOf(store, openCompared(store, studyId));
  const inWay = (direction: "read" | "write") =>
    answerFor(conclusions, direction, { drill: null, rates: ratesIn(unit), steps: false });
  const brief = studyBrief([inWay("read"), inWay("write")]);
  if (build === null) return brief;
  try {
    putStudyBrief(store, studyId, unit, { version, brief });
  } catch (error) {
    // A store that takes nothing now costs only that it is worked out again.
    log.warn({ err: error }, "a study in brief could not be kept");
  }
  return brief;
}

/** For so long at most a page waits for answers, milliseconds; the others are worked out after it. */
const PAGE_MS = 100;

/** Studies in brief as they were worked out last, by the unit of rates. */
interface Known extends EachStudy {
  briefs: Map<string, StudyBrief>;
}
const shared = globalThis as { nerritBriefs?: WeakMap<Store, Map<RateUnit, Known>> };

/**
 * Some studies in brief, as far as they are known or are worked out within a moment: the others follow, one
 * after another, and are not there yet.
 */
export function briefsKnown(
  store: Store,
  ids: readonly string[],
  unit: RateUnit,
  pageMs = PAGE_MS,
): ReadonlyMap<string, StudyBrief> {
  const all = (shared.nerritBriefs ??= new WeakMap<Store, Map<RateUnit, Known>>());
  const units = all.get(store) ?? new Map<RateUnit, Known>();
  all.set(store, units);
  const known: Known = units.get(unit) ?? { done: new Map(), going: null, briefs: new Map() };
  units.set(unit, known);
  const versions = () => ids.map((id) => ({ id, version: studyVersion(store, id) }));
  keepUp(
    store,
    known,
    {
      studies: versions,
      work: ({ id }) => known.briefs.set(id, briefOfStudy(store, id, unit)),
    },
    pageMs,
  );
  const there = versions().filter(({ id, version }) => known.done.get(id) === version);
  return new Map(there.map(({ id }) => [id, known.briefs.get(id)!]));
}
