import fc from "fast-check";
import { describe, expect, it } from "vitest";
import type { Part } from "../chain/part";
import { BARE_RIG, type Rig } from "../chain/rig";
import { stagesOf } from "../chain/stages";
import { DRILLS } from "../drills/catalogue";
import { unsureBy } from "../drills/kind";
import { usualDrill } from "../drills/shape";
import { resultFrom } from "../drills/summary";
import { findingOf } from "../locate/findings/finding";
import { summarise } from "../stats/repeats";
import {
  cable,
  drive,
  enclosure,
  part,
  port,
  rig,
  USB_10G,
  USB_20G,
  USB_5G,
} from "../testing/rigs";
import { Simulation, type SimulationInput } from "./model";
import { simulateRun } from "./run";

const chain = (modes = USB_10G) => rig([port(), cable(modes), enclosure(), drive()]);
const bench = chain(USB_5G);
const run = (
  of: Rig,
  name: string,
  direction: "read" | "write" | "mixed",
  set: Record<string, unknown> = {},
  simulation: SimulationInput = {},
  seed = 1,
  repeat = 0,
) =>
  simulateRun(of, usualDrill(name, direction, set), Simulation.parse(simulation), { seed, repeat });
const meanOf = (...args: Parameters<typeof run>) =>
  resultFrom(usualDrill(args[1], args[2], args[3]), run(...args).steps).meanMBps;
const bytesOf = (...args: Parameters<typeof run>) =>
  run(...args).samples.reduce((sum, { bytes }) => sum + bytes, 0);
const quiet = { bench: { noise: 0 } };
const seeds = fc.integer({ min: 0, max: 1e6 });

