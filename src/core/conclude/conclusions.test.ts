import { describe, expect, it } from "vitest";
import type { Conditions } from "../run/result";
import { around, measured } from "../testing/measured";
import { cable, drive, enclosure, port, rig, USB_10G } from "../testing/rigs";
import { conclude } from "./conclusions";
import { countedIn, knownIn } from "./counting";

const slow = rig([port(USB_10G), cable(USB_10G, "K1"), enclosure(), drive()], "slow");
const free = rig([port(USB_10G), cable(USB_10G, "K2"), enclosure(), drive()], "free");
const rigs = [slow, free];
const about = (measurements: ReturnType<typeof measured>[], more = {}) =>
  conclude({ rigs, measurements, tolerance: 0.05, ...more });

describe("which runs count", () => {
  it("leaves out what was simulated once anything real was measured, of whatever drill", () => {
    const simulated = measured(slow, around(400), { origin: "simulated" });
    const real = measured(free, around(1000), { direction: "write" });
    expect(countedIn(rigs, [simulated]).counting).toHaveLength(1);
    const both = countedIn(rigs, [real, simulated]);
    expect(both.seen).toHaveLength(2);
    expect(both.counting.map(({ origin }) => origin)).toEqual(["measured"]);
    // It is shown all the same, and nothing is said of it.
    const conclusions = about([real, simulated]);
    const shown = conclusions.knownIn("haul", "read").get(slow.id)!;
    expect(shown.origin).toBe("simulated");
    expect([conclusions.standingOf(shown), conclusions.locatedOf(shown)]).toEqual([null, null]);
    expect(conclusions.locatedIn("haul", "read")).toEqual([]);
  });

  it("leaves out what was made on a rig that was changed since, and single runs that are asked away", () => {
    const before = measured({ ...slow, parts: free.parts }, around(1000));
    const now = measured(slow, around(400));
    expect(countedIn(rigs, [now, before]).counting.map(({ rig: { parts } }) => parts)).toEqual([
      slow.parts,
    ]);
    const [first] = now.runs;
    expect(countedIn(rigs, [now], [first!.id]).counting[0]!.repeats.n).toBe(2);
  });

  it("leaves out what was made beside ballast where the rig was measured without, and knows the rig by that", () => {
    const full = (rig: typeof slow, rate: number) =>
      measured(rig, around(rate), {
        conditions: { io: "direct", ballast: { bytes: 1e10, level: 0.9 } } as Conditions,
      });
    const plain = measured(slow, around(400));
    const { seen, counting } = countedIn(rigs, [full(slow, 150), full(free, 160), plain]);
    expect(seen).toHaveLength(3);
    expect(counting.map(({ repeats }) => Math.round(repeats.median))).toEqual([160, 400]);
    expect(knownIn(seen, "haul", "read").get(slow.id)!.repeats.median).toBeCloseTo(400, 5);
  });

  it("knows a rig by what was asked of most rigs, then by the latest; what was measured before all else", () => {
    const deep = { drill: { name: "haul", depth: 32 } };
    const { seen } = countedIn(rigs, [
      measured(slow, around(500), deep),
      measured(slow, around(410)),
      measured(slow, around(400), { origin: "typed" }),
      measured(free, around(1000)),
    ]);
    const known = knownIn(seen, "haul", "read");
    expect(known.get(slow.id)!.repeats.median).toBeCloseTo(410, 5);
    expect(known.get(free.id)!.repeats.median).toBeCloseTo(1000, 5);
  });
});

describe("conclusions", () => {
  it("are of the very observation that is asked about, where a rig was asked for other requests too", () => {
    const deep = { drill: { name: "haul", depth: 32 } };
    const conclusions = about([
      measured(slow, around(700), deep),
      measured(slow, around(400)),
      measured(free, around(1000)),
    ]);
    const of = (mbps: number) =>
      conclusions.counting.find(({ repeats }) => Math.abs(repeats.median - mbps) < 1)!;
    expect(conclusions.locatedOf(of(700))!.observedMBps).toBeCloseTo(700, 5);
    expect(conclusions.locatedOf(of(400))!.observedMBps).toBeCloseTo(400, 5);
    expect(conclusions.located()).toHaveLength(3);
  });

  it("are worked out once", () => {
    const conclusions = about([measured(slow, around(400)), measured(free, around(1000))]);
    expect(conclusions.locatedIn("haul", "read")).toBe(conclusions.locatedIn("haul", "read"));
    expect(conclusions.judged()).toBe(conclusions.judged());
  });
});
