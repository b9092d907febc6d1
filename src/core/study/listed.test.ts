import { describe, expect, it } from "vitest";
import { measured } from "../testing/measured";
import { statedRig } from "../testing/rigs";
import { listed, runBefore } from "./listed";

const rig = statedRig(40);

describe("a list of measurements", () => {
  it("has the means of what was finished, and nothing heavy", () => {
    const one = listed(measured(rig, [40, null, 41]));
    expect(one.means).toEqual([40, 41]);
    expect(one).toMatchObject({ rigName: rig.name, drill: "Haul", targets: ["/x"] });
    expect(JSON.stringify(one).length).toBeLessThan(400);
  });

  it("knows the run before: the same drill first, never one to warm up or of another origin", () => {
    const shown = measured(rig, [40]);
    const others = [
      measured(rig, [1], { warmUp: true }),
      measured(rig, [2], { origin: "watched" }),
      measured(rig, [3], { drill: { name: "scatter" } }),
      measured(rig, [4]),
    ];
    const all = [measured(rig, [0]), shown, ...others];
    expect(runBefore(shown, all)!.of.means).toEqual([4]);
    expect(runBefore(shown, all.slice(0, 5))!.of.means).toEqual([3]);
    expect(runBefore(shown, all.slice(0, 4))).toBeNull();
  });
});