describe("a simulated run", () => {
  it("is repeatable by its seed, and different with another, or at another repeat", () => {
    expect(run(bench, "haul", "read", {}, {}, 5)).toEqual(run(bench, "haul", "read", {}, {}, 5));
    const samples = (seed: number, repeat = 0) =>
      run(bench, "haul", "read", {}, {}, seed, repeat).samples;
    expect(samples(6)).not.toEqual(samples(5));
    expect(samples(5, 1)).not.toEqual(samples(5));
  });

  it("goes on with a ladder's step until enough large requests have ended, but not for ever", () => {
    const steps = (mbps: number) =>
      run(
        rig([port(), cable(), enclosure(), { ...drive(), limits: { read: mbps } }]),
        "stride-ladder",
        "read",
        { blocks: [4096, 16 * 2 ** 20], seconds: 1 },
        quiet,
      ).steps;
    for (const { requests, ms } of steps(46)) {
      expect(requests).toBeGreaterThanOrEqual(33);
      expect(ms).toBeGreaterThanOrEqual(1000);
    }
    const [small, large] = steps(3);
    expect(unsureBy(small!)).toBeNull();
    expect(large!.ms).toBeCloseTo(60e3, -3);
    expect(unsureBy(large!)).toBeCloseTo(1 / large!.requests, 6);
  });

  it("runs where its bottleneck lets good hardware run, whatever the seed", () => {
    fc.assert(
      fc.property(seeds, (seed) => {
        const means = [0, 1, 2].map((k) => meanOf(bench, "haul", "read", {}, {}, seed, k));
        expect(findingOf(bench, "read", summarise(means))!.kind).toBe("at bottleneck");
      }),
      { numRuns: 30 },
    );
  });

  it.each(DRILLS.filter(({ name, recorded }) => name !== "ferry" && !recorded))(
    "$name is never above a hard ceiling, and conserves bytes in whole requests",
    (kind) => {
      fc.assert(
        fc.property(seeds, fc.constantFrom(...kind.directions), (seed, direction) => {
          const small = { span: 64 * 2 ** 20, size: 2 ** 30, fill: 2 ** 28, rests: [1] };
          const set = Object.fromEntries(
            Object.entries(small).filter(([name]) => name in kind.parameters),
          );
          const { samples, steps } = run(bench, kind.name, direction, set, {}, seed);
          const way = direction === "mixed" ? "read" : direction;
          const ceiling = Math.min(...stagesOf(bench, way).map((stage) => stage.ceiling));
          for (const { meanMBps, burstMBps } of steps) {
            expect(meanMBps).toBeLessThanOrEqual(ceiling * 1.02);
            expect(burstMBps).toBeLessThanOrEqual(ceiling * 1.02);
          }
          const all = (
            pick: (one: { bytes: number; written: number; requests: number }) => number,
          ) => [samples, steps].map((list) => list.reduce((sum, one) => sum + pick(one), 0));
          for (const of of [all((o) => o.bytes), all((o) => o.requests)]) expect(of[0]).toBe(of[1]);
          expect(samples.every(({ written, bytes }) => written <= bytes)).toBe(true);
        }),
        { numRuns: 6 },
      );
    },
  );

  it("is never slower on a wider link", () => {
    const modes = [USB_5G, USB_10G, USB_20G];
    fc.assert(
      fc.property(
        seeds,
        fc.integer({ min: 12, max: 23 }),
        fc.integer({ min: 1, max: 64 }),
        (seed, log, depth) => {
          const rates = modes.map((all) => {
            const box = part("enclosure", "box", { up: all, down: ["pcie-3.0-x4"] });
            const of = rig([port(all), cable(all), box, drive()]);
            return meanOf(of, "haul", "read", { block: 2 ** log, depth, seconds: 2 }, {}, seed);
          });
          expect(rates[1]!).toBeGreaterThanOrEqual(rates[0]!);
          expect(rates[2]!).toBeGreaterThanOrEqual(rates[1]!);
        },
      ),
      { numRuns: 40 },
    );
  });

  it("never gains less by depth, and nothing at all without queueing", () => {
    const rates = (of: Rig, medium: "flash" | "disk", seed: number) =>
      [1, 2, 4, 8, 32, 128, 256].map((depth) =>
        meanOf(
          of,
          "scatter",
          "read",
          { depth, seconds: 2 },
          { parts: { drive: { medium } } },
          seed,
        ),
      );
    fc.assert(
      fc.property(seeds, fc.constantFrom("flash" as const, "disk" as const), (seed, medium) => {
        const all = rates(bench, medium, seed);
        all
          .slice(1)
          .forEach((rate, i) => expect(rate).toBeGreaterThanOrEqual(all[i]! * (1 - 1e-9)));
        if (medium === "flash") expect(all.at(-1)! / all[0]!).toBeGreaterThan(3);
        const unqueued = rates({ ...bench, transport: "usb-unqueued" }, "flash", seed);
        expect(unqueued.at(-1)! / unqueued[0]!).toBeLessThan(1.01);
      }),
      { numRuns: 20 },
    );
  });
});

/** A drive whose cache takes 20 GB at 900 MB/s and which then writes 250 MB/s. */
const cached = (more: object = {}): SimulationInput => ({
  parts: { drive: { cache: { stages: [{ bytes: 20e9 }], foldedMBps: 250 }, ...more } },
});
const fill = { size: 64 * 2 ** 30, seconds: 600 };

