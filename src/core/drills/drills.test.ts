import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { DRILLS, drillNamed, findDrill } from "./catalogue";
import {
  defineFrom,
  drillKey,
  kindOf,
  programOf,
  settingsOf,
  summaryOf,
  titleOf,
  type Drill,
} from "./drill";
import { WORK } from "./kinds/round";
import { textOf, valueFrom, type TargetFacts } from "./parameter";
import { laidOutBytes, leastSeconds, spanOf, writes } from "../run/program";
import { PREDICTED_DRILLS, usualDrill } from "./shape";
import { settle, usualSettings } from "./settle";

const MIB = 2 ** 20;
const facts = (more: Partial<TargetFacts> = {}): TargetFacts => ({
  kind: "directory",
  room: 100 * 2 ** 30,
  smallestBlock: 512,
  cache: null,
  ...more,
});
const anyFacts: fc.Arbitrary<TargetFacts | null> = fc.option(
  fc.record({
    kind: fc.constantFrom("directory" as const, "device" as const),
    room: fc.integer({ min: 2 * MIB, max: 2 ** 46 }),
    smallestBlock: fc.constantFrom(512, 4096, null),
    cache: fc.option(
      fc.record({
        bytes: fc.integer({ min: MIB, max: 2 ** 39 }),
        from: fc.constantFrom("stated" as const, "found" as const),
      }),
    ),
  }),
);
/** What has to be set of a drill that cannot be done without it. */
const needed = (name: string): Record<string, unknown> =>
  drillNamed(name).recorded ? { recordings: [WORK_OF_A_DAY] } : {};
const WORK_OF_A_DAY = {
  name: "make",
  sha256: "ab".repeat(32),
  requests: 900,
  ms: 60_000,
  bytesRead: 3e8,
  bytesWritten: 1e8,
  workingSetBytes: 300 * MIB + 4096,
};
const each = DRILLS.map((kind) => [kind.name, kind] as const);
const ways = DRILLS.flatMap((kind) => kind.directions.map((way) => [kind.name, way] as const));

describe.each(each)("%s", (name, kind) => {
  it("has usual settings with reasons that make sense on any target", () => {
    fc.assert(
      fc.property(anyFacts, (known) => {
        for (const { value, reason } of usualSettings(kind, {}, known)) {
          expect(reason.length).toBeGreaterThan(5);
          expect(reason).not.toMatch(/NaN|undefined|Infinity/);
          expect(value).not.toBeUndefined();
        }
        expect(() => settle(kind, {}, known)).not.toThrow();
      }),
      { numRuns: 40 },
    );
  });

  it("is set by words, and says itself in words that set the same", () => {
    for (const { name: of, value } of usualSettings(kind, {}, facts())) {
      const parameter = kind.parameters[of]!;
      expect(valueFrom(parameter, textOf(parameter, value))).toEqual(value);
    }
  });

  it("refuses what it does not have, and what makes no sense", () => {
    const way = kind.directions[0]!;
    expect(() => defineFrom({ name, direction: way, unheardOf: 1 }, null)).toThrow(/unheardOf/);
    for (const of of Object.keys(kind.parameters)) {
      expect(() => defineFrom({ name, direction: way, [of]: { no: "sense" } }, null), of).toThrow();
    }
    expect(() => defineFrom({ name, direction: "sideways" }, null)).toThrow();
  });

  it("stays what it is when it is stored and read again", () => {
    const drill = defineFrom({ name, direction: kind.directions[0], repeats: 2 }, facts());
    const again = JSON.parse(JSON.stringify(drill)) as Drill;
    expect(drillKey(again)).toBe(drillKey(drill));
    expect(programOf(again, 2)).toEqual(programOf(drill, 2));
    expect(summaryOf(again).length).toBeGreaterThan(3);
    expect(drillKey({ ...again, repeats: 9, title: "Mine" })).toBe(drillKey(drill));
    expect(titleOf({ ...again, title: "Mine" })).toBe("Mine");
  });
});

