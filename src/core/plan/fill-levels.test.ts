import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { usualDrill } from "../drills/shape";
import { drive, port, rig } from "../testing/rigs";
import { ballastWritten, factsAt, fillingWords, levelsFrom, levelWords } from "./fill-levels";
import { orderSteps } from "./order";
import { levelOf, PlanRequest, type Plan } from "./plan";

const GB = 1e9;
const facts = { kind: "directory" as const, room: 0, smallestBlock: 512, cache: null };

describe("fill levels of a plan", () => {
  const chosen = [rig([port(), drive()], "one"), rig([port(), drive()], "two")];
  const fill = usualDrill("long-fill", "write");
  const plan: Plan = {
    ...PlanRequest.parse({
      rigs: chosen.map(({ id }) => ({ rigId: id, target: `/mnt/${id}` })),
      drills: [{ name: "long-fill", direction: "write" }],
      repeats: 2,
    }),
    drills: [fill, fill, fill],
    fillLevels: [0, 0.5, 0.9],
  };

  it("are gone through one after another on each rig, every repeat at its level", () => {
    const { steps } = orderSteps({ ...plan, order: "few swaps" }, chosen);
    const levels = steps.map((step) => `${step.rigId} ${levelOf(plan, step.drill)}`);
    const [one, two] = chosen.map(({ id }) =>
      [0, 0, 0.5, 0.5, 0.9, 0.9].map((level) => `${id} ${level}`),
    );
    expect(levels).toEqual([...one!, ...two!]);
  });

  it("stand by every drill of their level, and by none where there are none", () => {
    const several = { ...plan, drills: [fill, fill, fill, fill, fill, fill] };
    expect(several.drills.map((_, at) => levelOf(several, at))).toEqual([0, 0, 0.5, 0.5, 0.9, 0.9]);
    const { fillLevels: _, ...older } = plan;
    expect(levelOf(older, 2)).toBeNull();
    expect([levelWords(older, 2), levelWords(plan, 0)]).toEqual(["", ", without ballast"]);
    expect(levelWords(plan, 2)).toMatch(/90.%/);
  });

  it("are read as people write them, and what is none is told", () => {
    expect(levelsFrom("0, 25 50%;75 %")).toEqual([0, 0.25, 0.5, 0.75]);
    expect(levelsFrom("  ")).toEqual([]);
    expect(levelsFrom("10, much")).toEqual([0.1, NaN]);
  });

  it("count toward the runs that a plan may have", () => {
    const asked = (fillLevels: number[]) =>
      PlanRequest.safeParse({
        rigs: [{ rigId: "a", target: "/x" }],
        drills: Array(20).fill({ name: "haul", direction: "read" }),
        repeats: 50,
        fillLevels,
      }).success;
    expect([asked([0.1, 0.2]), asked([0.1, 0.2, 0.3])]).toEqual([true, false]);
    expect([asked([1]), asked([-0.1]), asked([0.5, 0.5])]).toEqual([false, false, false]);
  });
});

describe("a drive at a level", () => {
  it("leaves the more room the lower the level, and never the reserve", () => {
    const share = fc.double({ min: 0.01, max: 0.98, noNaN: true });
    fc.assert(
      fc.property(share, share, share, (a, b, used) => {
        const space = { total: 1000 * GB, free: 1000 * GB * (1 - used) };
        const at = (level: number) => factsAt(level, facts, space, 0, 20 * GB);
        const [low, high] = [at(Math.min(a, b)), at(Math.max(a, b))];
        if (typeof low === "string" || typeof high === "string") return;
        expect(low.room).toBeGreaterThanOrEqual(high.room);
        for (const { room, space: then } of [low, high])
          expect(room).toBeCloseTo(then!.free - 20 * GB, -1);
      }),
    );
  });

  it("without ballast gives back what is held now", () => {
    const space = { total: 100 * GB, free: 10 * GB };
    const then = factsAt(0, facts, space, 60 * GB, 2 * GB);
    expect(then).toMatchObject({ room: 68 * GB });
    expect(factsAt(0.99, facts, space, 0, 2 * GB)).toMatch(/reserve/);
  });

  it("is written to only where the next level is higher", () => {
    const empty = { total: 100 * GB, free: 100 * GB };
    const written = (levels: number[]) => Math.round(ballastWritten(levels, empty) / GB);
    expect(written([0, 0.25, 0.5, 0.9])).toBe(90);
    expect(written([0.9, 0.5, 0.25])).toBe(90);
    expect(written([0.5, 0, 0.5])).toBe(100);
    expect(written([])).toBe(0);
  });

  it("says how far the ballast is, and when it goes", () => {
    expect(fillingWords({ level: 0.5, bytes: 3 * GB, total: 12 * GB })).toMatch(/3 GB of 12 GB/);
    expect(fillingWords({ level: 0, bytes: 0, total: 0 })).toMatch(/removing/);
  });
});
