import { bottleneckOf } from "../../chain/bottleneck";
import { middleOf, unpackHistogram } from "../../stats/histogram";
import type { StepResult } from "../../run/result";
import { isFromMemory, targetsOf, type Measurement, type Run } from "../../study/measurement";
import { placeOf, type Place, type Row } from "../tables";
import type { Digest } from "./digest";
import { rigVersion, type Writing } from "./gear";

/** A measurement, where it belongs, and when each of its runs began. */
export interface Archived {
  studyId: string;
  measurement: Measurement;
  /** ISO 8601, by the id of the run. */
  startedAt: ReadonlyMap<string, string>;
}

/** The folder that everything of a run lies in. */
export const placeOfRun = ({ measurement, startedAt }: Archived, { id }: Run): Place =>
  placeOf(
    startedAt.get(id) ?? measurement.createdAt,
    measurement.conditions?.host || measurement.rig.host,
  );

/** Writes the runs of a measurement that are wanted, with all that was kept of them. */
export function putRuns(
  archived: Archived,
  isWanted: (runId: string) => boolean,
  writing: Writing,
): void {
  for (const run of archived.measurement.runs) {
    if (!isWanted(run.id)) continue;
    const place = placeOfRun(archived, run);
    putConditions(archived, run, place, writing);
    const sampled = sampledOf(run);
    run.steps.forEach((of, step) =>
      putStep({ step, of, sampled: sampled[step]! }, run, place, writing),
    );
    putTrace(run, place, writing);
    writing.put("runs", place, runRow(archived, run, writing));
  }
}

function runRow({ studyId, measurement, startedAt }: Archived, run: Run, { digest }: Writing) {
  const { id, rig, drill, origin, reason, warmUp, createdAt } = measurement;
  const { result } = run;
  const { direction } = drill;
  const ceiling = direction === "mixed" ? null : bottleneckOf(rig, direction);
  return {
    run_id: run.id,
    measurement_id: id,
    repeat: run.repeat,
    study_id: studyId,
    rig_id: rig.id,
    rig_version: rigVersion(rig, digest),
    drill: drill.name,
    direction,
    drill_json: JSON.stringify(drill),
    origin,
    status: run.status,
    reason,
    is_warm_up: warmUp,
    left_out: run.leftOut,
    is_from_memory: isFromMemory(measurement, run),
    mark_version: markVersion(run, digest),
    started_at: startedAt.get(run.id) ?? createdAt,
    mean_mb_per_s: result?.meanMBps ?? null,
    iops: result?.iops ?? null,
    bytes: result?.bytes ?? null,
    counted_ms: result?.ms ?? null,
    requests: result?.requests ?? null,
    median_latency_us: result?.latencyUs.p50 ?? null,
    p99_latency_us: result?.latencyUs.p99 ?? null,
    max_latency_us: result?.latencyUs.max ?? null,
    burst_mb_per_s: result?.first?.burstMBps ?? null,
    sustained_mb_per_s: result?.first?.sustainedMBps ?? null,
    device_bytes: result?.deviceBytes ?? null,
    processor_us_per_request: result?.processorUsPerRequest ?? null,
    busiest_core_share: result?.busiestCore ?? null,
    start_celsius: result?.startCelsius ?? null,
    hottest_celsius: result?.hottestCelsius ?? null,
    error_counts: run.errors.reduce((sum, one) => sum + Math.max(0, one.after - one.before), 0),
    ceiling_mb_per_s: ceiling?.ceiling ?? null,
    document_json: JSON.stringify({
      ...runDocument(measurement, run),
      startedAt: startedAt.get(run.id) ?? createdAt,
    }),
  } satisfies Row<"runs">;
}

/** What of a run stands in no column: as a study's file has it. */
export const runDocument = (measurement: Measurement, run: Run) => ({
  status: measurement.status,
  createdAt: measurement.createdAt,
  stated: measurement.stated,
  targets: targetsOf(measurement),
  errors: run.errors,
  corrections: run.corrections,
});

