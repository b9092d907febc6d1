import { drillNamed } from "@/core/drills/catalogue";
import type { DrillKind } from "@/core/drills/kind";
import { compare, evidenceOf, type Comparison, type Evidence } from "@/core/compare/comparison";
import { jobsOf } from "@/core/compare/jobs";
import { cachesShown } from "@/core/compare/caches";
import { suitesShown } from "@/core/compare/suites";
import { worksShown } from "@/core/compare/works";
import { shown, type LadderShown, type ShownComparison } from "@/core/compare/shown";
import { iopsOf } from "@/core/drills/kind";
import type { Question } from "@/core/compare/question";
import type { Part } from "@/core/chain/part";
import type { Rig } from "@/core/chain/rig";
import { TOLERANCE } from "@/core/study/study";
import { SMALLEST_EFFECT } from "@/core/stats/compare";
import type { BriefMeasurement, Observation } from "@/core/study/measurement";
import type { Store } from "@/store/database";
import { getParts } from "@/store/parts";
import { getMeasurement } from "@/store/measurements";
import { findRun } from "@/store/runs";
import { studyVersion } from "@/store/version";
import type { OpenTrace } from "@/core/study/open-trace";
import { Problem } from "../problem";
import { openTrace } from "../studies/trace";
import {
  measurement,
  measurementsOf,
  openStudy,
  studyTitles,
  type OpenStudy,
} from "../studies/studies";

/** A study as Compare needs it: read once, and anew when anything was written that it rests on. */
export interface Compared extends OpenStudy {
  /** The latest first, each run with its headline alone. */
  measurements: BriefMeasurement[];
  evidence: Evidence;
  /** For each run that was left out, why. */
  leftOut: { runId: string; rigId: string; repeat: number; drill: string; why: string }[];
  /** The runs of a measurement, by its id. */
  runs: ReadonlyMap<string, { id: string; mbps: number; leftOut: string | null }[]>;
}

/** Studies by their ids, the one that was asked for last at the end. */
type Kept = Map<string, { version: string; runs: number; compared: Compared }>;
const shared = globalThis as { nerritCompared?: WeakMap<Store, Kept> };

/** Runs of studies that are kept in memory at most: some 3 kB each; the study asked for last is always kept. */
const MOST_RUNS = 30_000;

/** Lets go of the studies that nobody has asked for the longest, until no more runs than that are kept. */
function letGo(kept: Kept): void {
  let all = [...kept.values()].reduce((sum, { runs }) => sum + runs, 0);
  for (const [id, { runs }] of kept) {
    if (all <= MOST_RUNS || kept.size === 1) return;
    kept.delete(id);
    all -= runs;
  }
}

/** Reads a study for comparing. @throws Problem 404 */
export function openCompared(store: Store, studyId: string): Compared {
  const all = (shared.nerritCompared ??= new WeakMap<Store, Kept>());
  const kept: Kept = all.get(store) ?? new Map();
  all.set(store, kept);
  const version = studyVersion(store, studyId);
  const known = kept.get(studyId);
  kept.delete(studyId);
  if (known?.version === version) {
    kept.set(studyId, known);
    return known.compared;
  }
  const open = openStudy(store, studyId);
  const measurements = measurementsOf(store, studyId);
  const compared: Compared = {
    ...open,
    measurements,
    evidence: evidenceOf(open.rigs, measurements),
    leftOut: measurements.flatMap(({ rigId, drill, runs }) =>
      runs.flatMap(({ id, repeat, leftOut }) =>
        leftOut === null ? [] : [{ runId: id, rigId, repeat, drill: drill.name, why: leftOut }],
      ),
    ),
    runs: new Map(
      measurements.map(({ id, runs }) => [
        id,
        runs.flatMap(({ id: runId, result, leftOut }) =>
          result ? [{ id: runId, mbps: result.meanMBps, leftOut }] : [],
        ),
      ]),
    ),
  };
  const runs = measurements.reduce((sum, one) => sum + one.runs.length, 0);
  kept.set(studyId, { version, runs, compared });
  letGo(kept);
  return compared;
}

/**
 * Reads everything that a part of the shelf stands in, over all studies.
 *
 * @throws Problem 404
 */
