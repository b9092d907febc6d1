import { describe, expect, it } from "vitest";
import { usualDrill } from "../../drills/shape";
import { summarise } from "../../stats/repeats";
import { cable, drive, enclosure, port, rig } from "../../testing/rigs";
import { candidateParts } from "./candidate-parts";
import { locate } from "../locate";

const K1 = cable(undefined, "K1");
const slow = rig([port(), K1, enclosure(), drive()], "slow");
const many = [
  ...Array.from({ length: 5000 }, (_, i) => cable(undefined, `C${i}`)),
  ...Array.from({ length: 5000 }, (_, i) => drive({}, `D${i}`)),
];

describe("the parts that changes are made with", () => {
  it("are all of a small shelf, in its order but for those that were measured", () => {
    const K2 = cable(undefined, "K2");
    expect(candidateParts([K2, K1], [slow])).toEqual([K1, K2]);
    expect(candidateParts([], [slow])).toEqual([]);
  });

  it("are so many of each kind of a large one, and what was measured is always among them", () => {
    const near = candidateParts([...many, ...slow.parts], [slow]);
    for (const one of slow.parts) expect(near).toContain(one);
    const cables = near.filter(({ kind }) => kind === "cable").length;
    expect(cables).toBeLessThanOrEqual(40);
    expect(near.filter(({ kind }) => kind === "drive")).toHaveLength(cables);
  });

  it("still lead to the next step with thousands of parts", () => {
    const seen = {
      rig: slow,
      drill: usualDrill("haul", "read"),
      doubtful: false,
      measurementIds: ["m"],
      repeats: summarise([400, 404]),
    };
    const [found] = locate([seen], [...many, ...slow.parts]);
    expect(found!.nextSwaps.length).toBeGreaterThan(0);
  });

  it("lead on from the rig that is asked about among very many, however many are slower", () => {
    const box = enclosure();
    const rigOf = (i: number) => rig([port(), cable(undefined, `K${i}`), box, drive()], `r${i}`);
    const rigs = Array.from({ length: 60 }, (_, i) => rigOf(i));
    const all = rigs.map((one, i) => ({
      rig: one,
      drill: usualDrill("haul", "read"),
      doubtful: false,
      measurementIds: [`m${i}`],
      // The first thirty are ever slower, the last is asked about.
      repeats: summarise(i < 30 ? [300 + i, 302 + i] : i === 59 ? [700, 702] : [1040, 1044]),
    }));
    const shelf = [...new Set([...many, ...rigs.flatMap(({ parts }) => parts)])];
    const [found, ...rest] = locate(all, shelf, { of: ({ rig: one }) => one === rigs[59] });
    expect(rest).toEqual([]);
    expect(found!.rig).toBe(rigs[59]);
    expect(found!.explanations[0]!.at).toEqual({ part: "K59" });
    if (!found!.settled) expect(found!.nextSwaps.some(({ base }) => base === rigs[59])).toBe(true);
  });
});
