import { describe, expect, it } from "vitest";
import { usualDrill } from "../../../drills/shape";
import type { FarLoad } from "../../../run/far-host";
import { summarise } from "../../../stats/repeats";
import { briefResultOf } from "../../../testing/measured";
import { part, port, rig } from "../../../testing/rigs";
import { evidenceOn } from "../../findings/for-and-against";
import { locate, type Observation } from "../../locate";

const LAN = ["ethernet-1g"];
const SATA = ["sata-3g", "sata-6g"];
const share = {
  ...rig(
    [
      port(LAN),
      part("network-box", "box", { up: LAN, down: SATA }),
      part("drive", "disk", { up: SATA }),
    ],
    "share",
  ),
  farHost: "router",
};

/** A far host whose core and drive are so busy. */
const load = (core: number, busy: number | null): FarLoad => ({
  host: "router",
  seconds: 15,
  core: { number: 1, now: core, mean: core, peak: 1 },
  memory: 0.4,
  moved: { sda: { kind: "device", read: 45, written: 0, busy } },
});

const seen = (farHost: FarLoad | undefined, rates = [45, 45.4, 45.2]): Observation => ({
  rig: share,
  drill: usualDrill("haul", "read"),
  doubtful: false,
  measurementIds: [`core ${farHost?.core?.mean}, drive ${farHost?.moved.sda?.busy}`],
  repeats: summarise(rates),
  results: rates.map((rate) => briefResultOf(rate, farHost ? { farHost } : {})),
});

const first = (...all: Observation[]) => locate(all, [], { of: (one) => one === all[0] })[0]!;
const chance = (of: string, ...all: Observation[]) =>
  first(...all)
    .explanations.filter(({ place }) => place.includes(of))
    .reduce((sum, { probability }) => sum + probability, 0);
const DRIVE = JSON.stringify({ part: share.parts.at(-1)!.id });

describe("a share whose far host", () => {
  it("has a full core is held back by that host, and the step takes work off it", () => {
    const located = first(seen(load(0.99, 0.3)));
    expect(located.explanations[0]!.at).toEqual({ condition: "farProcessor" });
    expect(located.explanations[0]!.probability).toBeGreaterThan(0.7);
    expect(located.nextSwaps.map(({ kind }) => kind)).toContain("farProcessor");
    const { for: pro } = evidenceOn(located.explanations[0]!, located);
    expect(pro.map(({ text }) => text).join(" ")).toContain("router");
  });

  it("had time left is not accused", () => {
    expect(chance("farProcessor", seen(load(0.6, 0.3)))).toBe(0);
    expect(chance("farProcessor", seen(undefined))).toBe(0);
  });

  it("has a drive that never stood idle is suspected for its drive, and cleared of it where that idled", () => {
    const unknown = chance(DRIVE, seen(undefined));
    expect(chance(DRIVE, seen(load(0.4, 0.99)))).toBeGreaterThan(2 * unknown);
    expect(chance(DRIVE, seen(load(0.4, 0.3)))).toBeLessThan(unknown / 2);
  });

  it("has a full core and serves all that the network carries is as designed", () => {
    expect(first(seen(load(0.99, 0.3), [117, 117.1, 117.2])).explanations[0]!.kind).toBe(
      "as-designed",
    );
  });
});