export function openComparedOf(store: Store, partId: string): { part: Part; compared: Compared } {
  const part = getParts(store, [partId]).get(partId);
  if (!part) throw new Problem(404, "There is no such part.");
  const studies = studyTitles(store).map(({ id }) => openCompared(store, id));
  const holds = ({ parts, beside, other }: Rig) =>
    [...parts, ...beside, ...other].some(({ id }) => id === partId);
  const several = studies.filter(({ rigs }) => rigs.some(holds)).length > 1;
  const found = studies.flatMap((one) => one.rigs.filter(holds).map((rig) => ({ of: one, rig })));
  const evidence: Evidence = {
    rigs: found.map(({ rig }) => rig),
    of: new Map(
      found.flatMap(({ of, rig }) => {
        const seen = of.evidence.of.get(rig.id);
        return seen ? [[rig.id, seen] as const] : [];
      }),
    ),
    ...(several
      ? { studies: new Map(found.map(({ of, rig }) => [rig.id, of.study.title] as const)) }
      : {}),
  };
  const [first] = found;
  return {
    part,
    compared: {
      study: {
        id: "",
        title: part.name,
        demands: [],
        references: [],
        suites: [],
        simulated: false,
        tolerance: first?.of.study.tolerance ?? TOLERANCE,
        smallestEffect: first?.of.study.smallestEffect ?? SMALLEST_EFFECT,
      },
      rigs: evidence.rigs as Rig[],
      measurements: [],
      evidence,
      leftOut: studies.flatMap(({ leftOut }) =>
        leftOut.filter(({ rigId }) => evidence.of.has(rigId)),
      ),
      runs: new Map(studies.flatMap(({ runs }) => [...runs])),
    },
  };
}

/**
 * What was seen in other studies of rigs that share a part with those of one: of sample data for a sample
 * study, of the tester's own else. Rigs are called by their study too.
 */
export function seenElsewhere(store: Store, { study, rigs }: Compared): Observation[] {
  const partsOf = ({ parts, beside, other }: Rig) => [...parts, ...beside, ...other];
  const own = new Set(rigs.flatMap((rig) => partsOf(rig).map(({ id }) => id)));
  return studyTitles(store)
    .filter(({ id }) => id !== study.id)
    .map(({ id }) => openCompared(store, id))
    .filter((other) => other.study.simulated === study.simulated)
    .flatMap((other) =>
      other.rigs
        .filter((rig) => partsOf(rig).some(({ id }) => own.has(id)))
        .flatMap((rig) => {
          const named = { ...rig, name: `${rig.name} (${other.study.title})` };
          return (other.evidence.of.get(rig.id) ?? []).map((seen) => ({ ...seen, rig: named }));
        }),
    );
}

/** The study that a run belongs to. @throws Problem 404 */
export function studyOfRun(store: Store, runId: string): string {
  const found = findRun(store, runId);
  if (!found) throw new Problem(404, "There is no such run.");
  return found.studyId;
}

/** The study that a measurement belongs to; null where there is no such measurement. */
export const studyOfMeasurement = (store: Store, id: string): string | null =>
  getMeasurement(store, id)?.studyId ?? null;

/** Ladders drawn at once; more lines tell nothing. */
const MOST_LADDERS = 12;

/** Answers a question of a study, with what it means in practice. */
export function answerQuestion(
  store: Store,
  compared: Compared,
  question: Question,
): ShownComparison {
  const { evidence, study, runs, rigs, measurements } = compared;
  const comparison = compare(question, evidence, study.smallestEffect);
  const ladders = question.view === "ladders" ? laddersOf(store, comparison) : [];
  return shown(comparison, question, evidence, {
    demands: study.demands,
    runsOf: (id) => runs.get(id) ?? [],
    ladders,
    jobs: jobsOf(measurements, rigs, question),
    works: worksShown(measurements, rigs, question),
    caches: cachesShown(measurements, rigs, question),
    references: study.references,
    suites: suitesShown(study.suites, rigs, question, study.smallestEffect),
  });
}

/** What a drill goes up by, where it is a ladder. */
const ladderOf = ({ picture }: DrillKind): "block" | "depth" | null =>
  picture === "by block" ? "block" : picture === "by depth" ? "depth" : null;

/** The ladders that were done, each of the rig's latest run. */
function laddersOf(store: Store, { rows, columns }: Comparison): LadderShown[] {
  const found = columns.flatMap(({ drill }, i) => {
    const by = ladderOf(drillNamed(drill));
    return by
      ? rows.flatMap((row) => (row.cells[i] ? [{ row, by, cell: row.cells[i] } as const] : []))
      : [];
  });
  return found.slice(0, MOST_LADDERS).flatMap(({ row, by, cell }): LadderShown[] => {
    const { runs } = measurement(store, cell.measurementIds[0]!, 1);
    const run = runs.findLast((one) => one.result && one.leftOut === null);
    if (!run) return [];
    const points = run.steps.flatMap((step) => {
      const at = by === "block" ? step.label.block : step.label.depth;
      return at === undefined ? [] : [{ at, mbps: step.meanMBps, iops: iopsOf(step) }];
    });
    return [{ letter: row.letter, name: row.rig.name, by, points, fit: run.result!.fit }];
  });
}

/** Traces over each other; more lines tell nothing. */
const MOST_TRACES = 6;

/** Of each rig of an answer the trace of its latest run in the first drill, as far as they have one. */
export function tracesOf(store: Store, { rows }: ShownComparison): OpenTrace[] {
  const found: OpenTrace[] = [];
  for (const { cells } of rows) {
    const run = cells.find((cell) => cell)?.runs.find(({ leftOut }) => leftOut === null);
    if (!run || found.length >= MOST_TRACES) continue;
    const trace = openTrace(store, run.id);
    if (trace.samples > 0) found.push(trace);
  }
  return found;
}
