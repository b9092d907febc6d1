import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { blankStep } from "../run/step";
import { Flow } from "../run/program";
import { EngineEvent, Job } from "../run/protocol";
import type { StepResult } from "../run/result";
import { Joint } from "./joint";
import { jointFlow, partsOf } from "./parts";

const PLACES = [
  { host: null, path: "/mnt/a" },
  { host: "lab2", path: "/mnt/b" },
  { host: null, path: "/mnt/c" },
];

const jobWith = (more: object = {}): Job =>
  Job.parse({
    targets: PLACES.map(({ path }) => path),
    program: [
      {
        do: "flow",
        targets: [0, 1, 2],
        writeShare: 0,
        order: "sequential",
        block: 2 ** 19,
        depth: 8,
        span: 2 ** 30,
        seconds: 10,
        ...more,
      },
    ],
    repeats: 1,
    io: "direct",
    reserve: 0,
    keepOff: "/data",
    nerrit: "test",
  });

describe("a run on several machines is taken apart", () => {
  it("so that every drive begins when it would in the whole, and all end together", () => {
    const [here, there] = partsOf(jobWith({ everySeconds: 5 }), PLACES);
    expect(here).toMatchObject({ host: null, targets: [0, 2] });
    expect(here!.job).toMatchObject({
      targets: ["/mnt/a", "/mnt/c"],
      gated: true,
      keepOff: "/data",
    });
    expect(here!.job.program[0]).toMatchObject({ targets: [0, 1], joins: [0, 10], seconds: 10 });
    expect(there).toMatchObject({ host: "lab2", targets: [1] });
    expect(there!.job).toMatchObject({ targets: ["/mnt/b"], gated: true, keepOff: null });
    expect(there!.job.program[0]).toMatchObject({ targets: [0], joins: [5], seconds: 15 });
  });

  it("and refused where it is more than one flow over all drives", () => {
    const job = jobWith();
    expect(() => jointFlow({ ...job, program: [...job.program, ...job.program] })).toThrow(
      RangeError,
    );
    expect(() => jointFlow({ ...job, targets: ["/mnt/a"] })).toThrow(RangeError);
  });
});

const YEAR = 365 * 86_400e3;
const T0 = Date.parse("2026-06-01T12:00:00.000Z");

interface Machine {
  /** When it began, milliseconds after it was told to, and how far its clock is ahead of ours. */
  lateMs: number;
  aheadMs: number;
}

const told = (part: object) => EngineEvent.parse(part);
const conditions = ({ aheadMs }: Machine, host: string) =>
  told({
    event: "conditions",
    conditions: {
      startedAt: "",
      nerrit: "test",
      host,
      kernel: "",
      processor: "",
      cores: 4,
      loadAtStart: 0,
      target: "/mnt/x",
      targetKind: "directory",
      fileSystem: "ext4",
      mountOptions: null,
      device: "sdb",
      deviceBytes: null,
      freeBytes: null,
      scheduler: null,
      rotational: null,
      writeCache: null,
      requestLimitBytes: null,
      io: "direct",
      lane: "native",
      clock: { aheadMs, uncertainMs: 1 },
    },
  });

/** What a part tells of its flow: every target at its own rate, in MB/s, sampled ten times a second. */
function flowTold(step: Flow, rates: readonly number[], { lateMs, aheadMs }: Machine) {
  const joins = step.joins!.map((seconds) => seconds * 1e3);
  const end = Math.max(...joins) + step.seconds! * 1e3;
  const at = new Date(T0 + lateMs + aheadMs).toISOString();
  const events: EngineEvent[] = [told({ event: "started", repeat: 0, at })];
  for (let ms = 100; ms <= end; ms += 100)
    for (const [target, join] of joins.entries()) {
      if (ms <= join) continue;
      const bytes = rates[target]! * 1e5;
      const moved = { bytes, written: 0, requests: bytes / step.block };
      events.push({ event: "sample", repeat: 0, from: ms - 100, ms, ...moved, step: 0, target });
    }
  const seconds = joins.map((join) => (end - join) / 1e3);
  const bytes = rates.reduce((sum, rate, i) => sum + rate * 1e6 * seconds[i]!, 0);
  const result: StepResult = {
    ...blankStep("flow", {}),
    bytes,
    ms: end,
    requests: bytes / step.block,
    deviceBytes: 2 * bytes,
    processorUsPerRequest: 10,
    busiestCore: 0.1 * rates.length,
  };
  events.push({ event: "stepped", repeat: 0, step: 0, result });
  events.push({ event: "finished", repeat: 0, errors: [] });
  return events;
}

