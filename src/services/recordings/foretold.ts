import fs from "node:fs";
import { keyOfWork, worksDone, workInWords } from "@/core/compare/works";
import { ENCORE, worksOf } from "@/core/drills/kinds/encore";
import { defineFrom, type Drill } from "@/core/drills/drill";
import { answeringOf } from "@/core/replay/answering";
import type { PredictedWork, RigAnswering } from "@/core/replay/predict";
import type { ForetoldTime, ForetoldWorks } from "@/core/replay/foretold";
import { Pace, Pauses } from "@/core/run/recorded-work";
import { openCompared } from "../conclusions/comparison";
import { inIntakeThread } from "../intake/thread";
import type { Following } from "../intake/take";
import type { Services } from "../services";

/** Predictions that are kept; each is a few numbers. */
const MOST_KEPT = 2000;
const kept = new Map<string, PredictedWork | null>();

/** Recordings done on no rig yet that are foretold: the latest of them. */
const MOST_UNDONE = 5;

/**
 * How long recorded work would take through each rig of a study that was measured with ladders: the work that was
 * done on some rig, and the latest recordings that were done on none. Sample recordings belong to the sample studies.
 *
 * @throws Problem 404
 */
export async function foretoldWorks(
  { store, recordings }: Pick<Services, "store" | "recordings">,
  studyId: string,
  following: Following,
): Promise<ForetoldWorks> {
  const { study, rigs, measurements, evidence } = openCompared(store, studyId);
  const through = rigs
    .map(({ id }) => ({ id, answers: answeringOf(evidence.of.get(id) ?? []) }))
    .filter(({ answers }) => answers.read !== null || answers.write !== null);
  if (through.length === 0) return { undone: [], times: [] };
  const done = [...worksDone(measurements)].map(([key, { drill }]) => ({ key, drill }));
  const known = new Set(done.flatMap(({ drill }) => worksOf(drill).map(({ sha256 }) => sha256)));
  const undone = (await recordings.works())
    .filter(({ isSample, work }) => isSample === study.simulated && !known.has(work.sha256))
    .slice(0, MOST_UNDONE)
    .map(({ work }) => {
      const drill = defineFrom({ name: ENCORE.name, direction: "mixed", recordings: [work] }, null);
      return { key: keyOfWork(drill), drill };
    });
  const times: ForetoldTime[] = [];
  for (const { key, drill } of [...done, ...undone]) {
    const each = await foretold(
      drill,
      through.map(({ answers }) => answers),
      recordings,
      following,
    );
    for (const [i, one] of each.entries())
      if (one) times.push({ key, rigId: through[i]!.id, ...one });
  }
  const told = new Set(times.map(({ key }) => key));
  return {
    undone: undone
      .filter(({ key }) => told.has(key))
      .map(({ key, drill }) => ({ key, ...workInWords(drill) })),
    times,
  };
}

/** What a drill's recordings would take through each of several rigs; null where one cannot be foretold. */
async function foretold(
  drill: Drill,
  rigs: readonly RigAnswering[],
  recordings: Pick<Services["recordings"], "fileWith">,
  following: Following,
): Promise<(PredictedWork | null)[]> {
  const works = worksOf(drill).map(({ sha256 }) => sha256);
  const isAtOnce = drill.order === "at-once";
  const stretches = isAtOnce ? [works] : works.map((sha256) => [sha256]);
  const how = {
    pace: Pace.catch("asap").parse(drill.pace),
    pauses: Pauses.catch("kept").parse(drill.pauses),
  };
  const each: (PredictedWork | null)[][] = [];
  for (const stretch of stretches) {
    const files = stretch.map((sha256) => recordings.fileWith(sha256));
    if (files.includes(null)) return [];
    each.push(await foretoldTogether(stretch, files as string[], rigs, how, following));
  }
  return rigs.map((_, i) => oneAfterAnother(each.map((stretch) => stretch[i]!)));
}

/** Recordings done side by side, through each of several rigs; worked out once. */
async function foretoldTogether(
  works: readonly string[],
  files: readonly string[],
  rigs: readonly RigAnswering[],
  how: { pace: Pace; pauses: Pauses },
  following: Following,
): Promise<(PredictedWork | null)[]> {
  const keys = rigs.map((rig) => JSON.stringify([works, rig, how]));
  const missing = rigs.filter((_, i) => !kept.has(keys[i]!));
  if (missing.length > 0) {
    const [bytes, ...beside] = files.map((file) =>
      fs.readFileSync(/* turbopackIgnore: true */ file),
    );
    const predict = { beside, rigs: missing, how };
    const made = await inIntakeThread({ kind: "predict", bytes: bytes!, predict }, following);
    missing.forEach((rig, i) => kept.set(JSON.stringify([works, rig, how]), made[i]!));
  }
  const found = keys.map((key) => kept.get(key)!);
  while (kept.size > MOST_KEPT) kept.delete(kept.keys().next().value!);
  return found;
}

/** Null where one of them cannot be foretold. */
function oneAfterAnother(each: readonly (PredictedWork | null)[]): PredictedWork | null {
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
