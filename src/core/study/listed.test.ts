import { describe, expect, it } from "vitest";
import { measured } from "../testing/measured";
import { statedRig } from "../testing/rigs";
import { listed, runBefore } from "./listed";
import { settingsWords } from "./measurement";

const rig = statedRig(40);

describe("a list of measurements", () => {
  it("has the means of what was finished, and nothing heavy", () => {
    const one = listed(measured(rig, [40, null, 41]));
    expect(one.means).toEqual([40, 41]);
    expect(one).toMatchObject({ rigName: rig.name, drill: "Haul", targets: ["/x"] });
    expect(JSON.stringify(one).length).toBeLessThan(400);
  });

  it("states no settings of what another program measured or somebody wrote down", () => {
    expect(settingsWords(measured(rig, [40]))).toMatch(/in flight/);
    for (const origin of ["typed", "imported"] as const)
      expect(settingsWords(measured(rig, [40], { origin }))).not.toMatch(/in flight|GiB/);
  });

  it("counts apart what was left out", () => {
    const one = measured(rig, [40, 41, 42]);
    const runs = one.runs.map((run, i) => (i === 1 ? { ...run, leftOut: "a fan fell" } : run));
    expect(listed({ ...one, runs })).toMatchObject({ means: [40, 42], leftOut: 1 });
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
