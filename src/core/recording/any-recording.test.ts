import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { anyRecording, isRecording } from "./any-recording";
import { csvOfRecording } from "./recording-csv";
import { foreignRecording } from "./recording-file";
import type { RecordedRequest } from "./request";

const request = fc
  .record({
    startUs: fc.nat(10 ** 9).map((n) => n / 10),
    tookUs: fc.option(fc.nat(10 ** 8).map((n) => n / 10)),
    kind: fc.constantFrom("read" as const, "write" as const, "flush" as const, "discard" as const),
    offset: fc.nat(2 ** 31).map((n) => n * 512),
    bytes: fc.nat(9999).map((n) => n * 512),
    program: fc.nat(2),
    flush: fc.option(fc.constantFrom("before" as const, "after" as const, "both" as const)),
  })
  .map(({ flush, ...one }): RecordedRequest => ({
    ...one,
    ...(one.kind === "flush" ? { bytes: 0 } : {}),
    ...(one.kind === "write" && flush ? { flush } : {}),
  }));

const HEADER = "seconds,operation,offset,bytes,seconds_to_answer,program";
const table = (...rows: string[]) => [HEADER, ...rows].join("\r\n");

describe("a recording as a table", () => {
  const names = ["cc1", "=SUM(A1)", 'a "name", with signs'];

  it("loses no request, whatever the program is called", () => {
    fc.assert(
      fc.property(fc.array(request, { maxLength: 40 }), (all) => {
        const recording = foreignRecording("a test", all, names);
        const text = csvOfRecording(recording);
        expect(isRecording(text)).toBe(true);
        const again = anyRecording(text);
        const named = (of: typeof recording) =>
          of.requests.map(({ program, ...one }) => ({ ...one, program: of.programs[program] }));
        expect(named(again)).toEqual(named(recording));
      }),
    );
  });

  it("may come with a mark of its order of bytes, semicolons, and in any order of time", () => {
    const text = `\uFEFF${table("2.5,read,4096,4096,0.001,b", "1,write,0,512,,a")}`;
    const { requests, programs } = anyRecording(text.replaceAll(",", ";"));
    expect(requests.map(({ kind, startUs, tookUs }) => [kind, startUs, tookUs])).toEqual([
      ["write", 1e6, null],
      ["read", 2.5e6, 1000],
    ]);
    expect(requests.map(({ program }) => programs[program])).toEqual(["a", "b"]);
  });

  it("has places between two sectors widened to whole ones", () => {
    const [one] = anyRecording(table("0,read,700,100,,x")).requests;
    expect(one).toMatchObject({ offset: 512, bytes: 512 });
  });

  it.each([
    ["an operation that is none", "0,scribble,0,512,,x", /line 2: operation/],
    ["a time below nothing", "-1,read,0,512,,x", /line 2: seconds/],
    ["a place beyond every drive", "0,read,1e30,512,,x", /line 2: offset/],
    ["half a byte", "0,read,0,0.5,,x", /line 2: bytes/],
    ["a row that is too short", "0,read", /line 2: offset/],
    ["words for a number", "soon,read,0,512,,x", /line 2: seconds/],
  ])("is refused with %s, by its line", (_, row, words) => {
    expect(() => anyRecording(table(row))).toThrow(words);
  });
});

/** As blkparse(1) prints it, with its summary behind. */
const TRACE = `  8,16   1        1     0.000000000  1201  Q   R 2048 + 8 [dd]
  8,16   1        2     0.000001100  1201  G   R 2048 + 8 [dd]
  8,16   1        3     0.000004200  1201  D   R 2048 + 8 [dd]
  8,16   0        1     0.000090000  1340  D  WS 9000 + 16 [jbd2/sdb-8]
  8,16   1        4     0.000104200     0  C   R 2048 + 8 [0]
  8,16   1        5     0.000110000  1201  U   N [dd] 1
  8,16   0        2     0.000290500     0  C  WS 9000 + 16 [0]
  8,16   0        3     0.000300000  1340  D  FN [jbd2/sdb-8]
  8,16   0        4     0.000350000     0  C  FN 0 [0]
  8,16   0        5     0.000400000  1340  D   D 40960 + 2048 [fstrim]
CPU0 (8,16):
 Reads Queued:           1,        4KiB	 Writes Queued:           1,        8KiB
Total (8,16):
`;

describe("the kernel’s block trace as text", () => {
  it("gives its requests: kind, place, size, time to answer, program", () => {
    expect(isRecording(TRACE)).toBe(true);
    const { requests, programs } = anyRecording(TRACE);
    expect(requests).toEqual([
      { startUs: 4.2, tookUs: 100, kind: "read", offset: 2048 * 512, bytes: 4096, program: 0 },
      { startUs: 90, tookUs: 200.5, kind: "write", offset: 9000 * 512, bytes: 8192, program: 1 },
      { startUs: 300, tookUs: 50, kind: "flush", offset: 0, bytes: 0, program: 1 },
      {
        startUs: 400,
        tookUs: null,
        kind: "discard",
        offset: 40960 * 512,
        bytes: 2048 * 512,
        program: 2,
      },
    ]);
    expect(programs).toEqual(["dd", "jbd2/sdb-8", "fstrim"]);
  });

  it("tells which writes the drive’s cache is emptied around", () => {
    const flushes = (letters: string) =>
      anyRecording(TRACE.split("\n")[0]!.replace("  R ", ` ${letters} `)).requests[0];
    expect(flushes("FWFSM")).toMatchObject({ kind: "write", flush: "both" });
    expect(flushes("FWS")).toMatchObject({ kind: "write", flush: "before" });
    expect(flushes("WFS")).toMatchObject({ kind: "write", flush: "after" });
    expect(flushes("WS")).not.toHaveProperty("flush");
  });

  it("begins a request where it is queued, in a trace that tells no more", () => {
    const [one] = anyRecording(TRACE.split("\n").slice(0, 1).join("\n")).requests;
    expect(one).toMatchObject({ startUs: 0, tookUs: null, bytes: 4096 });
  });

  it("of two devices is refused, with their numbers", () => {
    const other = TRACE.split("\n")[0]!.replace("8,16", "8,32");
    expect(() => anyRecording(`${TRACE}${other}\n`)).toThrow(/2 devices \(8,16 and 8,32\)/);
  });

  it("is no recording where no line is a request", () => {
    expect(isRecording("CPU0 (8,16):\n Reads Queued: 1\n")).toBe(false);
    expect(isRecording("seconds,MB/s\n1,2\n")).toBe(false);
  });
});
