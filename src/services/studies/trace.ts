import * as z from "zod";
import { flowOf, type Flow } from "@/core/reading/flow";
import { PhotoRefs } from "@/core/chain/photo-ref";
import { Corrections } from "@/core/run/mark";
import type { TraceReading } from "@/core/reading/read";
import { openRun } from "@/core/study/open-run";
import type { OpenTrace } from "@/core/study/open-trace";
import { reduced, type Place } from "@/core/reading/reduce";
import { line } from "@/core/units/text";
import type { Store } from "@/store/database";
import * as measurementRows from "@/store/measurements";
import { someMomentsOfRun } from "@/store/moments";
import * as rows from "@/store/runs";
import { openPhoto } from "../shelf/photo";
import { checked, Problem } from "../problem";
import { toldCorrections } from "../removed/lists";
import { noteMissing } from "../removed/note";

/** Places of a picture at first; more come when a stretch is looked at closer. */
const PLACES = 1500;
const MOST_PLACES = 6000;
const MOST_READINGS = 3000;

/** Everything that a picture of a run's trace needs. @throws Problem 404 */
export function openTrace(store: Store, runId: string): OpenTrace {
  const { run, studyId } = found(store, runId);
  const { samples, flow } = traceOf(store, runId);
  const { events, readings } = someMomentsOfRun(store, runId, MOST_READINGS);
  const steps = rows.stepsOfRun(store, runId);
  const whole = { ...run, samples, events, readings, steps };
  return {
    ...openRun(measurementRows.getMeasurement(store, run.measurementId)!, whole, PLACES, flow),
    studyId,
    photos: run.photos,
  };
}

const Stretch = z.object({
  from: z.coerce.number(),
  to: z.coerce.number(),
  places: z.coerce.number().int().min(10).max(MOST_PLACES).default(PLACES),
});

/** A stretch of a run's trace in as many places as are asked for. @throws Problem 404, 422 */
export function traceStretch(store: Store, runId: string, input: unknown): Place[] {
  const { from, to, places } = checked(Stretch, input);
  if (!(to > from)) throw new Problem(422, "The stretch ends before it begins.");
  found(store, runId);
  return reduced(traceOf(store, runId).flow, from, to, places);
}

const CorrectionsInput = z.object({ corrections: Corrections });

/** Keeps what the tester corrected; an empty list undoes it all. @throws Problem 404, 422 */
export function correctRun(store: Store, runId: string, input: unknown): TraceReading | null {
  const { studyId, run } = found(store, runId);
  const { corrections } = checked(CorrectionsInput, input);
  store.transaction(() => {
    rows.setCorrections(store, runId, corrections);
    noteMissing(store, toldCorrections(studyId, runId), run.corrections, corrections);
  });
  return openTrace(store, runId).reading;
}

const LeftOut = z.object({ leftOut: line(300).min(1, "say why").nullable() });

/** Leaves a run out of everything that is concluded, or takes it in again. @throws Problem 404, 422 */
export function leaveOut(store: Store, runId: string, input: unknown): void {
  found(store, runId);
  rows.setLeftOut(store, runId, checked(LeftOut, input).leftOut);
}

const Pictures = z.object({ photos: PhotoRefs });

/** Shows other pictures with a run; those were kept before. @throws Problem 404, 422 */
export function pictureRun(store: Store, runId: string, input: unknown): void {
  found(store, runId);
  const { photos } = checked(Pictures, input);
  for (const { id } of photos) openPhoto(store, id);
  rows.setPhotos(store, runId, photos);
}

function found(store: Store, runId: string) {
  const one = rows.findRun(store, runId);
  if (!one) throw new Problem(404, "There is no such run.");
  return one;
}

/** Traces that were looked at last: looking closer asks for the same one again and again. */
const KEPT = 4;
interface Kept {
  samples: ReturnType<typeof rows.samplesOfRun>;
  flow: Flow;
}
const shared = globalThis as { nerritTraces?: Map<string, Kept> };

function traceOf(store: Store, runId: string): Kept {
  const kept = (shared.nerritTraces ??= new Map<string, Kept>());
  const done = rows.findRun(store, runId)?.run.status === "done";
  const known = kept.get(runId);
  // A run that goes on grows.
  if (known && done) return known;
  const samples = rows.samplesOfRun(store, runId);
  const trace = { samples, flow: flowOf(samples) };
  kept.delete(runId);
  kept.set(runId, trace);
  while (kept.size > KEPT) kept.delete(kept.keys().next().value!);
  return trace;
}
