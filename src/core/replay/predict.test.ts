import fc from "fast-check";
import { describe, expect, it } from "vitest";
import type { RecordedRequest } from "../recording/request";
import { EarliestFirst } from "./earliest-first";
import { predictWork, type Answering, type RigAnswering } from "./predict";

const answering = (
  overheadUs: number,
  mbps: number,
  mostIops: number | null = null,
): Answering => ({
  overheadUs,
  mbps,
  mostIops,
  worst: 0.05,
});
const both = (one: Answering): RigAnswering => ({ read: one, write: one });
const read = (startUs: number, tookUs: number, bytes = 1_024_000): RecordedRequest => ({
  startUs,
  tookUs,
  kind: "read",
  offset: 0,
  bytes,
  program: 0,
});
const work = (requests: RecordedRequest[], ms: number) => ({
  requests,
  end: { ms, lost: 0, counted: null, reason: null },
});
const KEPT = { pace: "asap", pauses: "kept" } as const;

describe("how long recorded work would take", () => {
  it("is its pauses and, one request at a time, the overhead and the bytes of each", () => {
    // Three of 1 024 kB, each a millisecond of thought after the answer before.
    const one = work([read(1000, 500), read(2500, 500), read(4000, 500)], 5000 / 1e3 + 0.5);
    const slow = predictWork([one], both(answering(100, 100)), KEPT)!;
    expect(slow.waitedMs).toBeCloseTo(3 * 10.34, 6);
    expect(slow.ms).toBeCloseTo(3 * 10.34 + 3 + 1, 6);
    const bare = predictWork([one], both(answering(100, 100)), {
      pace: "asap",
      pauses: "left-out",
    })!;
    expect(bare.ms).toBeCloseTo(3 * 10.34, 6);
    expect(slow.worst).toBe(0.05);
  });

  it("lets bytes pass one after another, and overheads side by side, where many are under way", () => {
    const requests = Array.from({ length: 100 }, (_, i) => read(i, 50_000, 4096));
    const deep = predictWork([work(requests, 60)], both(answering(1000, 4.096)), KEPT)!;
    expect(deep.waitedMs).toBeCloseTo(100 + 1, 1);
    const few = predictWork([work(requests, 60)], both(answering(1000, 4.096, 500)), KEPT)!;
    expect(few.waitedMs).toBeCloseTo(200 + 1, 1);
  });

  it("takes a flush for as long as it took, and knows nothing of a way without a ladder", () => {
    const flush: RecordedRequest = { ...read(0, 7000, 0), kind: "flush" };
    const all = work([flush, read(7000, 10, 4096)], 8);
    expect(predictWork([all], both(answering(0, 1e6)), KEPT)!.waitedMs).toBeCloseTo(7, 2);
    expect(predictWork([all], { read: null, write: answering(1, 1) }, KEPT)).toBeNull();
    expect(predictWork([all], { read: answering(1, 1), write: null }, KEPT)).not.toBeNull();
  });

  it("is never longer on a rig that answers sooner, and at least as long as the drive alone", () => {
    const any = fc.array(
      fc.record({
        startUs: fc.nat(500_000),
        tookUs: fc.nat(50_000),
        kind: fc.constantFrom("read" as const, "write" as const),
        offset: fc.constant(0),
        bytes: fc.integer({ min: 1, max: 256 }).map((n) => n * 4096),
        program: fc.constant(0),
      }),
      { minLength: 1, maxLength: 60 },
    );
    const rates = fc.tuple(fc.integer({ min: 1, max: 1000 }), fc.integer({ min: 1, max: 2000 }));
    fc.assert(
      fc.property(any, rates, rates, (requests, [us, mbps], [moreUs, moreMBps]) => {
        const one = work(
          requests.toSorted((a, b) => a.startUs - b.startUs),
          600,
        );
        const slow = predictWork([one], both(answering(us + moreUs, mbps)), KEPT)!;
        const quick = predictWork([one], both(answering(us, mbps + moreMBps)), KEPT)!;
        expect(quick.ms).toBeLessThanOrEqual(slow.ms + 1e-6);
        expect(slow.waitedMs).toBeLessThanOrEqual(slow.ms + 1e-6);
        const bytes = (kind: string) =>
          requests.reduce((sum, of) => sum + (of.kind === kind ? of.bytes : 0), 0);
        const least = Math.max(bytes("read"), bytes("write")) / 1e3 / mbps;
        expect(slow.waitedMs).toBeGreaterThanOrEqual(least - 1e-6);
      }),
    );
  });
});

describe("moments that are taken out", () => {
  it("come the earliest first, whenever they were put in", () => {
    fc.assert(
      fc.property(fc.array(fc.option(fc.nat(1000))), (steps) => {
        const [queue, plain] = [new EarliestFirst(), [] as number[]];
        for (const step of steps) {
          if (step !== null) {
            queue.add(step);
            plain.push(step);
            plain.sort((a, b) => a - b);
          } else if (plain.length > 0) expect(queue.take()).toBe(plain.shift());
          else expect(() => queue.take()).toThrow(RangeError);
        }
      }),
    );
  });
});
