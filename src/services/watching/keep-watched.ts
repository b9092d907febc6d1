import { randomUUID } from "node:crypto";
import * as z from "zod";
import { RunEvent } from "@/core/run/result";
import { Recorded, sampleOf, type RecordedRun } from "@/core/exchange/runs-file";
import { watchedRun } from "@/core/watch/watched-run";
import { UNSAID } from "@/core/run/stated";
import { line } from "@/core/units/text";
import { watchedConditions } from "@/engine/watch/conditions";
import { findSource, type Source } from "@/engine/watch/source";
import type { Store } from "@/store/database";
import packageJson from "../../../package.json";
import { checked } from "../problem";
import { insertRecorded } from "../elsewhere/runs-file";
import { findRig } from "../studies/studies";
import { quietTree } from "./watching";

const Keep = z.object({
  /** The rig that was watched. */
  rigId: z.string(),
  /** The drive or interface. */
  name: z.string().min(1).max(200),
  /** What was going on. */
  title: line(80).default(""),
  startedAt: z.iso.datetime({ offset: true }),
  samples: Recorded.shape.runs.element.shape.samples
    .min(1, "nothing was counted yet")
    .max(1_000_000, "is more than a run can hold"),
  marks: z.array(RunEvent).max(1000).default([]),
});

/**
 * Keeps what was watched as a run of a rig, with its trace, its marks and the machine's conditions.
 *
 * @returns the measurement's id and its study's
 * @throws Problem where there is no such rig, or nothing to keep
 */
export async function keepWatched(
  store: Store,
  input: unknown,
): Promise<{ id: string; studyId: string }> {
  const { rigId, name, title, startedAt, samples, marks } = checked(Keep, input);
  const { studyId, rig } = findRig(store, rigId);
  // What was watched may be gone by now: then its name is all that is known of it.
  const source = await findSource(quietTree(), name).catch(() => null);
  const recorded = await recordedOf(
    source ?? { name, number: null },
    { title, startedAt, samples, marks },
    rig.name,
  );
  insertRecorded(store, studyId, rig, recorded);
  return { id: recorded.id, studyId };
}

/** What was watched, as a file of runs holds it. */
export async function recordedOf(
  { name, number }: Pick<Source, "name" | "number">,
  watched: {
    title: string;
    startedAt: string;
    samples: RecordedRun["samples"];
    marks: RunEvent[];
  },
  rig: string,
): Promise<Recorded> {
  const { title, startedAt, samples, marks } = watched;
  const { drill, step } = watchedRun(samples.map(sampleOf), title);
  const path = number ? `/dev/${name}` : null;
  const run = { status: "done" as const, startedAt, steps: [step], samples, events: marks };
  return {
    id: randomUUID(),
    rig,
    origin: "watched",
    drill,
    status: "done",
    reason: null,
    targets: [path ?? name],
    createdAt: startedAt,
    warmUp: false,
    stated: UNSAID,
    conditions: await watchedConditions(packageJson.version, name, number, path),
    runs: [{ ...run, readings: [], errors: [] }],
  };
}