describe("a cache", () => {
  it("gives out after its bytes, and leaves the folded rate", () => {
    const { steps } = run(chain(), "long-fill", "write", fill, cached());
    const [{ edgeBytes, burstMBps, sustainedMBps }] = steps as [(typeof steps)[number]];
    expect(edgeBytes! / 20e9).toBeCloseTo(1, 1);
    expect(burstMBps).toBeGreaterThan(800);
    expect(sustainedMBps / 250).toBeCloseTo(1, 1);
  });

  it("is never smaller on an emptier drive", () => {
    fc.assert(
      fc.property(
        seeds,
        fc.double({ min: 0, max: 1, noNaN: true }),
        fc.double({ min: 0, max: 1, noNaN: true }),
        (seed, a, b) => {
          const [full, empty] = [Math.max(a, b), Math.min(a, b)].map((filled) =>
            bytesOf(
              chain(),
              "long-fill",
              "write",
              { ...fill, seconds: 60 },
              cached({ filled }),
              seed,
            ),
          );
          expect(empty!).toBeGreaterThanOrEqual(full!);
        },
      ),
      { numRuns: 15 },
    );
  });

  it("comes back while the drive rests, the longer the more", () => {
    const simulation = cached({
      cache: { stages: [{ bytes: 20e9 }], foldedMBps: 250, recoverMBps: 100 },
    });
    const set = { fill: 30e9 - (30e9 % 2 ** 20), rests: [10, 60, 600] };
    const { steps } = run(chain(), "rest-and-return", "write", set, simulation);
    const means = steps.filter(({ kind }) => kind === "flow").map(({ meanMBps }) => meanMBps);
    expect(means[1]!).toBeLessThan(means[2]!);
    expect(means[2]!).toBeLessThan(means[3]!);
    expect(means[3]! / means[0]!).toBeCloseTo(1, 1);
  });
});

describe("heat", () => {
  const hot = { heat: { riseCelsius: 70, tauSeconds: 60 } };
  it("slows reading and writing, and the hotter the room the more", () => {
    fc.assert(
      fc.property(
        seeds,
        fc.constantFrom("drive", "box"),
        fc.constantFrom("read" as const, "write" as const),
        fc.integer({ min: -10, max: 60 }),
        fc.integer({ min: 0, max: 30 }),
        (seed, where, direction, ambientCelsius, more) => {
          const moved = [ambientCelsius, ambientCelsius + more].map((ambient) =>
            bytesOf(
              chain(),
              "haul",
              direction,
              { seconds: 300 },
              {
                bench: { ambientCelsius: ambient },
                parts: { [where]: hot, ...(where === "drive" ? {} : {}) },
              },
              seed,
            ),
          );
          expect(moved[1]!).toBeLessThanOrEqual(moved[0]!);
        },
      ),
      { numRuns: 30 },
    );
  });

  it("throttles after minutes where the pad is missing, and tells its temperature", () => {
    const simulation: SimulationInput = { faults: [{ kind: "no-heat-pad", at: "box" }] };
    const { steps, readings } = run(chain(), "haul", "read", { seconds: 900 }, simulation);
    expect(steps[0]!.sustainedMBps).toBeLessThan(steps[0]!.burstMBps * 0.8);
    expect(Math.max(...readings.map(({ celsius }) => celsius.box!))).toBeGreaterThan(75);
    expect(readings.length).toBeGreaterThan(890);
  });
});

describe("noise", () => {
  it("never departs further where it is halved", () => {
    fc.assert(
      fc.property(seeds, (seed) => {
        const rates = [0, 1, 0.5].map((noise) =>
          run(bench, "haul", "read", { block: 4096 }, { bench: { noise } }, seed).samples.map(
            ({ bytes }) => bytes,
          ),
        );
        const spread = (of: number[]) =>
          Math.sqrt(of.reduce((sum, b, i) => sum + (b - rates[0]![i]!) ** 2, 0) / of.length);
        expect(spread(rates[2]!)).toBeLessThanOrEqual(spread(rates[1]!));
      }),
      { numRuns: 20 },
    );
  });
  it("is none where none is asked for, and differs a little after every plugging-in", () => {
    const { samples } = run(bench, "haul", "read", {}, quiet);
    const bytes = samples.map((one) => one.bytes);
    expect(Math.max(...bytes) - Math.min(...bytes)).toBeLessThanOrEqual(512 * 1024);
    const simulation = Simulation.parse({});
    const means = [0, 1, 2, 3, 4, 5].map((plugging) => {
      const drill = usualDrill("haul", "read");
      return simulateRun(bench, drill, simulation, { seed: 3, plugging }).steps[0]!.meanMBps;
    });
    const { cv } = summarise(means);
    expect(cv!).toBeGreaterThan(0.001);
    expect(cv!).toBeLessThan(0.02);
  });
});

