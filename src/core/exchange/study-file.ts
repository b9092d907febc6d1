import * as z from "zod";
import { PartDraft, type Part } from "../chain/part";
import { BARE_RIG, RigDraft, rigProblems, type Rig } from "../chain/rig";
import { References } from "../study/reference";
import { Suites } from "../study/suite";
import { Demand } from "../study/demand";
import { briefOf } from "../run/brief";
import { RecordedWork } from "../run/recorded-work";
import { resultFrom } from "../drills/summary";
import { linkProblems } from "../chain/bottleneck";
import { ReportChoice } from "../study/report-choice";
import { cleanPhoto } from "../study/photo";
import { keptOf } from "../reading/kept";
import { MachineCheck } from "../machine/check";
import { NetworkFigures } from "../network/figures";
import { Simulation } from "../simulate/model";
import { BETWEEN_TARGETS, type Measurement, type Run } from "../study/measurement";
import { StudyDraft, Tags, type Study } from "../study/study";
import { fromBase64 } from "../units/base64";
import { lines } from "../units/text";
import { sampleOf, type RecordedRun } from "./runs-file";
import { completeConditions, originOf, repeatsOf, StudyRun, UNKNOWN_TIME } from "./study-run";

/** Pictures of a study's report, parts, rigs and runs together at most. */
export const MOST_FILED = 400;
/** A recording in a study's file, characters. */
const MOST_RECORDED = 32 * 2 ** 20;

/**
 * A study as a file: its parts, its rigs, its runs with everything that was kept of them. What has a
 * default may be left out, so that a small one is written by hand in a minute (docs/formats.md).
 */

const id = z.string().min(1, "needs an identifier").max(80, "at most 80 characters");

/** What the simulated bench takes a study's parts for, and what is wrong with its rigs. */
const StudySimulation = z.strictObject({
  bench: Simulation.shape.bench,
  parts: Simulation.shape.parts,
  /** Faults by rig. */
  faults: z.record(z.string(), Simulation.shape.faults).default({}),
});
export type StudySimulation = z.infer<typeof StudySimulation>;

const FiledPhoto = z
  .strictObject({
    id,
    type: z.enum(["image/png", "image/jpeg"]),
    width: z.number().int().positive(),
    height: z.number().int().positive(),
    data: z.base64(),
  })
  .superRefine(({ data, type }, context) => {
    try {
      if (cleanPhoto(fromBase64(data)).type === type) return;
      context.addIssue({ code: "custom", path: ["type"], message: "is not what it holds" });
    } catch (error) {
      context.addIssue({ code: "custom", path: ["data"], message: (error as Error).message });
    }
  });

const FiledRecording = z.strictObject({
  ...RecordedWork.pick({ sha256: true, name: true }).shape,
  text: z.string().max(MOST_RECORDED, "is too long for the file of a study"),
});

export const StudyFile = StudyDraft.extend({
  format: z.literal("nerrit-study", { error: 'is not "nerrit-study": it is no file of a study' }),
  version: z.literal(1, { error: "is a version that this Nerrit does not know" }),
  notes: lines(20_000).default(""),
  /** Words by which the tester finds it. */
  tags: Tags.optional(),
  demands: z.array(Demand).max(12).default([]),
  references: References,
  /** What other programs' suites showed. */
  suites: Suites,
  parts: z.array(PartDraft.safeExtend({ id })).max(5000, "at most 5 000 parts"),
  rigs: z
    .array(
      RigDraft.extend({
        id,
        /** Taken out of the study since; its runs are kept. */
        out: z.boolean().default(false),
      }),
    )
    .max(1000, "at most 1 000 rigs"),
  runs: z.array(StudyRun).max(20_000, "at most 20 000 runs").default([]),
  simulation: StudySimulation.optional(),
  /** What the networks that its rigs go over carried by themselves, the latest first. */
  networks: z.array(NetworkFigures).max(1000, "at most 1 000 networks").optional(),
  /** What the machines that its rigs hang on were shown to move in their own memory. */
  checks: z.array(MachineCheck).max(1000, "at most 1 000 checks").optional(),
  /** How it is reported. */
  report: ReportChoice.optional(),
  /** Pictures of the bench, as Base64. */
  photos: z.array(FiledPhoto).max(MOST_FILED, `at most ${MOST_FILED} pictures`).optional(),
  /** The recordings that its runs did again, as their files. */
  recordings: z.array(FiledRecording).max(100, "at most 100 recordings").optional(),
}).superRefine(({ parts, rigs, runs, suites }, context) => {
  const complain = (path: (string | number)[], message: string) =>
    context.addIssue({ code: "custom", path, message });
  const twice = (list: readonly { id?: string }[], name: string) => {
    const seen = new Set<string>();
    list.forEach((one, i) => {
      if (one.id !== undefined && seen.has(one.id)) {
        complain([name, i, "id"], `stands for two ${name}: "${one.id}"`);
      }
      if (one.id !== undefined) seen.add(one.id);
    });
    return seen;
  };
  const known = twice(parts, "parts");
  const rigIds = twice(rigs, "rigs");
  twice(runs, "runs");
  rigs.forEach((rig, i) => {
    for (const field of ["partIds", "besideIds", "otherIds"] as const) {
      rig[field].forEach((part, j) => {
        if (!known.has(part)) complain(["rigs", i, field, j], `there is no part "${part}"`);
      });
    }
  });
  runs.forEach(({ rigId }, i) => {
    if (!rigIds.has(rigId)) complain(["runs", i, "rigId"], `there is no rig "${rigId}"`);
  });
  suites.forEach(({ rigIds: through }, i) => {
    through.forEach((rigId, j) => {
      if (!rigIds.has(rigId)) complain(["suites", i, "rigIds", j], `there is no rig "${rigId}"`);
    });
  });
  if (context.issues.length > 0) return;
  const byId = new Map(parts.map((part) => [part.id, part]));
  rigs.forEach((rig, i) => {
    const whole = rigFrom(rig, byId);
    const problems = rigProblems(whole);
    for (const problem of problems.length > 0 ? problems : linkProblems(whole)) {
      complain(["rigs", i, "partIds"], problem);
    }
  });
});
export type StudyFile = z.infer<typeof StudyFile>;
/** A study's file as written, with what it leaves out still to be filled in. */
export type StudyFileInput = z.input<typeof StudyFile>;

