import { spawnSync } from "node:child_process";
import fs from "node:fs";
import os from "node:os";
import path from "node:path";
import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { drillNamed } from "@/core/drills/catalogue";
import { defineFrom, programOf } from "@/core/drills/drill";
import { textOf } from "@/core/drills/parameter";
import { Step } from "@/core/run/program";

const PROGRAM = path.resolve("dist/programs/nerrit-measure");
const isBuilt = fs.existsSync(PROGRAM);
if (!isBuilt) console.warn("skipped: the program that measures elsewhere (no C compiler)");

const run = (...args: string[]) => {
  const { status, stdout, stderr } = spawnSync(PROGRAM, args, { encoding: "utf8" });
  return { status, stdout, stderr };
};

/** What the program takes a drive of that nothing is known of to be. */
const FACTS = { kind: "directory" as const, room: 2 ** 40, smallestBlock: null, cache: null };

const MIB = 2 ** 20;
const block = fc.integer({ min: 1, max: 4096 }).map((sectors) => sectors * 512);
const depth = fc.integer({ min: 1, max: 256 });
const span = fc.integer({ min: 2, max: 5000 }).map((mib) => mib * MIB + 512);
const seconds = fc.integer({ min: 1, max: 400 }).map((tenths) => tenths / 10 + 0.5);
const compressible = fc.integer({ min: 0, max: 100 }).map((percent) => percent / 100);
const countFlush = fc.boolean();
const many = <T>(of: fc.Arbitrary<T>) => fc.array(of, { minLength: 2, maxLength: 12 });

/** What may be set of each drill, any of it left out. */
const SETTINGS: Record<string, Record<string, fc.Arbitrary<unknown>>> = {
  haul: { block, depth, span, seconds, compressible, countFlush },
  scatter: {
    block,
    depth,
    span,
    seconds,
    compressible,
    countFlush,
    writeShare: fc.constant(0.25),
    steady: fc.boolean(),
  },
  "stride-ladder": { blocks: many(block), depth, span, seconds, compressible },
  "depth-ladder": { depths: many(depth), block, span, seconds, compressible },
  "long-fill": {
    size: span,
    seconds,
    block,
    depth,
    compressible,
    countFlush,
    share: fc.constant(0.5),
  },
  traverse: { places: fc.integer({ min: 2, max: 80 }), span, seconds, block, depth, compressible },
  proof: { span, passes: fc.integer({ min: 1, max: 5 }), block, depth },
  "rest-and-return": {
    fill: span,
    rests: fc.array(fc.integer({ min: 0, max: 900 }), { minLength: 1, maxLength: 6 }),
    block,
    depth,
    compressible,
  },
  ferry: {
    mix: fc.array(
      fc.record({
        files: fc.integer({ min: 1, max: 1000 }),
        bytes: fc.integer({ min: 0, max: 100_000_000 }),
      }),
      { minLength: 1, maxLength: 20 },
    ),
    seed: fc.integer({ min: 0, max: 2 ** 32 - 1 }),
    source: fc.constantFrom("cold", "warmed", "as it is"),
    verify: fc.boolean(),
    keep: fc.boolean(),
    block: fc.integer({ min: 1, max: 64 }).map((pages) => pages * 4096),
    compressible,
  },
};

const drills = Object.entries(SETTINGS).map(([name, settings]) =>
  fc.record({
    name: fc.constant(name),
    direction: fc.constantFrom(...drillNamed(name).directions),
    repeats: fc.integer({ min: 1, max: 50 }),
    set: fc.record(settings, { requiredKeys: [] }),
  }),
);

const optionsOf = (name: string, set: Record<string, unknown>) =>
  Object.entries(set).flatMap(([setting, value]) => [
    `--${setting.replace(/[A-Z]/g, (letter) => `-${letter.toLowerCase()}`)}`,
    textOf(drillNamed(name).parameters[setting]!, value),
  ]);

