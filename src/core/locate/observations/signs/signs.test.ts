import { describe, expect, it } from "vitest";
import type { Rig } from "../../../chain/rig";
import type { Conditions, RunResult } from "../../../run/result";
import { flowFigures } from "../../../drills/flow-figures";
import { blankStep } from "../../../run/step";
import { usualDrill } from "../../../drills/shape";
import { summarise } from "../../../stats/repeats";
import { wasHostBusy } from "../../../study/drive-state";
import { briefResultOf } from "../../../testing/measured";
import { cable, drive, enclosure, port, rig, USB_10G } from "../../../testing/rigs";
import type { Direction } from "../../../units/rate";
import { locate, type Observation } from "../../locate";
import { carriedIn } from "../../findings/carried";
import type { At } from "../../hypotheses/site";
import { evidenceOn } from "../../findings/for-and-against";

const slow: Rig = {
  ...rig([port(USB_10G), cable(USB_10G, "K1"), enclosure(), drive({})], "slow"),
  fileSystem: "exFAT",
  host: "desk",
};
const seen = (
  rates: number[],
  result: Partial<RunResult> = {},
  { direction = "write", drill = "haul", through = slow }: Of = {},
): Observation => ({
  rig: through,
  drill: usualDrill(drill, direction),
  doubtful: false,
  measurementIds: [`${drill} ${direction}`],
  repeats: summarise(rates),
  results: rates.map((rate) => briefResultOf(rate, result)),
});
interface Of {
  direction?: Direction;
  drill?: string;
  through?: Rig;
}
const timed = { seconds: 15, bytes: null, countFlush: false };
const steady = [400, 404, 402];

/** How likely a place is, by all that was seen. */
const chance = (at: At, ...all: Observation[]) =>
  locate(all, [], { of: (one) => one === all[0], next: false })[0]!
    .explanations.filter(({ place }) => place === JSON.stringify(at))
    .reduce((sum, { probability }) => sum + probability, 0);
const part = (id: string) => ({ part: id });
const condition = (name: "fileSystem" | "host") => ({ condition: name });

/** What is said for a place. */
const said = (at: At, ...all: Observation[]) => {
  const located = locate(all, [], { of: (one) => one === all[0], next: false })[0]!;
  const found = located.explanations.filter(({ place }) => place === JSON.stringify(at));
  return found.flatMap((one) => evidenceOn(one, located).for.map(({ text }) => text)).join(" ");
};

describe("a fall in the course of the runs", () => {
  const falling = {
    steps: [
      { ...blankStep("flow", {}), burstMBps: 950, sustainedMBps: 300, edgeBytes: 24e9, ms: 1e5 },
    ],
  };
  const level = {
    steps: [{ ...blankStep("flow", {}), burstMBps: 410, sustainedMBps: 400, interrupted: false }],
  };

  it("while writing points at the drive, whose cache is full", () => {
    expect(chance(part("drive"), seen(steady, falling))).toBeGreaterThan(
      2 * chance(part("drive"), seen(steady)),
    );
    expect(said(part("drive"), seen(steady, falling))).toMatch(/950.MB\/s and falls to 300.MB\/s/);
  });

  it("while reading does so by far less: no cache makes reading fall", () => {
    const times = (direction: Direction) =>
      chance(part("drive"), seen(steady, falling, { direction })) /
      chance(part("drive"), seen(steady, {}, { direction }));
    expect(times("read")).toBeLessThan(times("write") / 1.5);
  });

  it("in a long fill counts for the shorter drills too, and a long fill without one speaks for the drive", () => {
    const fill = (steps: typeof falling | typeof level) =>
      seen([410, 412], steps, { drill: "long-fill" });
    const usual = chance(part("drive"), seen(steady));
    expect(chance(part("drive"), seen(steady), fill(falling))).toBeGreaterThan(2 * usual);
    expect(chance(part("drive"), seen(steady), fill(level))).toBeLessThan(usual);
    expect(said(part("drive"), seen(steady), fill(falling))).toMatch(/falls to 300/);
    // One that was written down has no course.
    const typed = { steps: [{ ...level.steps[0]!, interrupted: undefined }] };
    const noted = seen([410, 412], typed, { drill: "long-fill" });
    expect(chance(part("drive"), seen(steady), noted)).toBeCloseTo(usual, 6);
  });

  it("is seen of a long run that was written down against the short ones of its set-up", () => {
    const typed = { steps: [{ ...level.steps[0]!, interrupted: undefined }] };
    const long = seen([300, 303], typed, { drill: "long-fill" });
    const usual = chance(part("drive"), long);
    const short = seen([980, 985]);
    expect(chance(part("drive"), long, short)).toBeGreaterThan(usual + 0.1);
    expect(said(part("drive"), long, short)).toMatch(/98\d.* in a short run and 30\d/);
    expect(chance(part("drive"), long, seen([301, 300]))).toBeLessThan(usual);
    // Another direction, or another set-up, says nothing of it.
    const reading = seen([980, 985], {}, { direction: "read" });
    expect(said(part("drive"), long, reading)).not.toMatch(/short run/);
    const through = { ...slow, id: "other", host: "laptop" };
    expect(said(part("drive"), long, seen([980, 985], {}, { through }))).not.toMatch(/short run/);
  });

  it("that does not show says nothing: the run may have begun after it", () => {
    expect(chance(part("drive"), seen(steady, level))).toBeCloseTo(
      chance(part("drive"), seen(steady)),
      6,
    );
  });
});

