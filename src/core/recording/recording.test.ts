import { deflateRawSync } from "node:zlib";
import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { askedOf } from "./asked";
import { packRequests, unpackRequests } from "./pack";
import { partOf, readRecording, type RecordingHead } from "./recording-file";
import { requestsOf, ROW, rowsOf, type RecordedRequest } from "./request";
import { askedWords, programsOf } from "./recording-words";

const read = (
  startUs: number,
  tookUs: number | null,
  offset: number,
  bytes = 4096,
): RecordedRequest => ({
  startUs,
  tookUs,
  kind: "read",
  offset,
  bytes,
  program: 0,
});

describe("what a piece of work asks of a drive", () => {
  it("is busy for just the time in which something was under way", () => {
    // Two that overlap, one that follows at once, one apart.
    const requests = [read(0, 100, 0), read(50, 100, 8192), read(150, 50, 4096), read(500, 100, 0)];
    const asked = askedOf(requests, 1);
    expect(asked.busyShare).toBeCloseTo(0.3, 9);
    expect(asked.meanDepth).toBeCloseTo(350 / 300, 9);
    expect(asked.mostDepth).toBe(2);
    expect(askedWords(asked)[0]).toMatch(/30.% of .* A drive without any delay would save/);
  });

  it("never says more than all of the time, nor a depth below one", () => {
    const request = fc.record({
      startUs: fc.nat(1_000_000),
      tookUs: fc.option(fc.nat(500_000)),
      kind: fc.constantFrom("read" as const, "write" as const, "flush" as const),
      offset: fc.nat(1000).map((n) => n * 4096),
      bytes: fc.integer({ min: 1, max: 64 }).map((n) => n * 4096),
      program: fc.constant(0),
    });
    fc.assert(
      fc.property(fc.array(request, { maxLength: 60 }), (all) => {
        const requests = all.toSorted((a, b) => a.startUs - b.startUs);
        const asked = askedOf(requests, 1500);
        expect(asked.busyShare).toBeGreaterThanOrEqual(0);
        expect(asked.busyShare).toBeLessThanOrEqual(1);
        if (asked.meanDepth > 0) expect(asked.meanDepth).toBeGreaterThanOrEqual(1 - 1e-9);
        expect(asked.randomShare).toBeLessThanOrEqual(1);
        const bytes = requests.reduce(
          (sum, one) => sum + (one.kind === "flush" ? 0 : one.bytes),
          0,
        );
        expect(asked.read.bytes + asked.write.bytes).toBe(bytes);
        expect(askedWords(asked).length).toBeGreaterThan(0);
      }),
    );
  });

  it("knows streams that run beside each other from requests all over the place", () => {
    const streams = Array.from({ length: 100 }, (_, i) => [
      read(i, 1, i * 4096),
      read(i, 1, 2 ** 30 + i * 4096),
    ]).flat();
    expect(askedOf(streams, 1).randomShare).toBeCloseTo(2 / 200, 9);
    const strewn = Array.from({ length: 100 }, (_, i) => read(i, 1, ((i * 37) % 100) * 8192));
    expect(askedOf(strewn, 1).randomShare).toBe(1);
  });

  it("finds the busiest second wherever that begins, and none busier than a shorter whole", () => {
    const piece = 10 ** 6;
    const at = (startUs: number) => read(startUs, 1, startUs * 4096, piece);
    const spread = [at(0), at(900_000), at(1_100_000), at(1_800_000), at(2_500_000)];
    expect(askedOf(spread, 4000).read.peakMBps).toBeCloseTo(3, 9);
    expect(askedOf([at(0), at(100_000)], 200).read).toMatchObject({ meanMBps: 10, peakMBps: 10 });
  });

  it("tells pauses, the working set, the busiest second, and the sizes", () => {
    const requests = [read(0, 10, 0, 65536), read(2_500_000, 10, 2 ** 20, 2 ** 20)];
    const asked = askedOf(requests, 4000);
    expect(asked).toMatchObject({ pauses: 2, workingSetBytes: 2 * 2 ** 20, largeShare: 1 });
    expect(asked.pausedSeconds).toBeCloseTo(3.99998, 4);
    expect(asked.read.peakMBps).toBeCloseTo(2 ** 20 / 1e6, 9);
    expect(askedOf([], 1000)).toMatchObject({ busyShare: 0, medianUs: null, pauses: 1 });
    expect(askedWords(askedOf([], 1000))).toEqual(["Nothing was read or written in 1.00 s."]);
  });
});

