import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { usualDrill } from "../drills/shape";
import { resultFrom } from "../drills/summary";
import type { RecordedRequest } from "../recording/request";
import { answeringOf } from "../replay/answering";
import { predictWork } from "../replay/predict";
import { workOf } from "../replay/work";
import { cable, drive, enclosure, port, rig, USB_10G, USB_20G, USB_5G } from "../testing/rigs";
import { Simulation, type SimulationInput } from "./model";
import { simulateRun } from "./run";

const KIB = 1024;
const SHA = "1".repeat(64);
const chain = (modes = USB_10G) => rig([port(), cable(modes), enclosure(), drive()]);
const QUIET = { bench: { noise: 0 } };

const recordingOf = (requests: RecordedRequest[], ms: number) => ({
  requests,
  end: { ms, lost: 0, counted: null, reason: null },
});
type Recorded = ReturnType<typeof recordingOf>;

/** Requests one after another, each so long after the answer before. */
const oneByOne = (count: number, bytes: number, pauseUs = 0, kind: "read" | "write" = "read") =>
  recordingOf(
    Array.from({ length: count }, (_, i) => ({
      startUs: i * (500 + pauseUs),
      tookUs: 500,
      kind,
      offset: i * bytes,
      bytes,
      program: 0,
    })),
    (count * (500 + pauseUs)) / 1e3,
  );

const doAgain = (
  recording: Recorded,
  of = chain(),
  simulation: SimulationInput = QUIET,
  seed = 1,
) => {
  const drill = usualDrill("encore", "mixed", { recordings: [workOf(recording, "work", SHA)] });
  const run = simulateRun(of, drill, Simulation.parse(simulation), { seed }, () => recording);
  return { ...run, result: resultFrom(drill, run.steps), step: run.steps[0]! };
};

const anyWork = fc
  .array(
    fc.record({
      startUs: fc.nat(400_000),
      tookUs: fc.integer({ min: 1, max: 60_000 }),
      kind: fc.constantFrom("read" as const, "write" as const),
      offset: fc.nat(4000).map((n) => n * 4096),
      bytes: fc.integer({ min: 1, max: 128 }).map((n) => n * 4096),
      program: fc.constant(0),
    }),
    { minLength: 1, maxLength: 60 },
  )
  .map((all) =>
    recordingOf(
      all.toSorted((a, b) => a.startUs - b.startUs),
      500,
    ),
  );

describe("recorded work on the simulated bench", () => {
  it("moves what the recording moved, the same for the same seed", () => {
    fc.assert(
      fc.property(anyWork, fc.nat(1000), (work, seed) => {
        const { samples, step } = doAgain(work, chain(), {}, seed);
        const bytes = work.requests.reduce((sum, one) => sum + one.bytes, 0);
        expect(step.bytes).toBe(bytes);
        expect(step.requests).toBe(work.requests.length);
        expect(samples.reduce((sum, one) => sum + one.bytes, 0)).toBe(bytes);
        expect(samples.at(-1)!.ms).toBeCloseTo(step.ms, 6);
        expect(step.replay!.replayed.waitedMs).toBeLessThanOrEqual(step.ms + 1e-6);
        expect(doAgain(work, chain(), {}, seed)).toEqual(doAgain(work, chain(), {}, seed));
      }),
      { numRuns: 30 },
    );
  });

  it("never takes longer through a wider link, nor less than its pauses", () => {
    fc.assert(
      fc.property(anyWork, (work) => {
        const [narrow, wide] = [USB_5G, USB_20G].map(
          (modes) => doAgain(work, chain(modes)).step.ms,
        );
        expect(wide).toBeLessThanOrEqual(narrow! * (1 + 1e-9));
      }),
      { numRuns: 30 },
    );
    const thoughtful = oneByOne(50, 4 * KIB, 20_000);
    const { ms, replay } = doAgain(thoughtful).step;
    expect(ms - replay!.replayed.waitedMs).toBeCloseTo(50 * 20, 3);
  });

  it("takes what ladders of the same rig foretell, within 15 in a hundred", () => {
    const works = [
      oneByOne(400, 4 * KIB),
      oneByOne(200, 128 * KIB, 300),
      oneByOne(100, 1024 * KIB, 0, "write"),
    ];
    for (const modes of [USB_5G, USB_10G]) {
      const of = chain(modes);
      const seen = (["stride-ladder", "depth-ladder"] as const).flatMap((name) =>
        (["read", "write"] as const).map((direction) => {
          const drill = usualDrill(name, direction, {});
          const { steps } = simulateRun(of, drill, Simulation.parse(QUIET), { seed: 1 });
          return { drill, results: [resultFrom(drill, steps)], doubtful: false };
        }),
      );
      const answering = answeringOf(seen as unknown as Parameters<typeof answeringOf>[0]);
      for (const work of works) {
        const foretold = predictWork([work], answering, { pace: "asap", pauses: "kept" })!;
        expect(Math.abs(foretold.ms / doAgain(work, of).step.ms - 1)).toBeLessThan(0.15);
      }
    }
  });

  it("slows down where the drive's cache is full, and not before", () => {
    const cache = { stages: [{ bytes: 500e6 }], foldedMBps: 50 };
    const of = chain();
    const parts = { [of.parts.at(-1)!.id]: { cache } };
    const within = oneByOne(400, 1024 * KIB, 0, "write");
    const beyond = oneByOne(1000, 1024 * KIB, 0, "write");
    const ms = (work: Recorded, simulation: SimulationInput) =>
      doAgain(work, of, simulation).step.ms;
    expect(ms(within, { ...QUIET, parts })).toBeCloseTo(ms(within, QUIET), 3);
    expect(ms(beyond, { ...QUIET, parts })).toBeGreaterThan(3 * ms(beyond, QUIET));
  });

  it("comes to its end over a link that goes down and comes up again", () => {
    const of = chain();
    const flaky = { faults: [{ kind: "flaky" as const, at: of.parts[2]!.id }] };
    const long = oneByOne(3000, 1024 * KIB, 50_000);
    const { step, events } = doAgain(long, of, flaky, 7);
    expect(step.requests).toBe(3000);
    expect(events.length).toBeGreaterThan(0);
    expect(step.ms).toBeLessThan(600_000);
  });

  it("says which recording is not here, and that nothing answers any more", () => {
    const drill = usualDrill("encore", "mixed", {
      recordings: [workOf(oneByOne(1, 4096), "the build", SHA)],
    });
    expect(() => simulateRun(chain(), drill, Simulation.parse({}), { seed: 1 })).toThrow(
      /the build is not here/,
    );
    const dead = { faults: [{ kind: "file-system" as const, share: 0 }] };
    expect(() => doAgain(oneByOne(1, 4096), chain(), dead)).toThrow(RangeError);
  });
});
