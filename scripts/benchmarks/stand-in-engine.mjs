/**
 * A stand-in for the measuring process: tells at once what a run of one steady flow would have told, and
 * moves nothing. For what is looked at around a run (pages, plans, memory), where the rate itself is given.
 *
 * The rate is in the file RATE of the target's folder, MB/s; 400 where there is none.
 */
import fs from "node:fs";
import path from "node:path";

const RATE = "stand-in-rate";

const say = (event) => process.stdout.write(`${JSON.stringify(event)}\n`);

function rateOf(target) {
  const file = path.join(target, RATE);
  return fs.existsSync(file) ? Number(fs.readFileSync(file, "utf8")) : 400;
}

function conditions(job) {
  return {
    startedAt: new Date().toISOString(),
    nerrit: job.nerrit,
    host: "stand-in",
    kernel: "",
    processor: "",
    cores: 1,
    loadAtStart: 0,
    target: job.targets[0],
    targetKind: "directory",
    fileSystem: null,
    mountOptions: null,
    device: null,
    deviceBytes: null,
    freeBytes: null,
    scheduler: null,
    rotational: null,
    writeCache: null,
    requestLimitBytes: null,
    io: "direct",
    lane: "native",
    notes: [],
  };
}

/** One repeat: ten samples and a reading a second, a little uneven. */
function run(repeat, rateMBps, { seconds, block, writeShare }) {
  const share = writeShare ?? 0;
  say({ event: "started", repeat, at: new Date().toISOString() });
  let bytes = 0;
  const samples = seconds * 10;
  for (let i = 0; i < samples; i++) {
    const moved = Math.round(rateMBps * 1e5 * (1 + 0.02 * Math.sin(i)));
    bytes += moved;
    const written = Math.round(moved * share);
    const requests = Math.ceil(moved / block);
    const [from, ms] = [i * 100, (i + 1) * 100];
    say({ event: "sample", repeat, from, ms, bytes: moved, written, requests, step: 0, target: 0 });
    const reading = { ms: from, engine: 0.1, machine: 0.2, celsius: { drive: 40 } };
    if (i % 10 === 0) say({ event: "reading", repeat, reading });
  }
  const requestUs = block / rateMBps;
  const latencyUs = Object.fromEntries(
    ["p50", "p95", "p99", "p999", "p9999", "max"].map((name) => [name, requestUs]),
  );
  const result = {
    label: {},
    kind: "flow",
    meanMBps: bytes / seconds / 1e6,
    bytes,
    written: Math.round(bytes * share),
    ms: seconds * 1000,
    requests: Math.ceil(bytes / block),
    read: null,
    write: null,
    latencyUs,
    deviceBytes: null,
    flushMs: null,
    processorUsPerRequest: 1,
    busiestCore: null,
    burstMBps: rateMBps,
    sustainedMBps: rateMBps,
    edgeBytes: null,
    steady: null,
    targets: [],
    copy: null,
    faults: [],
    moreFaults: 0,
  };
  say({ event: "stepped", repeat, step: 0, result });
  say({ event: "finished", repeat, errors: [] });
}

process.stdin.once("data", (chunk) => {
  const job = JSON.parse(chunk);
  const flow = job.program.find((step) => step.do === "flow");
  const rate = rateOf(job.targets[0]);
  say({ event: "conditions", conditions: conditions(job) });
  for (let repeat = 0; repeat < job.repeats; repeat++)
    run(repeat, rate, { ...flow, seconds: flow.seconds ?? 60 });
  process.stdout.write('{"event":"done"}\n', () => process.exit(0));
});
