import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { account } from "../ledger/account";
import { modeOf } from "../ledger/catalogue";
import {
  ceilingOf,
  isProcessorFull,
  mostCarried,
  rowsOf,
  secondsOf,
  usualPassages,
  type NetworkFigures,
} from "./figures";
import type { NetworkEnd } from "./protocol";

const end = (megabits: number | null, mtu: number | null = 1500): NetworkEnd => ({
  interface: "eth0",
  megabits,
  mtu,
});

/** Figures of usual passages that each carried what a function says, MB/s. */
const figures = (
  rate: (connections: number, direction: "read" | "write") => number,
  busy = { process: 0.3, busiestCore: 0.4 },
): NetworkFigures => ({
  from: "desk",
  to: "router",
  at: "2026-12-01T10:00:00.000Z",
  ends: { from: end(1000), to: end(2500) },
  passages: usualPassages().map((one) => ({
    ...one,
    carried: { bytes: rate(one.connections, one.direction) * 3e6, ms: 3000, ...busy },
  })),
});

describe("a network by itself", () => {
  it("is measured over one connection and over several, both ways, in repeats", () => {
    const passages = usualPassages();
    const keys = passages.map(({ connections, direction }) => `${connections} ${direction}`);
    expect(new Set(keys).size).toBe(4);
    for (const key of keys) expect(keys.filter((one) => one === key)).toHaveLength(3);
    expect(secondsOf(passages)).toBeLessThanOrEqual(60);
  });

  it("has a rate for each number of connections, and the most of them", () => {
    const one = figures((n, way) => (way === "read" ? 50 * n : 30));
    expect(rowsOf(one).map(({ connections, rates }) => [connections, rates.read!.median])).toEqual([
      [1, 50],
      [4, 200],
    ]);
    expect(mostCarried(one, "read")!.median).toBe(200);
    expect(mostCarried(one, "write")!.interval).not.toBeNull();
    expect(mostCarried({ passages: [] }, "read")).toBeNull();
  });

  it("is held to the slower end, in the smaller frames", () => {
    fc.assert(
      fc.property(
        fc.constantFrom(100, 1000, 2500, 10_000),
        fc.constantFrom(100, 1000, 2500, 10_000),
        fc.constantFrom(1500, 9000),
        (a, b, mtu) => {
          const ceiling = ceilingOf({ ends: { from: end(a), to: end(b, mtu) } })!;
          expect(ceiling.mode.gigatransfers * 1000).toBe(Math.min(a, b));
          expect(ceiling.mtu).toBe(1500);
          expect(ceiling.mbps).toBe(account(ceiling.mode, "read").hardCeiling);
        },
      ),
    );
    const large = { from: end(1000, 9000), to: end(1000, 9000) };
    expect(ceilingOf({ ends: large })!.mbps).toBeGreaterThan(
      account(modeOf("ethernet-1g"), "read").hardCeiling,
    );
  });

  it("has no ceiling where no interface says its rate, nor at one that no standard has", () => {
    expect(ceilingOf({ ends: { from: end(null), to: null } })).toBeNull();
    expect(ceilingOf({ ends: { from: end(433), to: null } })).toBeNull();
  });

  it("is doubted where a processor that counted had no time left", () => {
    const rate = () => 100;
    expect(isProcessorFull(figures(rate), "read")).toBe(false);
    expect(isProcessorFull(figures(rate, { process: 0.99, busiestCore: 0.4 }), "read")).toBe(true);
    expect(isProcessorFull(figures(rate, { process: 0.4, busiestCore: 1 }), "write")).toBe(true);
  });
});
