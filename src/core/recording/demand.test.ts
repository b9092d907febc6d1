import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { Demand, needOf } from "../study/demand";
import { askedOf } from "./asked";
import { demandOfWork, KeptUpWith } from "./demand";
import type { RecordedRequest } from "./request";

const request = fc.record({
  startUs: fc.nat(200_000_000),
  tookUs: fc.constant(100),
  kind: fc.constantFrom("read" as const, "write" as const),
  offset: fc.nat(2 ** 20).map((n) => n * 4096),
  bytes: fc.integer({ min: 1, max: 256 }).map((n) => n * 4096),
  program: fc.constant(0),
});

describe("recorded work as a demand", () => {
  it("asks each way for what its seconds asked, never less than the whole and never more than the busiest", () => {
    fc.assert(
      fc.property(
        fc.array(request, { minLength: 1, maxLength: 80 }),
        fc.constantFrom(...KeptUpWith.options),
        (all, kept) => {
          const requests: RecordedRequest[] = all.toSorted((a, b) => a.startUs - b.startUs);
          const asked = askedOf(requests, 200_001);
          const demand = Demand.parse(demandOfWork("work", asked, kept));
          for (const way of ["read", "write"] as const) {
            const need = needOf(demand, way);
            const { meanMBps, p99MBps, peakMBps } = asked[way];
            expect(meanMBps).toBeLessThanOrEqual(p99MBps);
            expect(p99MBps).toBeLessThanOrEqual(peakMBps);
            const wanted = kept === "peak" ? peakMBps : p99MBps;
            expect(Math.abs(need - wanted)).toBeLessThanOrEqual(wanted * 1e-4);
          }
        },
      ),
    );
  });

  it("leaves the one second of a hundred out that is busier than the others", () => {
    const at = (second: number, bytes: number): RecordedRequest => ({
      startUs: second * 1e6,
      tookUs: 100,
      kind: "read",
      offset: 0,
      bytes,
      program: 0,
    });
    const requests = Array.from({ length: 200 }, (_, i) => at(i, i === 77 ? 9e8 : 1e7));
    const asked = askedOf(requests, 200_000);
    expect(asked.read.p99MBps).toBe(14.45);
    expect(needOf(demandOfWork("work", asked, "p99")!, "read")).toBeCloseTo(14.45, 3);
    expect(needOf(demandOfWork("work", asked, "peak")!, "read")).toBeCloseTo(900, 1);
  });

  it("is none where nothing was read or written", () => {
    expect(demandOfWork("work", askedOf([], 1000), "p99")).toBeNull();
  });
});