describe("a drill's program", () => {
  it.each(ways)("%s, %s: stays within its room and its direction", (name, direction) => {
    fc.assert(
      fc.property(anyFacts, (known) => {
        const drill = defineFrom({ name, direction, ...needed(name) }, known);
        const program = programOf(drill, kindOf(drill).targets === "several" ? 3 : 1);
        expect(program.length).toBeGreaterThan(0);
        if (known && known.room >= 64 * MIB) {
          expect(spanOf(program)).toBeLessThanOrEqual(known.room);
        }
        expect(laidOutBytes(program)).toBeLessThanOrEqual(spanOf(program));
        expect(leastSeconds(program)).toBeGreaterThanOrEqual(0);
        if (direction === "read") expect(writes(program)).toBe(false);
        for (const step of program) {
          if (step.do !== "flow") continue;
          expect(step.first % step.block).toBe(0);
          if (direction === "write") expect(step.writeShare).toBe(1);
        }
      }),
      { numRuns: 20 },
    );
  });

  it("of an Encore does recordings one after another over the same span, or side by side over their own", () => {
    const small = { ...WORK_OF_A_DAY, sha256: "cd".repeat(32), workingSetBytes: 100 * MIB };
    const recordings = [WORK_OF_A_DAY, small];
    const program = (order: string, room = 100 * 2 ** 30) =>
      programOf(
        defineFrom({ name: "encore", direction: "mixed", recordings, order }, facts({ room })),
      );
    const worksOf = (order: string, room?: number) =>
      program(order, room).map((step) => (step.do === "replay" ? step.works : []));
    expect(worksOf("one-after-another")).toMatchObject([[{ first: 0 }], [{ first: 0 }]]);
    const [[first, second] = []] = worksOf("at-once") as { span: number; first: number }[][];
    expect(first!.span).toBe(WORK_OF_A_DAY.workingSetBytes);
    expect(second!.first).toBe(first!.span);
    expect(spanOf(program("at-once"))).toBeLessThanOrEqual(402 * MIB);
    expect(spanOf(program("at-once", 200 * MIB))).toBeLessThanOrEqual(200 * MIB);
    expect(programOf(usualDrill("encore", "mixed"))).toEqual([]);
    expect(writes(program("at-once"))).toBe(true);
  });

  it("has a step for every rung, in order, each known by its rung", () => {
    const blocks = programOf(usualDrill("stride-ladder", "read", { blocks: [512, 4096, MIB] }));
    expect(blocks.map(({ label }) => label.block)).toEqual([512, 4096, MIB]);
    const depths = programOf(usualDrill("depth-ladder", "write", { depths: [1, 7, 256] }));
    expect(depths.map(({ label }) => label.depth)).toEqual([1, 7, 256]);
    const places = programOf(usualDrill("traverse", "read", { places: 5, span: 100 * MIB }));
    expect(places.map(({ label }) => label.position)).toEqual(
      [0, 20, 40, 60, 80].map((i) => i * MIB),
    );
  });

  it("of a Proof checks every pass after it was written and flushed", () => {
    const program = programOf(usualDrill("proof", "write", { span: 8 * MIB, passes: 3 }));
    expect(program.map((step) => [step.do, "generation" in step && step.generation])).toEqual([
      ...[1, 2, 3].flatMap((pass) => [
        ["flow", pass],
        ["check", pass],
      ]),
    ]);
  });

  it("of a Convoy goes to every target, and of a copy to where it is sent", () => {
    const [convoy] = programOf(usualDrill("convoy", "read", { everySeconds: 5 }), 4);
    expect(convoy).toMatchObject({ targets: [0, 1, 2, 3], everySeconds: 5 });
    const sides = (direction: "read" | "write", targets: number) => {
      const [step] = programOf(usualDrill("ferry", direction), targets);
      return step!.do === "copy" ? [step!.from, step!.to, step!.mix === null] : null;
    };
    expect(sides("write", 2)).toEqual([1, 0, true]);
    expect(sides("read", 2)).toEqual([0, 1, true]);
    expect(sides("write", 1)).toEqual([null, 0, false]);
    expect(sides("read", 1)).toEqual([0, null, true]);
  });

  it("of a Round is its parts in a row, each under the tester's name for it", () => {
    for (const [work, parts] of Object.entries(WORK)) {
      const program = programOf(usualDrill("round", "mixed", { work }));
      expect([...new Set(program.map(({ label }) => label.name))]).toEqual(
        parts.map(({ name }) => name),
      );
    }
    const steps = [{ name: "x", drill: "round", direction: "mixed", set: {} }];
    expect(() => usualDrill("round", "mixed", { work: "mine", steps })).toThrow(/no drill .*round/);
    const wrong = [{ name: "x", drill: "haul", direction: "read", set: { block: 513 } }];
    expect(() => usualDrill("round", "mixed", { work: "mine", steps: wrong })).toThrow(
      /multiple of 512/,
    );
  });
});

