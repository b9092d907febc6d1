import { describe, expect, it } from "vitest";
import { statedRig } from "../testing/rigs";
import { measured } from "../testing/measured";
import { answered } from "../testing/answered";
import { firstRigs } from "./first-rigs";

const study = { id: "s", title: "t", tolerance: 0.05, smallestEffect: 0.03 };
const rigs = [900, 300, 800, 500, 700].map((mbps, i) => ({ ...statedRig(1000, `r${i}`), mbps }));
const { rigs: lettered } = answered(
  study,
  rigs,
  rigs.slice(0, 4).map((rig) => measured(rig, [rig.mbps, rig.mbps + 2, rig.mbps - 2])),
  "read",
);
const names = (list: typeof lettered) => list.map(({ rig }) => rig.name);

describe("the rigs that are looked at first", () => {
  it("are those that lose most, in the study's order", () => {
    expect(names(firstRigs(lettered, 2))).toEqual(["r1", "r3"]);
    expect(names(firstRigs(lettered, 3))).toEqual(["r1", "r2", "r3"]);
  });

  it("are unmeasured ones only where there is room", () => {
    expect(names(firstRigs(lettered, 4))).not.toContain("r4");
    expect(firstRigs(lettered)).toEqual(lettered);
  });
});
