import { describe, expect, it } from "vitest";
import { DRILLS, drillNamed } from "@/core/drills/catalogue";
import { programOf } from "@/core/drills/drill";
import type { Conditions, Fault } from "@/core/run/result";
import { proofOf } from "@/core/drills/proof-faults";
import { waitedFor } from "@/core/drills/copy-ends";
import { usualDrill } from "@/core/drills/shape";
import { blankStep } from "@/core/run/step";
import { resultFrom } from "@/core/drills/summary";
import { optionOf, settingsFrom } from "./measuring/drill-options";
import { bar, table, WIDTH, wrapped } from "./lines";
import { measuredDocument } from "./measuring/measured-document";
import { measuredText } from "./measuring/measured-text";

describe("lines for a terminal", () => {
  it("are broken at spaces, and none is too wide but a word that is", () => {
    const lines = wrapped("word ".repeat(100), 4);
    for (const line of lines) expect(line.length).toBeLessThanOrEqual(WIDTH);
    expect(lines.join(" ").split(/\s+/).filter(Boolean)).toHaveLength(100);
    expect(wrapped("x".repeat(200))).toEqual(["x".repeat(200)]);
    expect(wrapped("")).toEqual([]);
  });

  it("stand in columns, and bars are as long as their share", () => {
    const lines = table(
      ["step", "MB/s"],
      [
        ["a", "1"],
        ["long name", "1 000"],
      ],
    );
    expect(lines).toEqual(["step        MB/s", "a              1", "long name  1 000"]);
    expect(bar(0.5, 10)).toBe("█████     ");
    expect([bar(-1, 4), bar(9, 4)]).toEqual(["    ", "████"]);
  });
});

describe("settings on the command line", () => {
  const haul = drillNamed("haul");
  it("are read by what they are", () => {
    expect(
      settingsFrom(haul, { block: "1MiB", depth: "4", countFlush: "yes", compressible: "25%" }),
    ).toEqual({
      block: 2 ** 20,
      depth: 4,
      countFlush: true,
      compressible: 0.25,
    });
    const ladder = settingsFrom(drillNamed("stride-ladder"), { blocks: "4KiB, 8 KiB 1MiB" });
    expect(ladder.blocks).toEqual([4096, 8192, 2 ** 20]);
    const mix = settingsFrom(drillNamed("ferry"), { mix: "10 x 64KiB, 2 × 1MB" }).mix;
    expect(mix).toEqual([
      { files: 10, bytes: 65536 },
      { files: 2, bytes: 1e6 },
    ]);
    expect(optionOf("countFlush")).toBe("--count-flush");
  });

  it.each([
    [{ places: "3" }, /--places is nothing that can be set of haul; it is of traverse/],
    [{ block: "huge" }, /--block must be a size/],
    [{ depth: "many" }, /--depth must be a number/],
    [{ countFlush: "perhaps" }, /--count-flush must be yes or no/],
  ])("that make no sense are refused by name: %j", (options, words) => {
    expect(() => settingsFrom(haul, options)).toThrow(words);
  });
});

