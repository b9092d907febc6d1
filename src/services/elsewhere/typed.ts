import { kindOf } from "@/core/drills/drill";
import { randomUUID } from "node:crypto";
import * as z from "zod";
import type { Rig } from "@/core/chain/rig";
import { defineFrom, DrillDirectionSchema, type Drill } from "@/core/drills/drill";
import { WATCHED } from "@/core/drills/kinds/watched";
import type { StepResult } from "@/core/run/result";
import { shapeOf } from "@/core/drills/shape";
import { rateOfFigure, readFigure, type Figure } from "@/core/elsewhere/figure";
import type { RecordedRun } from "@/core/exchange/runs-file";
import { typedStep } from "@/core/exchange/study-run";
import { Stated, UNSAID } from "@/core/run/stated";
import { blockSchema, depthSchema } from "@/core/units/request";
import { line } from "@/core/units/text";
import type { Store } from "@/store/database";
import { checked, checkedBy, Problem } from "../problem";
import { insertRecorded } from "./runs-file";
import { rigOfStudy, type Taken } from "./taken";

const Typed = z.object({
  rigId: z.string(),
  drill: z.string(),
  direction: DrillDirectionSchema,
  /** Bytes of one request, and requests in flight; null: as the drill usually has them. */
  block: blockSchema.nullable().default(null),
  depth: depthSchema.nullable().default(null),
  /** Of a job that other programs did: what the tester calls it. */
  title: line(80).default(""),
  /** One for each repeat, as written. */
  figures: z.array(z.string().max(200)).min(1, "type a figure").max(50, "at most 50 repeats"),
  /** Where it was read off. */
  source: line(200).default(""),
  stated: Stated.default(UNSAID),
});

/** Takes in figures that somebody wrote down. @throws Problem that names the one that makes no sense */
export function addTyped(store: Store, studyId: string, input: unknown): Taken {
  const typed = checked(Typed, input);
  const { rigId, drill: name, direction, figures, source, stated } = typed;
  const rig = rigOfStudy(store, studyId, rigId);
  if (name === WATCHED.name) return addJob(store, studyId, rig, typed);
  const set = { ...statedRequests(typed.block, typed.depth), repeats: figures.length };
  const drill = checkedBy(() => defineFrom({ name, direction, ...set }, null));
  const unit = kindOf(drill).shows.includes("iops") ? ("iops" as const) : ("rate" as const);
  const read = figures.map((text, i) => {
    const figure = readFigure(
      text,
      unit === "iops" ? { kind: "iops", times: 1 } : { kind: "rate", mbps: 1 },
    );
    if (figure && (figure.kind !== "iops" || shapeOf(drill))) return figure;
    throw new Problem(422, `"${text}" is no figure such as 452 MB/s or 320 GB in 6:40.`, [
      { path: `figures.${i}`, message: "is no figure such as 452 MB/s or 320 GB in 6:40" },
    ]);
  });
  const id = randomUUID();
  insertFigures(store, studyId, { rig, drill, figures: read }, { id, source, stated });
  return { measurementIds: [id], rigIds: [], partIds: [] };
}

/** Takes in how long a job took that other programs did, by a stopwatch. */
function addJob(
  store: Store,
  studyId: string,
  rig: Rig,
  { title, direction, figures, source, stated }: z.infer<typeof Typed>,
): Taken {
  if (!title) throw new Problem(422, "Name the job: rigs are compared by it.", [NAME_IT]);
  const moved = figures.map((text, i) => {
    const figure = readFigure(text);
    if (figure?.kind === "moved") return figure;
    const message = "says not how much in which time, such as 81 GB in 6:40";
    throw new Problem(422, `"${text}" ${message}.`, [{ path: `figures.${i}`, message }]);
  });
  const drill: Drill = { name: WATCHED.name, direction, title, repeats: figures.length };
  const id = randomUUID();
  insertFigures(store, studyId, { rig, drill, figures: moved }, { id, source, stated });
  return { measurementIds: [id], rigIds: [], partIds: [] };
}

const NAME_IT = { path: "title", message: "name the job" };

/** What is set of a drill whose requests are stated; the rest as usual. */
export const statedRequests = (block: number | null, depth: number | null) => ({
  ...(block === null ? {} : { block }),
  ...(depth === null ? {} : { depth }),
});

/** What a figure means for a drill, in numbers: for the line below the field. */
export const figureInNumbers = (figure: Figure, drill: Drill) => {
  const block = shapeOf(drill)?.block ?? null;
  const mbps = rateOfFigure(figure, block ?? 0);
  return { mbps, iops: block === null ? null : (mbps * 1e6) / block };
};

/** Stores figures as the repeats of one measurement. */
export function insertFigures(
  store: Store,
  studyId: string,
  { rig, drill, figures }: { rig: Rig; drill: Drill; figures: readonly Figure[] },
  { id, source, stated }: { id: string; source: string; stated: Stated },
): void {
  const createdAt = new Date().toISOString();
  insertRecorded(store, studyId, rig, {
    id,
    origin: "typed",
    drill,
    status: "done",
    reason: null,
    createdAt,
    warmUp: false,
    stated,
    conditions: null,
    targets: [source || "typed in"],
    runs: figures.map((figure) => {
      const { mbps } = figureInNumbers(figure, drill);
      const [bytes, ms] = figure.kind === "moved" ? [figure.bytes, figure.seconds * 1e3] : [0, 0];
      return runOf([typedStep(drill, mbps, bytes, ms)], createdAt);
    }),
  });
}

/** A run of which no more is known than what its steps gave. */
export const runOf = (steps: StepResult[], startedAt: string): RecordedRun => ({
  status: "done",
  startedAt,
  steps,
  samples: [],
  events: [],
  readings: [],
  errors: [],
});