describe("a fault", () => {
  const mean = (
    faults: SimulationInput["faults"],
    direction: "read" | "write" = "read",
    set = {},
  ) => meanOf(chain(USB_20G), "haul", direction, set, { ...quiet, faults });
  const sound = mean([]);

  it.each<[string, NonNullable<SimulationInput["faults"]>[number], number, number]>([
    ["a dropped link", { kind: "dropped", at: "box" }, 0.4, 0.55],
    ["no queueing", { kind: "unqueued" }, 0.5, 0.95],
    ["background traffic", { kind: "background", mbps: 400 }, 0.5, 0.95],
  ])("slows: %s", (_, fault, least, most) => {
    expect(mean([fault]) / sound).toBeGreaterThan(least);
    expect(mean([fault]) / sound).toBeLessThan(most);
  });

  it("leaves one lane in the wrong slot", () => {
    const narrow = mean([{ kind: "wrong-slot", at: "drive" }]);
    expect(narrow).toBeLessThan(985);
    expect(narrow).toBeGreaterThan(700);
  });

  it("spreads a flaky cable’s rate wide, with dips, retries and resets", () => {
    const simulation: SimulationInput = { faults: [{ kind: "flaky", at: "cable" }] };
    const { samples, events, errors } = run(bench, "haul", "read", { seconds: 900 }, simulation);
    const rates = samples.map(({ bytes }) => bytes).toSorted((a, b) => a - b);
    expect(rates[Math.floor(rates.length * 0.02)]!).toBeLessThan(rates[rates.length >> 1]! * 0.7);
    expect(events.some(({ kind }) => kind === "reset")).toBe(true);
    expect(errors[0]!.after).toBeGreaterThan(3);
  });

  it("makes writing wait for the medium without a cache, on flash and on a disk", () => {
    for (const medium of ["flash", "disk"] as const) {
      const set = { depth: 1, block: 4096, seconds: 2 };
      const parts = { drive: { medium } };
      const [on, off] = [[], [{ kind: "cache-off" as const, at: "drive" }]].map((faults) =>
        meanOf(chain(), "haul", "write", set, { ...quiet, parts, faults }),
      );
      expect(off!).toBeLessThan(on! / 5);
    }
  });

  it("is found by Proof on a drive that holds less than it says, and nowhere else", () => {
    const set = { span: 8 * 2 ** 30, passes: 1 };
    const faultsOf = (simulation: SimulationInput) =>
      run(chain(), "proof", "write", set, simulation).steps.flatMap(({ faults }) => faults);
    expect(faultsOf({})).toEqual([]);
    const counterfeit = { kind: "counterfeit" as const, at: "drive", bytes: 6 * 2 ** 30 };
    const [only] = faultsOf({ faults: [counterfeit] });
    expect(only).toEqual({ kind: "misdirected", offset: 0, bytes: 2 * 2 ** 30 });
  });

  it("exceeds the ceiling where memory answers, and the kernel counts nothing", () => {
    const { steps } = run(bench, "haul", "read", {}, { faults: [{ kind: "memory" }] });
    expect(steps[0]!.meanMBps).toBeGreaterThan(2000);
    expect(steps[0]!.deviceBytes).toBe(0);
  });
});

/** Four disks in a box on one uplink of 5 Gb/s. */
function boxOfDisks(): Rig {
  const bays = { down: ["sata-6g"] };
  const box = part("enclosure", "box", { up: USB_5G, ...bays });
  const disks = [1, 2, 3, 4].map((n): Part =>
    part("drive", `disk ${n}`, { up: ["sata-6g"] }, { limits: { read: 180, write: 170 } }),
  );
  return {
    ...BARE_RIG,
    id: "r",
    name: "r",
    parts: [port(), cable(), box, disks[0]!],
    beside: disks.slice(1),
  };
}