function putConditions(
  { measurement: { conditions } }: Archived,
  run: Run,
  place: Place,
  { put }: Writing,
): void {
  if (!conditions) return;
  put("conditions", place, {
    run_id: run.id,
    kernel: conditions.kernel,
    processor: conditions.processor,
    cores: conditions.cores,
    memory_bytes: conditions.memoryBytes ?? null,
    file_system: conditions.fileSystem,
    mount_options: conditions.mountOptions,
    device: conditions.device,
    device_bytes: conditions.deviceBytes,
    free_bytes: conditions.freeBytes,
    drive: conditions.drive ?? null,
    link: conditions.link ?? null,
    io: conditions.io,
    nerrit: conditions.nerrit,
    document_json: JSON.stringify(conditions),
  });
}

type Sampled = Pick<Row<"steps">, "sampled_ms" | "still_ms">;

/** For how long each step of a run was sampled, and for how long nothing moved, milliseconds. */
function sampledOf({ steps, samples }: Run): Sampled[] {
  const all = steps.map(() => ({ sampled_ms: 0, still_ms: 0 }));
  for (const { step, from, ms, bytes } of samples) {
    const one = all[step];
    if (!one) continue;
    one.sampled_ms += ms - from;
    if (bytes === 0) one.still_ms += ms - from;
  }
  return all;
}

function putStep(
  { step: i, of: step, sampled }: { step: number; of: StepResult; sampled: Sampled },
  { id }: Run,
  place: Place,
  { put }: Writing,
): void {
  put("steps", place, {
    run_id: id,
    step: i,
    kind: step.kind,
    block_bytes: step.label.block ?? null,
    depth: step.label.depth ?? null,
    mean_mb_per_s: step.meanMBps,
    bytes: step.bytes,
    written_bytes: step.written,
    counted_ms: step.ms,
    requests: step.requests,
    median_latency_us: step.latencyUs.p50,
    p99_latency_us: step.latencyUs.p99,
    max_latency_us: step.latencyUs.max,
    burst_mb_per_s: step.burstMBps,
    sustained_mb_per_s: step.sustainedMBps,
    cache_bytes: step.edgeBytes,
    faults: step.faults.length + step.moreFaults,
    ...sampled,
    document_json: JSON.stringify(step),
  });
  for (const direction of ["read", "write"] as const) {
    const latency = step[direction];
    if (!latency) continue;
    unpackHistogram(latency.histogram).forEach((requests, bucket) => {
      if (requests === 0) return;
      const middle_us = middleOf(bucket) / 1e3;
      put("latency_histograms", place, { run_id: id, step: i, direction, middle_us, requests });
    });
  }
}

function putTrace({ id, samples, events, readings }: Run, place: Place, { put }: Writing): void {
  samples.forEach(({ from, ms, bytes, written, requests, step, target }, sample) =>
    put("samples", place, {
      run_id: id,
      sample,
      step,
      target,
      from_ms: from,
      until_ms: ms,
      bytes,
      written_bytes: written,
      requests,
    }),
  );
  events.forEach(({ ms, kind, text, from }, event) =>
    put("events", place, { run_id: id, event, at_ms: ms, kind, text, read_from: from }),
  );
  readings.forEach((one, reading) => {
    const { ms, engine, machine, ...rest } = one;
    const celsius = Object.values(rest.celsius);
    put("readings", place, {
      run_id: id,
      reading,
      at_ms: ms,
      engine_share: engine,
      machine_share: machine,
      hottest_celsius: celsius.length > 0 ? Math.max(...celsius) : null,
      document_json: JSON.stringify(rest),
    });
  });
}

/** What the tester did to a run, as a short text that changes with it. */
export const markVersion = (
  { leftOut, corrections }: Pick<Run, "leftOut" | "corrections">,
  digest: Digest,
): string => digest(JSON.stringify([leftOut, corrections]));

/** Writes what the tester did to a run since it was archived. */
export function putMark(
  run: Pick<Run, "id" | "leftOut" | "corrections">,
  { put, digest, at, place }: Writing,
): void {
  put("marks", place, {
    mark_version: markVersion(run, digest),
    run_id: run.id,
    left_out: run.leftOut,
    corrections_json: JSON.stringify(run.corrections),
    written_at: at,
  });
}
