import { changing, count, maybe, moment, number, place, table, text, yesNo } from "../column";

/** Tables of what was measured: runs, steps, samples and what was noted beside them. */

const runId = text("The run");
const step = place("Which step of the drill, from 0");
const afterStart = "milliseconds after the run's first counted moment";

export const runs = table("A run: one repeat of a drill", ["run_id"], {
  run_id: runId,
  measurement_id: text("The order to measure whose repeats belong together"),
  repeat: place("Which repeat, from 0"),
  study_id: text("The study"),
  rig_id: text("The rig"),
  rig_version: text("The rig as it was when measured"),
  drill: text("Name of the drill"),
  direction: text("read, write or mixed"),
  drill_json: text("The drill with all its settings"),
  origin: text("measured, watched, imported, typed or simulated"),
  status: text("done, stopped, failed or interrupted"),
  reason: maybe(text("Why it was stopped, failed or was interrupted")),
  is_warm_up: yesNo("Made to warm up: it counts for nothing"),
  left_out: maybe(text("Why the tester left it out; empty where it counts")),
  is_from_memory: yesNo(
    "Memory may have answered in the drive's place: the rate is none of the drive's",
  ),
  mark_version: text("Digest of left_out and the corrections: marks tells what changed since"),
  started_at: moment("When the run began, UTC"),
  mean_mb_per_s: maybe(number("The headline: mean rate of payload, MB/s (10^6 bytes)")),
  iops: maybe(number("Requests a second")),
  bytes: maybe(count("Payload of both directions")),
  counted_ms: maybe(number("Counted time")),
  requests: maybe(count("Requests that ended")),
  median_latency_us: maybe(number("Median time of one request, microseconds")),
  p99_latency_us: maybe(number("Time that 99 of 100 requests stay below, microseconds")),
  max_latency_us: maybe(number("Longest request, microseconds")),
  burst_mb_per_s: maybe(number("The best five seconds of its first step")),
  sustained_mb_per_s: maybe(number("Mean rate after the last change of level of its first step")),
  device_bytes: maybe(count("Bytes that the kernel counted for the device meanwhile")),
  processor_us_per_request: maybe(number("Processor time of the measuring process")),
  busiest_core_share: maybe(number("Share of time that the busiest core was not idle")),
  start_celsius: maybe(number("Temperature of the drive as the run began")),
  hottest_celsius: maybe(number("Highest temperature of the drive")),
  error_counts: count("By how much error counters rose during the run"),
  ceiling_mb_per_s: maybe(number("Payload that the narrowest stage lets through in its direction")),
  document_json: text("Targets, what the tester stated and corrected, error counters"),
});

export const marks = changing(
  "What the tester did to a run after it was archived",
  ["run_id"],
  "mark_version",
  {
    mark_version: text("Digest of left_out and the corrections"),
    run_id: runId,
    left_out: maybe(text("Why the tester left it out; empty where it counts")),
    corrections_json: text("Corrections of what was found in its trace"),
    written_at: moment("When the mark came into the archive, UTC"),
  },
);

export const conditions = table("The system as a run began", ["run_id"], {
  run_id: runId,
  kernel: text("Kernel"),
  processor: text("Processor"),
  cores: place("Cores"),
  memory_bytes: maybe(count("Memory of the host")),
  file_system: maybe(text("File system that the system reported")),
  mount_options: maybe(text("Mount options that the system reported")),
  device: maybe(text("Name of the device")),
  device_bytes: maybe(count("Size of the device")),
  free_bytes: maybe(count("Free room of the file system")),
  drive: maybe(text("Maker and model of the drive that the system reported")),
  link: maybe(text("Link that the system reported")),
  io: maybe(text("direct (past the page cache) or buffered")),
  nerrit: text("Version of Nerrit"),
  document_json: text("Everything that was read from the system"),
});

export const steps = table("A step of a run", ["run_id", "step"], {
  run_id: runId,
  step,
  kind: text("flow, rest, check, copy or replay"),
  block_bytes: maybe(count("Bytes of one request, where the step has one size")),
  depth: maybe(place("Requests in flight, where the step has one depth")),
  mean_mb_per_s: number("Mean rate of payload"),
  bytes: count("Payload of both directions"),
  written_bytes: count("Of that, written"),
  counted_ms: number("Counted time"),
  requests: count("Requests that ended"),
  median_latency_us: number("Median time of one request"),
  p99_latency_us: number("Time that 99 of 100 requests stay below"),
  max_latency_us: number("Longest request"),
  burst_mb_per_s: number("The best five seconds"),
  sustained_mb_per_s: number("Mean rate after the last change of level"),
  cache_bytes: maybe(
    count("Bytes moved before the first lasting drop; empty where there was none"),
  ),
  faults: count("Pages that did not hold what was written to them"),
  sampled_ms: number("Time that its samples cover, of all targets together"),
  still_ms: number("Of that, in samples in which nothing moved"),
  document_json: text("Everything that the step gave"),
});

export const samples = table("What moved between two moments", ["run_id", "sample"], {
  run_id: runId,
  sample: place("Which sample, from 0"),
  step,
  target: place("Which target, in the order of the run's targets, from 0"),
  from_ms: number(`Begin, ${afterStart}`),
  until_ms: number(`End, ${afterStart}`),
  bytes: count("Payload of both directions"),
  written_bytes: count("Of that, written"),
  requests: count("Requests that ended"),
});

export const latencyHistograms = table(
  "Requests of a step by how long they took",
  ["run_id", "step", "direction", "middle_us"],
  {
    run_id: runId,
    step,
    direction: text("read or write"),
    middle_us: number(
      "Middle of the bucket, microseconds; a bucket is at most 1/64 of the time wide",
    ),
    requests: count("Requests in the bucket"),
  },
);

export const events = table("Something that happened during a run", ["run_id", "event"], {
  run_id: runId,
  event: place("Which event, from 0"),
  at_ms: number(`When, ${afterStart}`),
  kind: text("gone, reset, error, stalled, throttled, link, kernel, space, note or mark"),
  text: text("What happened"),
  read_from: maybe(text("File or counter that it was read from")),
});

export const readings = table("What the system showed during a run", ["run_id", "reading"], {
  run_id: runId,
  reading: place("Which reading, from 0"),
  at_ms: number(`When, ${afterStart}`),
  engine_share: maybe(number("Share of processor time that the measuring process used")),
  machine_share: maybe(number("Share of processor time that anything used")),
  hottest_celsius: maybe(number("Highest of the temperatures")),
  document_json: text("All temperatures, by sensor, and the load of a far host"),
});