describe("several drives behind one uplink", () => {
  it("share it: what one does not need goes to the others, and a bad bay is slow by itself", () => {
    const shares = (simulation: SimulationInput) =>
      run(boxOfDisks(), "convoy", "read", {}, { ...quiet, ...simulation }).steps[0]!.targets.map(
        ({ meanMBps }) => meanMBps,
      );
    const even = shares({});
    const uplink = even.reduce((sum, rate) => sum + rate, 0);
    expect(uplink).toBeLessThan(480);
    for (const rate of even) expect(rate / uplink).toBeCloseTo(0.25, 2);
    const odd = shares({ faults: [{ kind: "bad-bay", at: "disk 3" }] });
    expect(odd[2]! / 60).toBeCloseTo(1, 1);
    expect(odd[0]!).toBeGreaterThan(even[0]!);
    expect(odd.reduce((sum, rate) => sum + rate, 0) / uplink).toBeCloseTo(1, 2);
  });

  it("add up until the uplink is full", () => {
    const { steps, samples } = run(boxOfDisks(), "convoy", "read", { everySeconds: 10 }, quiet);
    const between = (from: number, to: number) =>
      samples
        .filter((s) => s.from >= from * 1e3 && s.ms <= to * 1e3)
        .reduce((sum, { bytes }) => sum + bytes, 0) /
      1e6 /
      (to - from);
    expect(between(1, 9) / 180).toBeCloseTo(1, 1);
    expect(between(11, 19) / 360).toBeCloseTo(1, 1);
    expect(between(31, 39) / between(21, 29)).toBeCloseTo(1, 2);
    expect(steps[0]!.targets.map(({ startedMs }) => startedMs)).toEqual([0, 1e4, 2e4, 3e4]);
  });
});

describe("a copy", () => {
  const slow = part("drive", "card", { up: USB_5G }, { limits: { read: 90, write: 60 } });
  const ferry = (more: Partial<Rig>) =>
    run({ ...chain(), ...more }, "ferry", "write", {}, quiet).steps[0]!;

  it("waits for its slower side, and says which that was", () => {
    const { copy, meanMBps, ms } = ferry({ other: [port(USB_20G, "port 2"), slow] });
    expect(meanMBps).toBeLessThan(90);
    expect(meanMBps).toBeGreaterThan(70);
    expect(copy!.waitedForFromMs).toBeGreaterThan(ms / 2);
    expect(copy!.waitedForToMs).toBe(0);
  });

  it("is of files made up where there is no other side", () => {
    const { copy, bytes } = ferry({});
    expect(copy!.files).toBeGreaterThan(0);
    expect(bytes).toBeGreaterThan(1e9);
  });
});

describe("a disk", () => {
  it("is slower towards its end, and by its seeks where it is read at random", () => {
    const of = rig([port(), cable(), enclosure(), drive({ read: 200, write: 190 })]);
    const simulation: SimulationInput = {
      ...quiet,
      parts: { drive: { medium: "disk", capacityBytes: 1e12 } },
    };
    const { steps } = run(of, "traverse", "read", { span: 0.99e12 }, simulation);
    expect(steps.at(-1)!.meanMBps / steps[0]!.meanMBps).toBeCloseTo(0.5, 1);
    const [result] = run(of, "scatter", "read", { depth: 1 }, simulation).steps;
    // An average seek of 8.5 ms and half a turn of 4.2 ms.
    expect(result!.requests / (result!.ms / 1e3)).toBeGreaterThan(70);
    expect(result!.requests / (result!.ms / 1e3)).toBeLessThan(80);
  });
});

it("says what it took for granted, and refuses a link that does not come up", () => {
  expect(run(bench, "haul", "read").assumed.map(({ what }) => what)).toContain("drive, heat");
  const dead = rig([port(["sata-6g"]), enclosure(), drive()]);
  expect(() => run(dead, "haul", "read")).toThrow(/does not come up/);
});
