import { answerFor } from "@/core/answer/study";
import { studyBrief, type StudyBrief } from "@/core/answer/study-brief";
import { ratesIn } from "@/core/units/number";
import type { RateUnit } from "@/core/units/rate";
import { getStudyBrief, putStudyBrief } from "@/store/study-briefs";
import type { Store } from "@/store/database";
import { studyVersion } from "@/store/version";
import { log } from "../log";
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
