import { deflateRawSync } from "node:zlib";
import { describe, expect, it } from "vitest";
import { PAGE, checkStamp, fillIncompressible, stampBlock } from "./stamp";

describe("stamped blocks", () => {
  const block = () => {
    const data = new Uint8Array(16 * PAGE);
    fillIncompressible(data, 7);
    return { data, view: new DataView(data.buffer) };
  };

  it("cannot be compressed", () => {
    const { data, view } = block();
    stampBlock(view, 0, 1);
    expect(deflateRawSync(data).byteLength).toBeGreaterThan(0.99 * data.byteLength);
  });

  it("tells intact, stale, misdirected and unwritten pages apart", () => {
    const { view } = block();
    stampBlock(view, 8 * PAGE, 42);
    expect(checkStamp(view, 3 * PAGE, 11 * PAGE, 42)).toBe("intact");
    expect(checkStamp(view, 3 * PAGE, 11 * PAGE, 43)).toBe("stale");
    expect(checkStamp(view, 3 * PAGE, 12 * PAGE, 42)).toBe("misdirected");
    expect(checkStamp(block().view, 0, 0, 42)).toBe("never written");
  });

  it("makes no two pages alike", () => {
    const { data, view } = block();
    data.fill(0);
    stampBlock(view, 0, 1);
    const pages = new Set(
      Array.from({ length: 16 }, (_, i) => data.slice(i * PAGE, i * PAGE + 16).join()),
    );
    expect(pages.size).toBe(16);
  });
});