describe("a Round's parts", () => {
  const steps = [{ name: "read it", drill: "haul", direction: "read", set: { seconds: 2 } }];
  const round = (known: TargetFacts | null) =>
    defineFrom({ name: "round", direction: "mixed", work: "mine", steps }, known);
  const partsOf = (drill: Drill) => drill.steps as { set: Record<string, unknown> }[];

  it("are made exact for the target they are done on", () => {
    expect(partsOf(round(facts({ room: 300 * MIB })))[0]!.set).toMatchObject({
      seconds: 2,
      span: 300 * MIB,
    });
    expect(partsOf(round(null))[0]!.set.span).toBe(2 ** 30);
  });

  it("are the same drill as a run of a version that left usual settings out", () => {
    const old = { name: "round", direction: "mixed", repeats: 1, work: "mine", steps } as Drill;
    expect(drillKey(round(null))).toBe(drillKey(old));
  });
});

describe("usual settings", () => {
  const usual = (name: string, known: TargetFacts, of: string) =>
    usualSettings(drillNamed(name), {}, known).find((one) => one.name === of)!;

  it("follow from the write cache where the tester stated it", () => {
    const { value, reason } = usual(
      "haul",
      facts({ cache: { bytes: 24 * 2 ** 30, from: "stated" } }),
      "span",
    );
    expect(value).toBe(64 * 2 ** 30);
    expect(reason).toMatch(/write cache of 24 GiB that you stated/);
    const found = facts({ cache: { bytes: 24 * 2 ** 30, from: "found" } });
    expect(usual("haul", found, "span").reason).toMatch(/a Long fill found/);
    expect(usual("haul", facts(), "span").reason).toMatch(/not known/);
  });

  it("follow from the room there is", () => {
    expect(usual("haul", facts({ room: 300.5 * MIB }), "span").value).toBe(300 * MIB);
    expect(usual("long-fill", facts({ room: 1000 * MIB }), "size").value).toBe(900 * MIB);
    expect(usual("traverse", facts({ kind: "device", room: 7 * 2 ** 30 }), "span").value).toBe(
      7 * 2 ** 30,
    );
  });

  it("begin a ladder at the smallest request the device takes", () => {
    const blocks = usual("stride-ladder", facts({ smallestBlock: 4096 }), "blocks")
      .value as number[];
    expect([blocks[0], blocks.at(-1)]).toEqual([4096, 16 * MIB]);
  });
});

describe("the list of drills", () => {
  it("is looked up by name, and says what there is where there is none", () => {
    expect(findDrill("nothing")).toBeNull();
    expect(() => drillNamed("nothing")).toThrow(/haul, scatter/);
    expect(settingsOf(usualDrill("haul", "read"))).not.toHaveProperty("repeats");
  });

  it("is what rigs are predicted for", () => {
    expect(PREDICTED_DRILLS.map(({ block, depth }) => [block, depth])).toEqual([
      [512 * 1024, 16],
      [4096, 1],
      [4096, 24],
    ]);
  });
});
