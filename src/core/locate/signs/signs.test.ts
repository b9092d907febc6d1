import { describe, expect, it } from "vitest";
import type { Rig } from "../../chain/rig";
import type { Conditions, RunResult } from "../../drills/result";
import { blankStep } from "../../drills/step";
import { usualDrill } from "../../drills/shape";
import { summarise } from "../../stats/repeats";
import { UNSAID } from "../../study/stated";
import { resultOf } from "../../testing/measured";
import { cable, drive, enclosure, port, rig, USB_10G } from "../../testing/rigs";
import type { Direction } from "../../units/rate";
import { locate, type Observation } from "../locate";
import type { At } from "../site";
import { evidenceOn } from "../words";

const slow: Rig = {
  ...rig([port(USB_10G), cable(USB_10G, "K1"), enclosure(), drive({})], "slow"),
  ...{ fileSystem: "exFAT", host: "desk" },
};
const seen = (
  rates: number[],
  result: Partial<RunResult> = {},
  { direction = "write", drill = "haul", through = slow }: Of = {},
): Observation => ({
  ...{ rig: through, drill: usualDrill(drill, direction), doubtful: false },
  ...{ measurementIds: [`${drill} ${direction}`], repeats: summarise(rates) },
  results: rates.map((rate) => resultOf(rate, result)),
});
interface Of {
  direction?: Direction;
  drill?: string;
  through?: Rig;
}
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
    steps: [{ ...blankStep("flow", {}), burstMBps: 410, sustainedMBps: 400, edgeBytes: null }],
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
    const theirs = { ...busy, circumstances: { conditions, stated: UNSAID } };
    expect(chance(condition("host"), theirs)).toBeCloseTo(
      chance(condition("host"), seen(steady)),
      6,
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
  const waits = (waitedForFromMs: number, waitedForToMs: number, direction: Direction = "write") =>
    seen(
      steady,
      {
        steps: [
          {
            ...blankStep("copy", {}),
            copy: {
              ...{ files: 1, waitedForFromMs, waitedForToMs, perFileMs: null, perByteMBps: null },
              ...{ fromMemory: null, verified: 0, differing: [], kept: null },
            },
          },
        ],
      },
      { direction, drill: "ferry", through: copied },
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

  it("accuses neither where it waits for both", () => {
    const both = waits(500, 520);
    expect(said(part("K1"), both)).not.toMatch(/copy waited/);
  });
});
