import { describe, expect, it } from "vitest";
import { usualDrill } from "../drills/shape";
import { summarise } from "../stats/repeats";
import { cable, drive, enclosure, port, rig } from "../testing/rigs";
import { atHand } from "./at-hand";
import { locate } from "./locate";

const K1 = cable(undefined, "K1");
const slow = rig([port(), K1, enclosure(), drive()], "slow");
const many = [
  ...Array.from({ length: 5000 }, (_, i) => cable(undefined, `C${i}`)),
  ...Array.from({ length: 5000 }, (_, i) => drive({}, `D${i}`)),
];

describe("the parts that changes are made with", () => {
  it("are all of a small shelf, in its order but for those that were measured", () => {
    const K2 = cable(undefined, "K2");
    expect(atHand([K2, K1], [slow])).toEqual([K1, K2]);
    expect(atHand([], [slow])).toEqual([]);
  });

  it("are so many of each kind of a large one, and what was measured is always among them", () => {
    const near = atHand([...many, ...slow.parts], [slow]);
    for (const one of slow.parts) expect(near).toContain(one);
    const cables = near.filter(({ kind }) => kind === "cable").length;
    expect(cables).toBeLessThanOrEqual(40);
    expect(near.filter(({ kind }) => kind === "drive")).toHaveLength(cables);
  });

  it("still lead to the next step with thousands of parts", () => {
    const seen = {
      ...{ rig: slow, drill: usualDrill("haul", "read"), doubtful: false, measurementIds: ["m"] },
      repeats: summarise([400, 404]),
    };
    const [found] = locate([seen], [...many, ...slow.parts]);
    expect(found!.nextSwaps.length).toBeGreaterThan(0);
  });
});