/** Plays a run: the parts are heard by turns, as they were drawn. */
function played(rates: number[], machines: [Machine, Machine], turns: boolean[], every = 0) {
  const job = jobWith({ everySeconds: every });
  const parts = partsOf(job, PLACES);
  const joint = new Joint(parts, jointFlow(job));
  const heard: EngineEvent[] = [];
  const hear = (part: number, event: EngineEvent, at: number) =>
    heard.push(...joint.hear(part, event, at));
  machines.forEach((machine, i) => hear(i, conditions(machine, `m${i}`), T0 - 100));
  hear(0, told({ event: "waiting", repeat: 0 }), T0 - 50);
  expect(joint.toBegin).toBeNull();
  hear(1, told({ event: "waiting", repeat: 0 }), T0 - 40);
  expect(joint.toBegin).toBe(0);
  joint.begin(T0);
  expect(joint.toBegin).toBeNull();
  const queues = parts.map(({ job: own, targets }, i) =>
    flowTold(
      Flow.parse(own.program[0]),
      targets.map((target) => rates[target]!),
      machines[i]!,
    ),
  );
  for (let i = 0; queues.some(({ length }) => length > 0); i++) {
    const first = turns[i % turns.length] ? 0 : 1;
    const part = queues[first]!.length > 0 ? first : 1 - first;
    hear(part, queues[part]!.shift()!, T0 + 60_000);
  }
  return [...heard, ...joint.rest()];
}

const machine = fc.record({
  lateMs: fc.integer({ min: 0, max: 400 }),
  aheadMs: fc.integer({ min: -YEAR, max: YEAR }),
});
const rate = fc.integer({ min: 5, max: 4000 });

describe("a run on several machines is told as one", () => {
  it("with every sample once, in order, and all together while all are at work", () => {
    fc.assert(
      fc.property(
        fc.tuple(rate, rate, rate),
        fc.tuple(machine, machine),
        fc.array(fc.boolean(), { minLength: 1, maxLength: 60 }),
        fc.constantFrom(0, 1, 2.5),
        (rates, machines, turns, every) => {
          const heard = played(rates, machines, turns, every);
          const samples = heard.flatMap((event) => (event.event === "sample" ? [event] : []));
          expect(samples.map(({ ms }) => ms)).toEqual(
            samples.map(({ ms }) => ms).toSorted((a, b) => a - b),
          );
          rates.forEach((own, target) => {
            const bytes = samples
              .filter((one) => one.target === target)
              .reduce((sum, one) => sum + one.bytes, 0);
            const seconds = 10 + (2 - target) * every;
            expect(bytes / 1e6 / seconds).toBeCloseTo(own, 3);
          });
          const [step, ...more] = heard.flatMap((event) =>
            event.event === "stepped" ? [event.result] : [],
          );
          expect(more).toEqual([]);
          const sum = rates.reduce((all, own) => all + own);
          expect(Math.abs(step!.meanMBps / sum - 1)).toBeLessThan(0.001);
          step!.targets.forEach(({ target, meanMBps }) =>
            expect(Math.abs(meanMBps / rates[target]! - 1)).toBeLessThan(0.001),
          );
          expect(step!.ms).toBeGreaterThan(9500);
          expect(step!.ms).toBeLessThanOrEqual(10_000);
          expect(step!.deviceBytes! / step!.bytes).toBeCloseTo(2, 3);
          expect(step!.busiestCore).toBeCloseTo(0.2);
          expect(heard.filter(({ event }) => event === "finished")).toHaveLength(1);
          expect(heard.filter(({ event }) => event === "started")).toHaveLength(1);
        },
      ),
      { numRuns: 40 },
    );
  });

  it("with when each drive joined", () => {
    const still = { lateMs: 0, aheadMs: 0 };
    const heard = played([100, 200, 300], [still, still], [true, false], 2);
    const step = heard.find((event) => event.event === "stepped");
    expect(step).toMatchObject({
      result: { targets: [0, 2000, 4000].map((startedMs) => ({ startedMs })) },
    });
  });

  it("and names the machine of whatever happens, and the further places in its conditions", () => {
    const parts = partsOf(jobWith(), PLACES);
    const joint = new Joint(parts, jointFlow(jobWith()));
    const still = { lateMs: 0, aheadMs: 0 };
    expect(joint.hear(0, conditions(still, "desk"), T0)).toEqual([]);
    const [all] = joint.hear(1, conditions(still, "lab2"), T0);
    expect(all).toMatchObject({
      conditions: {
        host: "desk",
        notes: [/lab2:\/mnt\/x/].map((words) => expect.stringMatching(words)),
      },
    });
    joint.begin(T0);
    const begins = told({ event: "started", repeat: 0, at: new Date(T0).toISOString() });
    joint.hear(0, begins, T0);
    joint.hear(1, begins, T0);
    const what = { ms: 5, kind: "stalled", text: "No request ended for 2 s.", from: null };
    joint.hear(1, told({ event: "happened", repeat: 0, what }), T0);
    expect(joint.rest()).toMatchObject([{ what: { text: expect.stringMatching(/^lab2: /) } }]);
  });
});