describe("what a run says", () => {
  const conditions = { device: "loop7", io: "direct", notes: [] } as unknown as Conditions;
  const step = { ...blankStep("flow", {}), meanMBps: 40, bytes: 4e8, ms: 1e4, requests: 800 };
  const made = (name: string, direction = drillNamed(name).directions[0]!) => {
    const drill = usualDrill(name, direction);
    const targets = name === "convoy" || name === "ferry" ? ["/mnt/a", "/mnt/b"] : ["/mnt/a"];
    const program = programOf(drill, targets.length);
    const steps = program.map(({ label, do: what }) => ({
      ...step,
      kind: what,
      label,
      targets: [0, 1].map((target) => ({
        target,
        startedMs: target * 500,
        meanMBps: 20,
        bytes: 2e8,
      })),
      copy:
        what === "copy"
          ? {
              files: 9,
              waitedForFromMs: 8000,
              waitedForToMs: 10,
              perFileMs: 2,
              perByteMBps: 50,
              fromMemory: 0,
              verified: 9,
              differing: [],
              kept: null,
            }
          : null,
    }));
    const result = resultFrom(drill, steps);
    const repeat = { samples: [], steps, events: [], readings: [], errors: [], result };
    return { order: { drill, targets, program }, repeat };
  };

  it.each(DRILLS.map(({ name }) => name))(
    "of %s fits a terminal, and its document has its keys",
    (name) => {
      const { order, repeat } = made(name);
      const lines = measuredText(order, [repeat], conditions);
      expect(lines[0]).toMatch(/MB\/s.* on \/mnt\/a/);
      expect(lines.join("\n")).not.toMatch(/NaN|undefined|null/);
      for (const line of lines.slice(1)) expect(line.length).toBeLessThanOrEqual(WIDTH);
      const document = JSON.parse(JSON.stringify(measuredDocument(order, [repeat], conditions)));
      for (const key of [
        "meanMBps",
        "iops",
        "bytes",
        "ms",
        "latencyUs",
        "samples",
        "events",
        "runs",
        "drill",
      ]) {
        expect(document).toHaveProperty(key);
      }
      const picture = drillNamed(name).picture;
      if (["by block", "by depth", "position", "steps"].includes(picture)) {
        expect(document.steps.length).toBeGreaterThan(0);
      }
      if (picture === "copy") expect(document).toMatchObject({ waitedFor: "from", files: 9 });
      if (picture === "targets")
        expect(document.targets[1]).toMatchObject({ target: "/mnt/b", startedMs: 500 });
      if (picture === "proof") expect(document).toMatchObject({ faults: [], checkedBytes: 8e8 });
    },
  );

  it.each([
    ["write", "/mnt/b", "/mnt/a"],
    ["read", "/mnt/a", "/mnt/b"],
  ] as const)("of a copy that is a %s drill names %s as its source", (direction, from, to) => {
    const { order, repeat } = made("ferry", direction);
    const document = measuredDocument(order, [repeat], conditions) as unknown as {
      sides: { target: string; role: string; waitedMs: number }[];
    };
    expect(document.sides).toEqual([
      { target: from, role: "from", waitedMs: 8000 },
      { target: to, role: "to", waitedMs: 10 },
    ]);
    const said = measuredText(order, [repeat], conditions).join(" ").replace(/\s+/g, " ");
    expect(said).toContain(`the source ${from} is the slow side`);
  });

  it("has a document also where nothing came to its end", () => {
    const { order } = made("haul");
    const bare = { samples: [], steps: [], events: [], readings: [], errors: [], result: null };
    expect(measuredDocument(order, [bare], conditions)).toMatchObject({
      meanMBps: 0,
      repeats: null,
      runs: [],
    });
  });
});

describe("the reading of a copy and of a Proof", () => {
  it("names a side only where it was waited for clearly", () => {
    expect(waitedFor(5000, 100, 10_000)).toBe("from");
    expect(waitedFor(100, 5000, 10_000)).toBe("to");
    expect(waitedFor(300, 100, 10_000)).toBe("neither");
    expect(waitedFor(3000, 2500, 10_000)).toBe("neither");
  });

  it("lists a fault once, however many passes showed it", () => {
    const fault = (kind: Fault["kind"], offset: number): Fault => ({ kind, offset, bytes: 4096 });
    const check = (faults: Fault[]) => ({
      ...blankStep("check", {}),
      bytes: 1e6,
      faults,
      moreFaults: 1,
    });
    const found = proofOf([
      check([fault("lost", 8192)]),
      blankStep("flow", {}),
      check([fault("lost", 8192), fault("stale", 0)]),
    ]);
    expect(found.faults.map(({ kind }) => kind)).toEqual(["stale", "lost"]);
    expect(found).toMatchObject({ checkedBytes: 2e6, moreFaults: 2 });
  });
});