describe("a wide spread of the repeats", () => {
  it("points at a part at fault, and a narrow one at nothing", () => {
    const kind = (all: Observation[]) =>
      locate(all, [], { next: false })[0]!
        .explanations.filter((one) => one.kind === "fault")
        .reduce((sum, { probability }) => sum + probability, 0);
    const wide = seen([250, 400, 560]);
    expect(kind([wide])).toBeGreaterThan(2 * kind([seen(steady)]));
    expect(said(part("K1"), wide)).toMatch(/spread by/);
    // Two repeats that differ are chance.
    expect(said(part("K1"), seen([300, 500]))).not.toMatch(/spread by/);
  });
});

describe("short interruptions of the flow", () => {
  const runs = (interrupted: boolean) => ({
    steps: [{ ...blankStep("flow", {}), burstMBps: 410, sustainedMBps: 400, interrupted }],
  });
  const cable1 = part("K1");

  it("point at a part at fault, and none at nothing", () => {
    const reading = (result: Partial<RunResult>) => seen(steady, result, { direction: "read" });
    const usual = chance(cable1, reading({}));
    expect(chance(cable1, reading(runs(true)))).toBeGreaterThan(1.2 * usual);
    expect(chance(cable1, reading(runs(false)))).toBeCloseTo(usual, 6);
    expect(said(cable1, reading(runs(true)))).toMatch(/3 of the 3 runs of slow/);
  });

  it("say more of reading: a drive that writes pauses by itself", () => {
    const times = (direction: Direction) =>
      chance(cable1, seen(steady, runs(true), { direction })) /
      chance(cable1, seen(steady, {}, { direction }));
    expect(times("read")).toBeGreaterThan(1.1 * times("write"));
  });

  it("are kept of a run that was measured, and read again in brief", () => {
    const quiet = Array.from({ length: 60 }, (_, i) => ({ ms: (i + 1) * 250, bytes: 1e8 }));
    const dipping = quiet.map((moment, i) =>
      i % 20 < 3 && i > 3 ? { ...moment, bytes: 2e7 } : moment,
    );
    const kept = (moments: typeof quiet) => {
      const step = { ...blankStep("flow", {}), ...flowFigures(timed, moments, 6e9, 15_000) };
      return briefResultOf(400, { steps: [step] }).first!.interrupted;
    };
    expect(kept(quiet)).toBe(false);
    expect(kept(dipping)).toBe(true);
  });
});

describe("errors that the system counted", () => {
  const counted = (after: number) => ({
    ...seen(steady),
    errors: [{ what: "sdb: requests that failed", from: "/sys/block/sdb", before: 2, after }],
  });

  it("point at a part at fault; one or two are chance", () => {
    const usual = chance(part("K1"), seen(steady));
    expect(chance(part("K1"), counted(40))).toBeGreaterThan(1.2 * usual);
    expect(chance(part("K1"), counted(4))).toBeCloseTo(usual, 6);
    expect(said(part("K1"), counted(40))).toMatch(/counted 38 × sdb: requests that failed/);
  });
});

describe("a processor without time left", () => {
  it("points at the computer and at what works on it", () => {
    const busy = seen(steady, { busiestCore: 0.99 });
    for (const name of ["host", "fileSystem"] as const)
      expect(chance(condition(name), busy)).toBeGreaterThan(
        1.5 * chance(condition(name), seen(steady)),
      );
    expect(chance(part("K1"), busy)).toBeLessThan(chance(part("K1"), seen(steady)));
    // Others were at work there already.
    const conditions = { loadAtStart: 3.1, cores: 2 } as Conditions;
    const theirs = { ...busy, hostBusy: steady.map(() => wasHostBusy(conditions)) };
    expect(chance(condition("host"), theirs)).toBeLessThanOrEqual(
      chance(condition("host"), seen(steady)),
    );
    expect(chance(part("K1"), seen(steady, { busiestCore: null }))).toBeCloseTo(
      chance(part("K1"), seen(steady)),
      6,
    );
  });
});

