import { describe, expect, it } from "vitest";
import { readTrace } from "@/core/reading/read";
import { recordedTraces } from "@/core/exchange/recorded";
import { readDocument } from "./read";

/** A log of a write whose cache gives out after two minutes, as another program would write it. */
const log = (rate: (second: number) => number, head = "seconds,write MB/s,temperature C") =>
  [head, ...Array.from({ length: 300 }, (_, i) => `${i + 1},${rate(i)},${40 + (i % 3)}`)].join(
    "\n",
  );
const document = (text: string) => {
  const [trace] = recordedTraces(text);
  return readDocument(trace!, readTrace(trace!));
};

describe("a file that is read", () => {
  it("may be a log: its levels in seconds, bytes and MB/s", () => {
    const said = document(log((i) => (i < 120 ? 800 : 250) + (i % 5)));
    expect(said.levels).toMatchObject([
      { name: "burst", fromSeconds: 0, toSeconds: 120, medianMBps: 802 },
      { name: "folded", fromSeconds: 120, toSeconds: 300, medianMBps: 252 },
    ]);
    expect(said.cacheEdge).toMatchObject({ seconds: 120 });
    expect(Math.abs(said.cacheEdge!.bytes / (120 * 802e6) - 1)).toBeLessThan(0.001);
    expect(said).toMatchObject({ throttled: false, steadyMBps: 252, sustainedMBps: 252 });
  });

  it("may be what the command printed, of which each repeat is a run", () => {
    const samples = [0, 1].flatMap((repeat) =>
      Array.from({ length: 40 }, (_, i) => ({
        repeat,
        from: i * 100,
        ms: (i + 1) * 100,
        requests: 1,
        step: 0,
        target: 0,
        bytes: 5e7,
        written: 0,
      })),
    );
    const traces = recordedTraces(JSON.stringify({ samples, conditions: null }));
    expect(traces.map(({ samples: own }) => own.length)).toEqual([40, 40]);
    expect(readDocument(traces[1]!, readTrace(traces[1]!))).toMatchObject({
      burstMBps: 500,
      cacheEdge: null,
      throttled: false,
      events: [],
    });
  });

  it.each([
    ["", /numbers in columns/],
    ["{", /no JSON document/],
    ['{"samples": []}', /has no samples/],
    ['{"format": "nerrit-runs", "version": 9, "measurements": []}', /version/],
    [log((i) => (i === 7 ? NaN : 5)), /line 9, column 2: "NaN" is no number/],
  ])("is refused with the reason where it is none: %j", (text, reason) => {
    expect(() => recordedTraces(text)).toThrow(reason);
  });
});
