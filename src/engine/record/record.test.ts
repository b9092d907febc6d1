import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { fieldOf, parseEventFormat } from "./event-format";
import { eachEvent } from "./ring-pages";

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

/** Entries of a page: events with their payload in words, and stretches of time. */
type Entry =
  { event: number[]; after: number } | { extend: number } | { padding: number; after: number };

/** A page as the kernel lays one out (include/linux/ring_buffer.h). */
function pageOf(ns: number, entries: readonly Entry[], missed = false): DataView {
  const bytes = Buffer.alloc(4096);
  bytes.writeBigUInt64LE(BigInt(ns), 0);
  let at = 16;
  const put = (word: number) => (at = bytes.writeUInt32LE(word >>> 0, at));
  for (const entry of entries) {
    if ("extend" in entry) {
      put(((entry.extend % 2 ** 27) * 32 + 30) >>> 0);
      put(Math.floor(entry.extend / 2 ** 27));
    } else if ("padding" in entry) {
      put((entry.after * 32 + 29) >>> 0);
      put(entry.padding * 4);
      at += entry.padding * 4 - 4;
    } else {
      const { event, after } = entry;
      put((after * 32 + (event.length > 28 ? 0 : event.length)) >>> 0);
      if (event.length > 28) put((event.length + 1) * 4);
      for (const word of event) put(word);
    }
  }
  bytes.writeUInt32LE(((at - 16) | (missed ? 1 << 31 : 0)) >>> 0, 8);
  return new DataView(bytes.buffer, bytes.byteOffset, 4096);
}

describe("a page of the kernel's trace buffer", () => {
  it("gives back its events, each at its time, whatever stands between them", () => {
    const word = fc.nat(2 ** 31);
    const entry = fc.oneof(
      fc.record({
        event: fc.array(word, { minLength: 1, maxLength: 40 }),
        after: fc.nat(2 ** 27 - 1),
      }),
      fc.record({ extend: fc.integer({ min: 0, max: 2 ** 40 }) }),
      fc.record({
        padding: fc.integer({ min: 1, max: 9 }),
        after: fc.integer({ min: 1, max: 99 }),
      }),
    );
    fc.assert(
      fc.property(
        fc.nat(2 ** 31),
        fc.array(entry, { maxLength: 20 }),
        fc.boolean(),
        (ns, all, missed) => {
          const view = pageOf(ns, all, missed);
          const found: [number, number][] = [];
          expect(eachEvent(view, (at, from) => found.push([at, view.getUint32(from, true)]))).toBe(
            missed,
          );
          let now = ns;
          const want: [number, number][] = [];
          for (const one of all) {
            now += "extend" in one ? one.extend : one.after;
            if ("event" in one) want.push([now, one.event[0]!]);
          }
          expect(found).toEqual(want);
        },
      ),
    );
  });

  it("ends where the rest is empty, and where its length says so", () => {
    const view = pageOf(5, [{ event: [1], after: 1 }]);
    view.setUint32(8, 4000, true);
    let count = 0;
    eachEvent(view, () => (count += 1));
    // Zeros behind the last event are events of type 0 without a length: none may be read past the page.
    expect(count).toBeGreaterThanOrEqual(1);
  });
});
