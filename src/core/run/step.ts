import type { StepLabel } from "./program";
import type { Latency, Sample, StepResult } from "./result";

export const NO_LATENCY: Latency = { p50: 0, p95: 0, p99: 0, p999: 0, p9999: 0, max: 0 };

/** A step of which nothing is known yet but what it is. */
export const blankStep = (kind: StepResult["kind"], label: StepLabel): StepResult => ({
  label,
  kind,
  meanMBps: 0,
  bytes: 0,
  written: 0,
  ms: 0,
  requests: 0,
  read: null,
  write: null,
  latencyUs: NO_LATENCY,
  deviceBytes: null,
  flushMs: null,
  processorUsPerRequest: 0,
  busiestCore: null,
  burstMBps: 0,
  sustainedMBps: 0,
  edgeBytes: null,
  steady: null,
  targets: [],
  copy: null,
  faults: [],
  moreFaults: 0,
});

/** A sample of a drill with one step on one target. */
export const plainSample = (from: number, ms: number, bytes: number, writing = false): Sample => ({
  from,
  ms,
  bytes,
  written: writing ? bytes : 0,
  requests: 0,
  step: 0,
  target: 0,
});
