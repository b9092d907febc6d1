import fs from "node:fs";
import os from "node:os";
import path from "node:path";
import fc from "fast-check";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { requestsOf, type RecordedRequest } from "@/core/recording/request";
import { builtNative } from "../testing/built-native";
import { fieldOf, parseEventFormat } from "./event-format";
import { Recorder } from "./recorder";

const FORMAT = `name: block_io_start
ID: 2102
format:
	field:unsigned short common_type;	offset:0;	size:2;	signed:0;
	field:int common_pid;	offset:4;	size:4;	signed:1;

	field:sector_t sector;	offset:16;	size:8;	signed:0;
	field:unsigned int nr_sector;	offset:24;	size:4;	signed:0;
	field:char rwbs[10];	offset:34;	size:10;	signed:0;
	field:__data_loc char[] cmd;	offset:60;	size:4;	signed:0;

print fmt: "%d"
`;

describe("what a trace point tells", () => {
  it("is found where the kernel says that it stands", () => {
    const format = parseEventFormat(FORMAT);
    expect(format.id).toBe(2102);
    expect(fieldOf(format, "rwbs")).toEqual({ offset: 34, size: 10 });
    expect(fieldOf(format, "nr_sectors", "nr_sector")).toEqual({ offset: 24, size: 4 });
    expect(() => fieldOf(format, "bytes")).toThrow(/tells no bytes/);
    expect(() => parseEventFormat("nothing")).toThrow(RangeError);
  });
});

const native = builtNative();
if (!native) console.warn("skipped: the compiled recorder (not built)");

/** A trace point of these tests, as the kernel would describe one. */
const point = (id: number, hasProgram: boolean) =>
  parseEventFormat(`ID: ${id}
	field:unsigned short common_type;	offset:0;	size:2;	signed:0;
	field:sector_t sector;	offset:8;	size:8;	signed:0;
	field:unsigned int nr_sector;	offset:16;	size:4;	signed:0;
	field:char rwbs[8];	offset:20;	size:8;	signed:0;
${hasProgram ? "	field:char comm[16];	offset:28;	size:16;	signed:0;" : ""}
`);
const [START, DONE, OTHER] = [7, 9, 11];
const LETTERS = { read: "RA", write: "WS", flush: "F", discard: "DS" };

interface Event {
  id: number;
  ns: number;
  kind: keyof typeof LETTERS;
  sector: number;
  sectors: number;
  program?: string;
  /** Other letters than those of its kind. */
  letters?: string;
}

function eventBytes({ id, kind, sector, sectors, program = "", letters }: Event): Buffer {
  const bytes = Buffer.alloc(id === DONE ? 28 : 44);
  bytes.writeUInt16LE(id, 0);
  bytes.writeBigUInt64LE(BigInt(sector), 8);
  bytes.writeUInt32LE(sectors, 16);
  bytes.write(letters ?? LETTERS[kind], 20, "latin1");
  if (id !== DONE) bytes.write(program, 28, "latin1");
  return bytes;
}

/** Pages of a processor's trace buffer as the kernel lays them out (include/linux/ring_buffer.h). */
function pagesOf(events: readonly Event[]): Buffer {
  const pages: Buffer[] = [];
  let at = 4096;
  let now = 0;
  const close = () => pages.at(-1)?.writeUInt32LE(at - 16, 8);
  for (const [i, event] of events.entries()) {
    const data = eventBytes(event);
    if (at + data.length + 32 > 4096) {
      close();
      pages.push(Buffer.alloc(4096));
      pages.at(-1)!.writeBigUInt64LE(BigInt(event.ns), 0);
      [at, now] = [16, event.ns];
    }
    const page = pages.at(-1)!;
    const word = (value: number) => (at = page.writeUInt32LE(value >>> 0, at));
    let after = event.ns - now;
    if (after >= 2 ** 27) {
      // A stretch of time without an event has an entry of its own.
      word((after % 2 ** 27) * 32 + 30);
      word(Math.floor(after / 2 ** 27));
      after = 0;
    }
    // Of what the kernel took back only the length is left.
    if (i % 5 === 3 && after > 0) {
      word(1 * 32 + 29);
      word(8);
      [at, after] = [at + 4, after - 1];
    }
    const isLong = i % 3 === 0;
    word(Math.max(0, after) * 32 + (isLong ? 0 : data.length / 4));
    if (isLong) word(data.length + 4);
    at += data.copy(page, at);
    now = event.ns;
  }
  close();
  return Buffer.concat(pages);
}