/** The file's schema (JSON Schema 2020-12), for whoever writes or reads such files elsewhere. */
export const studyFileSchema = () =>
  z.toJSONSchema(StudyFile, { io: "input", unrepresentable: "any" });

type FilePart = StudyFile["parts"][number];

function rigFrom(
  { partIds, besideIds, otherIds, out: _out, ...rest }: StudyFile["rigs"][number],
  parts: ReadonlyMap<string, FilePart>,
): Rig {
  const pick = (ids: readonly string[]) => ids.map((one) => parts.get(one)!);
  return { ...rest, parts: pick(partIds), beside: pick(besideIds), other: pick(otherIds) };
}

/** A study as every page and command works with it. */
export interface FiledStudy {
  study: Study;
  /** Every part that it names, also those that stand in no rig. */
  parts: Part[];
  rigs: Rig[];
  /** The latest first. */
  measurements: Measurement[];
  networks: NetworkFigures[];
  checks: MachineCheck[];
  /** What a rig is on the simulated bench. */
  simulationOf(rigId: string): Simulation;
}

/** Puts together what a file holds: rigs with their parts, runs with their results. */
export function studyOf(file: StudyFile): FiledStudy {
  const parts = new Map(file.parts.map((part) => [part.id, part]));
  const rigs = file.rigs.map((rig) => rigFrom(rig, parts));
  const { title, tolerance, smallestEffect, demands, references, suites, simulation } = file;
  const measurements = file.runs.map((run, i) =>
    measurementOf(
      run,
      run.id ?? `run-${i + 1}`,
      rigs.find((rig) => rig.id === run.rigId)!,
    ),
  );
  return {
    study: {
      id: "file",
      title,
      tolerance,
      smallestEffect,
      demands,
      references,
      suites,
      simulated: false,
    },
    parts: file.parts,
    rigs: rigs.filter((_, i) => !file.rigs[i]!.out),
    // Those that do not say when they were made count as made in their order.
    measurements: measurements
      .reverse()
      .toSorted((a, b) => (a.createdAt < b.createdAt ? 1 : a.createdAt > b.createdAt ? -1 : 0)),
    networks: file.networks ?? [],
    checks: file.checks ?? [],
    simulationOf: (rigId) =>
      Simulation.parse({ ...simulation, faults: simulation?.faults[rigId] ?? [] }),
  };
}

/** A run of a file as a measurement. */
export function measurementOf(run: StudyRun, id: string, rig: Rig): Measurement {
  const { drill, status, reason, stated, warmUp } = run;
  return {
    id,
    rigId: rig.id,
    drill,
    status,
    reason,
    stated,
    warmUp,
    target: (run.targets ?? [originOf(run)]).join(BETWEEN_TARGETS),
    origin: originOf(run),
    createdAt: run.createdAt ?? UNKNOWN_TIME,
    rig: run.rigThen ? { ...BARE_RIG, ...run.rigThen, id: rig.id } : rig,
    conditions: completeConditions(run.conditions),
    runs: repeatsOf(run).map((one, repeat) => runOf(one, `${id}-${repeat}`, repeat, drill)),
  };
}

const runOf = (
  { status, steps, samples, events, readings, errors, corrections, leftOut }: RecordedRun,
  id: string,
  repeat: number,
  drill: Measurement["drill"],
): Run => ({
  id,
  repeat,
  status,
  steps,
  events,
  readings,
  errors,
  corrections: corrections ?? [],
  leftOut: leftOut ?? null,
  samples: samples.map(sampleOf),
  result: status === "done" ? briefOf({ ...resultFrom(drill, steps), ...keptOf(readings) }) : null,
});