describe.skipIf(!isBuilt)("the program that measures elsewhere", () => {
  it("makes of options the steps that Nerrit makes of the same settings", () => {
    fc.assert(
      fc.property(fc.oneof(...drills), fc.boolean(), ({ name, direction, repeats, set }, named) => {
        const other = named && name === "ferry";
        const { status, stdout, stderr } = run(
          "--print-order",
          "--drill",
          name,
          "--direction",
          direction,
          "--repeats",
          String(repeats),
          ...optionsOf(name, set),
          ...(other ? [direction === "write" ? "--from" : "--to", "/there"] : []),
        );
        expect([status, stderr]).toEqual([0, ""]);
        const [made] = JSON.parse(stdout).measurements;
        const drill = defineFrom({ name, direction, repeats, ...set }, FACTS);
        expect(made.drill).toEqual(drill);
        expect(made.program.map((step: unknown) => Step.parse(step))).toEqual(
          programOf(drill, other ? 2 : 1),
        );
      }),
      { numRuns: 150 },
    );
  });

  it.each([
    ["no drill", ["--drill", "hual"], /no drill "hual"/],
    ["a block that no drive takes", ["--drill", "proof", "--block", "513"], /block makes no sense/],
    ["a depth without end", ["--drill", "proof", "--depth", "4096"], /depth makes no sense/],
    ["a setting of another drill", ["--drill", "proof", "--places", "3"], /places is nothing/],
    ["no way to go", ["--drill", "haul"], /which way/],
    [
      "a way that the drill does not go",
      ["--drill", "proof", "--direction", "read"],
      /one of these ways/,
    ],
    ["a half word of one", ["--drill", "haul", "--direction", "rite"], /one of these ways/],
    [
      "a setting twice",
      ["--drill", "proof", "--span", "2MiB", "--span", "3MiB"],
      /was given twice/,
    ],
    ["an option without its value", ["--drill", "proof", "--span"], /wants a value/],
    ["an option that is none", ["--drill", "proof", "--everything", "1"], /no option/],
    ["repeats without end", ["--drill", "proof", "--repeats", "1e9"], /--repeats/],
    ["a mix that is none", ["--drill", "ferry", "--mix", "many files"], /mix makes no sense/],
    ["a second folder of no copy", ["--drill", "proof", "--from", "/there"], /are of a ferry/],
    [
      "a copy that goes two ways",
      ["--drill", "ferry", "--from", "/there", "--direction", "read"],
      /a copy from another folder writes/,
    ],
    ["nothing to measure", ["--target", "."], /either --order FILE or --drill NAME/],
  ])("refuses %s, with words and a status of its own", (_, args, words) => {
    const { status, stderr } = run("--print-order", ...args);
    expect(stderr).toMatch(words);
    expect(status).toBe(2);
  });

  it("measures nowhere where no folder was named", () => {
    const { status, stderr } = run("--drill", "proof");
    expect([status, stderr]).toEqual([2, expect.stringMatching(/--target FOLDER/)]);
  });

  describe("refuses an order file", () => {
    const good = {
      format: "nerrit-order",
      version: 1,
      measurements: [
        {
          drill: { name: "haul", direction: "read", repeats: 1 },
          program: [
            {
              do: "flow",
              writeShare: 0,
              order: "random",
              block: 4096,
              depth: 1,
              span: 4096,
              seconds: 1,
            },
          ],
        },
      ],
    };
    const flow = good.measurements[0]!.program[0]!;
    const withStep = (step: object) => ({
      ...good,
      measurements: [{ ...good.measurements[0]!, program: [{ ...flow, ...step }] }],
    });
    const copy = { do: "copy", from: 1, to: 0, source: "cold", block: 4096 };
    const many = Array.from({ length: 20 }, () => ({ files: 1e6, bytes: 0 }));
    const cases: [string, string | object, RegExp][] = [
      ["that is no JSON", "{", /no JSON/],
      ["cut off in a text", '{"format":"nerr', /no JSON/],
      ["of another form", { format: "nerrit-runs" }, /no order of Nerrit/],
      ["of a later version", { ...good, version: 9 }, /version/],
      ["that orders nothing", { ...good, measurements: [] }, /no measurement/],
      ["nested without end", "[".repeat(100_000), /no JSON/],
      ["with a request larger than memory", withStep({ block: 2 ** 40 }), /block/],
      [
        "with too many in flight",
        withStep({ block: 2 ** 26, depth: 1024, span: 2 ** 26 }),
        /memory/,
      ],
      ["that works on other drives", withStep({ targets: [1] }), /one folder/],
      ["with a step that is none", withStep({ do: "format" }), /no step/],
      ["with a copy of nothing", withStep({ do: "copy" }), /nothing to copy/],
      ["with a copy past the measured folder", withStep({ ...copy, to: -1 }), /measured folder/],
      ["with a copy onto itself", withStep({ ...copy, from: 0 }), /nothing to copy/],
      ["with files without end", withStep({ ...copy, mix: many }), /too many files/],
      ["with files without a size", withStep({ ...copy, mix: [{ files: 1 }] }), /bytes is missing/],
      ["with a source that is none", withStep({ ...copy, source: "hot" }), /source/],
      ["with rounds without end", withStep({ steady: { roundSeconds: 1, most: 1e9 } }), /most/],
      ["with a time below nothing", withStep({ seconds: -1 }), /seconds/],
      ["with a number that is none", withStep({ span: "1e400" }), /span/],
      ["with a number beyond any", JSON.stringify(good).replace(":4096", ":1e999"), /no JSON/],
    ];
    it.each(cases)("%s", (_, order, words) => {
      const file = path.join(fs.mkdtempSync(path.join(os.tmpdir(), "nerrit-order-")), "order.json");
      fs.writeFileSync(file, typeof order === "string" ? order : JSON.stringify(order));
      const { status, stderr } = run("--order", file, "--target", os.tmpdir());
      fs.rmSync(path.dirname(file), { recursive: true });
      expect(stderr).toMatch(words);
      expect(status).toBe(2);
    });
  });
});
