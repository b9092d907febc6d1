import fs from "node:fs";
import { worksDone } from "@/core/compare/works";
import { worksOf } from "@/core/drills/kinds/encore";
import type { Drill } from "@/core/drills/drill";
import { answeringOf } from "@/core/replay/answering";
import type { PredictedWork, RigAnswering } from "@/core/replay/predict";
import type { ForetoldWork } from "@/core/replay/foretold";
import { Pace, Pauses } from "@/core/run/recorded-work";
import { openCompared } from "../conclusions/comparison";
import { inIntakeThread } from "../intake/thread";
import type { Following } from "../intake/take";
import type { Services } from "../services";

/** Predictions that are kept; each is a few numbers. */
const MOST_KEPT = 500;
const kept = new Map<string, PredictedWork | null>();

/**
 * How long the recorded work of a study would take through each of its rigs that was measured with ladders. Work
 * that was done side by side, and recordings that are not here, are left out.
 *
 * @throws Problem 404
 */
export async function foretoldWorks(
  { store, recordings }: Pick<Services, "store" | "recordings">,
  studyId: string,
  following: Following,
): Promise<ForetoldWork[]> {
  const { rigs, measurements, evidence } = openCompared(store, studyId);
  const answering = rigs
    .map(({ id }) => ({ id, answers: answeringOf(evidence.of.get(id) ?? []) }))
    .filter(({ answers }) => answers.read !== null || answers.write !== null);
  const found: ForetoldWork[] = [];
  for (const [key, { drill }] of worksDone(measurements)) {
    const works = worksOf(drill);
    if (drill.order === "at-once" && works.length > 1) continue;
    const files = works.map(({ sha256 }) => [sha256, recordings.fileWith(sha256)] as const);
    if (files.some(([, file]) => file === null)) continue;
    for (const { id, answers } of answering) {
      const each: (PredictedWork | null)[] = [];
      for (const [sha256, file] of files)
        each.push(await foretold(sha256, file!, answers, drill, following));
      const whole = together(each);
      if (whole) found.push({ key, rigId: id, ...whole });
    }
  }
  return found;
}

/** One recording through one rig, worked out once. */
async function foretold(
  sha256: string,
  file: string,
  rig: RigAnswering,
  { pace, pauses }: Drill,
  following: Following,
): Promise<PredictedWork | null> {
  const how = { pace: Pace.catch("asap").parse(pace), pauses: Pauses.catch("kept").parse(pauses) };
  const key = JSON.stringify([sha256, rig, how]);
  const known = kept.get(key);
  if (known !== undefined) return known;
  const bytes = fs.readFileSync(/* turbopackIgnore: true */ file);
  const made = await inIntakeThread({ kind: "predict", bytes, predict: { rig, how } }, following);
  kept.set(key, made);
  if (kept.size > MOST_KEPT) kept.delete(kept.keys().next().value!);
  return made;
}

/** One after another; null where one cannot be foretold. */
function together(each: readonly (PredictedWork | null)[]): PredictedWork | null {
  return each.reduce<PredictedWork | null>(
    (sum, one) =>
      sum && one
        ? {
            ms: sum.ms + one.ms,
            waitedMs: sum.waitedMs + one.waitedMs,
            worst: Math.max(sum.worst, one.worst),
          }
        : null,
    { ms: 0, waitedMs: 0, worst: 0 },
  );
}