describe.skipIf(!native)("requests, put together from what the kernel tells", () => {
  let folder: string;
  beforeAll(() => {
    folder = fs.mkdtempSync(path.join(os.tmpdir(), "nerrit-requests-"));
  });
  afterAll(() => fs.rmSync(folder, { recursive: true }));

  /** What a recorder makes of the events of each processor, begun at time 0. */
  function recorded(...processors: Event[][]): { requests: RecordedRequest[]; names: string[] } {
    const pipes = processors.map((events, i) => {
      const file = path.join(folder, `pipe-${i}`);
      fs.writeFileSync(file, pagesOf(events));
      return fs.openSync(file, "r");
    });
    try {
      const trace = { start: point(START, true), done: point(DONE, false), pipes };
      const recorder = new Recorder(native!, trace, 0);
      const last = Math.max(0, ...processors.flat().map(({ ns }) => ns));
      const early = requestsOf(recorder.drain(last / 2));
      return {
        requests: [...early, ...requestsOf(recorder.end(last + 1))],
        names: recorder.newPrograms(),
      };
    } finally {
      pipes.forEach((pipe) => fs.closeSync(pipe));
    }
  }
  const start = (ns: number, sector: number, sectors = 8, more: Partial<Event> = {}): Event => ({
    id: START,
    ns,
    kind: "read",
    sector,
    sectors,
    program: "cc1",
    ...more,
  });
  const done = (ns: number, sector: number, sectors = 8, more: Partial<Event> = {}): Event => ({
    ...start(ns, sector, sectors, more),
    id: DONE,
  });

  it("have each its own answer, whichever processor tells of it, in the order in which they began", () => {
    const kind = fc.constantFrom("read" as const, "write" as const, "discard" as const);
    const request = fc.record({
      after: fc.integer({ min: 1000, max: 300_000_000 }),
      took: fc.integer({ min: 1000, max: 2_000_000_000 }),
      kind,
      sectors: fc.integer({ min: 1, max: 2048 }),
      program: fc.constantFrom("cc1", "ld", "a name of 16 ch"),
      at: fc.tuple(fc.nat(1), fc.nat(1)),
    });
    fc.assert(
      fc.property(fc.array(request, { maxLength: 60 }), (all) => {
        const processors: [Event[], Event[]] = [[], []];
        let [ns, sector] = [0, 0];
        const want = all.map(({ after, took, at, ...one }) => {
          ns += after;
          processors[at[0]]!.push(start(ns, sector, one.sectors, one));
          processors[at[1]]!.push(done(ns + took, sector, one.sectors, one));
          const made = {
            startUs: Math.round(ns / 100) / 10,
            tookUs: Math.round(took / 100) / 10,
            kind: one.kind,
            offset: sector * 512,
            bytes: one.sectors * 512,
            name: one.program,
          };
          sector += one.sectors + 8;
          return made;
        });
        for (const events of processors) events.sort((a, b) => a.ns - b.ns);
        const { requests, names } = recorded(...processors);
        const named = requests.map(({ program, ...one }) => ({ ...one, name: names[program]! }));
        expect(named).toEqual(want);
      }),
    );
  });

  it("that lie at one place are answered in the order in which they came", () => {
    const { requests } = recorded([start(100, 8), start(200, 8), done(900, 8), done(1500, 8)]);
    expect(requests.map(({ tookUs }) => tookUs)).toEqual([0.8, 1.3]);
  });

  it("have the size that they were answered with, joined in front or answered in parts", () => {
    const { requests } = recorded([
      start(100, 100),
      done(1000, 92, 16),
      start(1100, 200, 24),
      done(1300, 200, 8),
      done(1700, 208, 16),
    ]);
    expect(requests).toMatchObject([
      { offset: 92 * 512, bytes: 16 * 512, tookUs: 0.9 },
      { offset: 200 * 512, bytes: 24 * 512, tookUs: 0.6 },
    ]);
  });

  it("without an answer are kept without one, and answers to nothing are no requests", () => {
    const { requests } = recorded([
      done(50, 8),
      start(100, 16, 8, { kind: "write" }),
      start(200, 999, 0, { kind: "flush" }),
      done(300, 0, 0, { kind: "flush" }),
      start(400, 3, 8, { id: OTHER }),
    ]);
    expect(requests).toMatchObject([
      { kind: "write", tookUs: null, offset: 16 * 512 },
      { kind: "flush", tookUs: 0.1, offset: 0, bytes: 0 },
    ]);
  });

  it("are over with the flush behind them, and a flush with its own, whatever the kernel flushes besides", () => {
    // As a file system’s log is written to a drive with a cache, by what kernel 6.18 told of it.
    const none = 2 ** 53;
    const { requests } = recorded([
      start(1000, 0, 0, { kind: "flush", letters: "FWS" }),
      done(31_000, none, 0, { kind: "flush", letters: "FF" }),
      done(32_000, 0, 0, { kind: "flush", letters: "WS" }),
      start(50_000, 800, 8, { kind: "write", letters: "FWFSM" }),
      done(90_000, none, 0, { kind: "flush", letters: "FF" }),
      done(120_000, 800, 8, { kind: "write", letters: "WSM" }),
      done(160_000, none, 0, { kind: "flush", letters: "FF" }),
      done(161_000, 800, 0, { kind: "flush", letters: "WSM" }),
      start(200_000, 808, 8, { kind: "write", letters: "WFS" }),
      done(230_000, 808, 8, { kind: "write", letters: "WFS" }),
      start(300_000, 816, 8, { kind: "write", letters: "WS" }),
      done(310_000, 816, 8, { kind: "write", letters: "WS" }),
    ]);
    expect(requests).toMatchObject([
      { kind: "flush", tookUs: 30, bytes: 0 },
      { kind: "write", tookUs: 111, offset: 800 * 512, bytes: 4096, flush: "both" },
      { kind: "write", tookUs: 30, flush: "after" },
      { kind: "write", tookUs: 10 },
    ]);
    expect(requests.at(-1)).not.toHaveProperty("flush");
  });

  it("are read from whatever stands there without harm", () => {
    fc.assert(
      fc.property(fc.uint8Array({ maxLength: 9000 }), (bytes) => {
        const file = path.join(folder, "anything");
        fs.writeFileSync(file, bytes);
        const pipe = fs.openSync(file, "r");
        const trace = { start: point(START, true), done: point(DONE, false), pipes: [pipe] };
        const recorder = new Recorder(native!, trace, 0);
        expect(recorder.end().length % 6).toBe(0);
        fs.closeSync(pipe);
      }),
    );
  });
});