describe("a ladder by block", () => {
  const ladder = (asymptoteMBps: number) => {
    const fit = { by: "block", overheadUs: 90, halfRateBytes: 9e4, worst: 0.01 } as const;
    const result = { fit: { ...fit, asymptoteMBps } };
    return seen([asymptoteMBps], result, { drill: "stride-ladder" });
  };

  it("suspects what costs each request where large blocks are faster, and clears it where not", () => {
    const one = seen(steady);
    const before = chance(condition("fileSystem"), one);
    expect(chance(condition("fileSystem"), one, ladder(900))).toBeGreaterThan(2 * before);
    expect(chance(condition("fileSystem"), one, ladder(405))).toBeLessThan(before);
    expect(said(condition("fileSystem"), one, ladder(900))).toMatch(/each request costs time/);
  });

  it("of another rig says nothing", () => {
    const other = { ...slow, id: "other", fileSystem: "ext4" };
    const elsewhere = { ...ladder(900), rig: other };
    const one = seen(steady);
    expect(chance(part("K1"), one, elsewhere)).toBeCloseTo(chance(part("K1"), one), 6);
  });
});

describe("where a copy waits", () => {
  const far = [port(USB_10G, "P2"), cable(USB_10G, "K9"), enclosure([], "box2"), drive({}, "far")];
  const copied: Rig = { ...slow, other: far };
  const waits = (
    waitedForFromMs: number,
    waitedForToMs: number,
    direction: Direction = "write",
    through = copied,
  ) =>
    seen(
      steady,
      {
        ms: 10_000,
        steps: [
          {
            ...blankStep("copy", {}),
            copy: {
              files: 1,
              waitedForFromMs,
              waitedForToMs,
              perFileMs: null,
              perByteMBps: null,
              fromMemory: null,
              verified: 0,
              differing: [],
              kept: null,
            },
          },
        ],
      },
      { direction, drill: "ferry", through },
    );

  it("accuses the side that it waits for, and clears the other", () => {
    // Writing here, it is read there.
    expect(chance(part("K9"), waits(9000, 100))).toBeGreaterThan(
      4 * chance(part("K1"), waits(9000, 100)),
    );
    expect(chance(part("K1"), waits(100, 9000))).toBeGreaterThan(
      4 * chance(part("K9"), waits(100, 9000)),
    );
    expect(chance(part("K1"), waits(9000, 100, "read"))).toBeGreaterThan(
      4 * chance(part("K9"), waits(9000, 100, "read")),
    );
  });

  it("accuses the end outside the rig, and clears the rig's own parts, where only that end was waited for", () => {
    const outside = (...of: Parameters<typeof waits>) => {
      const located = locate([waits(...of)], [])[0]!;
      return { located, top: located.explanations[0]!, swaps: located.nextSwaps };
    };
    const source = outside(9000, 100, "write", slow);
    expect(source.top.at).toEqual({ condition: "copySource" });
    expect(source.top.probability).toBeGreaterThan(0.9);
    const states = carriedIn(source.located.posterior, source.located.trial)
      .filter(({ site }) => site.kind === "part")
      .map(({ state }) => state);
    expect(new Set(states)).toEqual(new Set(["cleared"]));
    expect(outside(100, 9000, "read", slow).top.at).toEqual({ condition: "copyTarget" });
    // Where the rig's own drive was waited for, nobody outside is accused.
    const own = outside(100, 9000, "write", slow);
    expect(own.located.explanations.map(({ at }) => JSON.stringify(at)).join()).not.toMatch(/copy/);
  });

  it("accuses neither where it waits for both", () => {
    const both = waits(500, 520);
    expect(said(part("K1"), both)).not.toMatch(/copy waited/);
  });
});

describe("a core that was busy for all of a run", () => {
  const run = (busiestCore: number, busiestCoreBefore: number, id: string): Observation => ({
    ...seen(steady, { busiestCore }),
    measurementIds: [id],
    hostBusy: steady.map(() => wasHostBusy({ busiestCoreBefore, cores: 2 } as Conditions)),
  });
  const shareOf = (all: Observation[]) =>
    locate(all, [], { of: (one) => one === all[0] })[0]!
      .explanations.filter(({ at }) => JSON.stringify(at).includes("processor"))
      .reduce((sum, { probability }) => sum + probability, 0);

  it("and before it leads as a cause, and the run is to be repeated without the other programs", () => {
    const [located] = locate([run(1, 1, "busy")], []);
    expect(located!.explanations[0]!.at).toEqual({ condition: "processor" });
    expect(located!.nextSwaps.map(({ kind }) => kind)).toContain("processor");
  });

  it("but idle before it speaks of the host, and accuses no other program", () => {
    expect(shareOf([run(1, 0.1, "quiet before")])).toBe(0);
    expect(chance(condition("host"), run(1, 0.1, "x"))).toBeGreaterThan(
      chance(condition("host"), run(0.3, 0.1, "y")),
    );
  });

  it("is no cause any more once a run without them was as slow, and the cause once one was fast", () => {
    expect(shareOf([run(1, 1, "busy"), run(0.3, 0.1, "quiet")])).toBeLessThan(0.05);
    const fast = { ...run(0.3, 0.1, "quiet"), repeats: summarise([1000, 1010, 1005]) };
    expect(shareOf([run(1, 1, "busy"), fast])).toBeGreaterThan(0.9);
  });
});