const HEAD: RecordingHead = {
  format: "nerrit-recording",
  version: 1,
  nerrit: "0.1.0",
  startedAt: "2026-03-01T10:00:00.000Z",
  host: "desk",
  kernel: "Linux 6",
  device: "/dev/sdb",
  drive: null,
  deviceBytes: 2 ** 30,
  command: "make",
  points: ["block_io_start", "block_rq_complete"],
};
const END = { ms: 12, lost: 0, counted: null, reason: null };
const lines = (...all: object[]) => all.map((one) => JSON.stringify(one)).join("\n") + "\n";
const part = (requests: readonly RecordedRequest[], programs = ["cc1", "ld"]) =>
  partOf(rowsOf(requests), programs, deflateRawSync);
const rowOf = (...row: number[]) =>
  partOf(Float64Array.from(row), ["cc1"], (bytes) => deflateRawSync(bytes));

describe("requests as bytes", () => {
  const whole = (max: number) => fc.integer({ min: 0, max });
  const row = fc.tuple(
    whole(50_000),
    fc.integer({ min: -1, max: 2 ** 40 }),
    whole(15),
    fc.oneof(whole(40), whole(2 ** 45)),
    fc.oneof(fc.constantFrom(8, 8, 256), whole(2 ** 32 - 1)),
    fc.oneof(fc.constant(0), whole(9998)),
  );

  it("are the same again, whatever they are", () => {
    fc.assert(
      fc.property(fc.array(row, { maxLength: 60 }), (all) => {
        let start = 0;
        const rows = Float64Array.from(
          all.flatMap(([after, ...rest]) => [(start += after), ...rest]),
        );
        expect(unpackRequests(packRequests(rows), all.length)).toEqual(rows);
        expect(rowsOf(requestsOf(rows))).toEqual(rows);
      }),
    );
  });

  it("are refused where they were not made so", () => {
    fc.assert(
      fc.property(fc.uint8Array({ maxLength: 200 }), fc.nat(30), (bytes, count) => {
        try {
          expect(unpackRequests(bytes, count)).toHaveLength(count * ROW);
        } catch (error) {
          expect(error).toBeInstanceOf(RangeError);
        }
      }),
    );
  });
});

describe("a recording as a file", () => {
  const requests = [
    read(1.5, 20.1, 4096),
    { ...read(3, null, 0, 512), kind: "write" as const, program: 1 },
  ];
  const text = lines(HEAD, part(requests), END);

  it("holds each request whole", () => {
    expect(readRecording(text)).toEqual({
      head: HEAD,
      requests,
      programs: ["cc1", "ld"],
      end: END,
    });
    expect(programsOf(readRecording(text)).map(({ name, bytes }) => [name, bytes])).toEqual([
      ["cc1", 4096],
      ["ld", 512],
    ]);
  });

  it("takes less than 12 bytes for a request that goes anywhere", () => {
    let [start, seed] = [0, 7];
    const draw = (below: number) => (seed = (seed * 48271) % 2147483647) % below;
    const strewn = Array.from({ length: 4096 }, () =>
      read((start += draw(100)), draw(2000) / 10, draw(2 ** 28) * 4096),
    );
    expect(part(strewn).packed.length).toBeLessThan(12 * strewn.length);
  });

  it("is read to its last whole line where it was cut off", () => {
    const cut = readRecording(text.slice(0, text.lastIndexOf('"lost"')));
    expect(cut.requests).toEqual(requests);
    expect(cut.end.reason).toMatch(/ends before the recording does/);
  });

  it.each([
    ["of another kind", lines({ ...HEAD, format: "nerrit-runs" }), /line 1: format/],
    ["of a later version", lines({ ...HEAD, version: 2 }), /line 1: version/],
    ["with a place beyond every drive", lines(HEAD, rowOf(1, 1, 0, 2 ** 52, 8, 0), END), /line 2/],
    ["with a program without a name", lines(HEAD, rowOf(1, 1, 0, 0, 8, 3), END), /line 2/],
    ["with fewer requests than it says", lines(HEAD, { ...part([]), requests: 9 }, END), /line 2/],
    [
      "with what unfolds to far more than it says",
      lines(HEAD, {
        ...part([]),
        packed: deflateRawSync(Buffer.alloc(2 ** 20)).toString("base64"),
      }),
      /line 2/,
    ],
    ["with bytes that are none", lines(HEAD, { ...part([]), packed: "AAAA" }, END), /line 2/],
    ["that goes on behind its end", lines(HEAD, END, END), /behind the end/],
    [
      "with a line that is none in its middle",
      `${JSON.stringify(HEAD)}\n{\n${JSON.stringify(END)}\n`,
      /line 2/,
    ],
    ["that is empty", "", /line 1 is no JSON/],
  ])("is refused %s, with the line", (_, broken, words) => {
    expect(() => readRecording(broken)).toThrow(words);
  });
});
