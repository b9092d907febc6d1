import { deflateRawSync } from "node:zlib";
import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { checkPage, fillIncompressible, generateBlock, isStamped, PAGE, stampBlock } from "./stamp";

const PAGES = 16;
const mark = { run: 42, generation: 3 };

/** A block as Proof writes it. */
function written(offset: number, as = mark): DataView {
  const view = new DataView(new ArrayBuffer(PAGES * PAGE));
  stampBlock(view, offset, as);
  generateBlock(view);
  return view;
}
const pageOf = (view: DataView, i: number) => new DataView(view.buffer, i * PAGE, PAGE);
const compressed = (data: Uint8Array) => deflateRawSync(data).byteLength / data.byteLength;

describe("what is written", () => {
  it("cannot be compressed, filled or generated", () => {
    const data = new Uint8Array(PAGES * PAGE);
    fillIncompressible(data, 7);
    stampBlock(new DataView(data.buffer), 0, mark);
    expect(compressed(data)).toBeGreaterThan(0.99);
    expect(compressed(new Uint8Array(written(0).buffer))).toBeGreaterThan(0.99);
  });

  it.each([0, 0.5, 1])("can be compressed by a share of %f where that is asked for", (share) => {
    const data = new Uint8Array(PAGES * PAGE);
    fillIncompressible(data, 7, share);
    const kept = compressed(data);
    expect(kept).toBeGreaterThan(1 - share - 0.02);
    expect(kept).toBeLessThan(1 - share + 0.03);
  });

  it("makes no two pages alike", () => {
    const view = written(0);
    const pages = new Set(
      Array.from({ length: PAGES }, (_, i) => new Uint8Array(view.buffer, i * PAGE, PAGE).join()),
    );
    expect(pages.size).toBe(PAGES);
  });
});

describe("what is read back", () => {
  const place = fc.integer({ min: 0, max: 2 ** 40 }).map((page) => page * PAGE);

  it("is intact where it is what was written, at any place of any medium", () => {
    fc.assert(
      fc.property(
        place,
        fc.nat(2 ** 32 - 1),
        fc.integer({ min: 1, max: 0xffff }),
        (at, run, generation) => {
          const own = { run, generation };
          const view = written(at, own);
          expect(checkPage(pageOf(view, 5), at + 5 * PAGE, own)).toBe("intact");
          expect(isStamped(pageOf(view, 5))).toBe(true);
        },
      ),
      { numRuns: 30 },
    );
  });

  it("is damaged by one flipped bit anywhere, the stamp included", () => {
    fc.assert(
      fc.property(fc.nat(PAGE - 1), fc.nat(7), (byte, bit) => {
        const page = pageOf(written(0), 2);
        page.setUint8(byte, page.getUint8(byte) ^ (1 << bit));
        expect(checkPage(page, 2 * PAGE, mark)).toBe("damaged");
      }),
      { numRuns: 60 },
    );
  });

  it("is misdirected, stale or lost by whose it is", () => {
    const view = written(0);
    expect(checkPage(pageOf(view, 2), 3 * PAGE, mark)).toBe("misdirected");
    expect(checkPage(pageOf(view, 2), 2 * PAGE, { ...mark, generation: 4 })).toBe("stale");
    expect(checkPage(pageOf(view, 2), 2 * PAGE, { ...mark, run: 43 })).toBe("stale");
    expect(checkPage(new DataView(new ArrayBuffer(PAGE)), 0, mark)).toBe("lost");
    const other = new Uint8Array(PAGE);
    fillIncompressible(other, 9);
    expect(checkPage(new DataView(other.buffer), 0, mark)).toBe("lost");
    expect(isStamped(new DataView(other.buffer))).toBe(false);
  });
});
