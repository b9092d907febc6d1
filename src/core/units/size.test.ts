import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { formatCapacity, formatSize, parseSize } from "./size";

describe("parseSize", () => {
  it.each([
    ["512KiB", 524288],
    ["1 MiB", 1048576],
    ["1mib", 1048576],
    ["2GB", 2e9],
    ["4096", 4096],
    ["1.5 KiB", 1536],
    ["1,5 KiB", 1536],
    ["0,25 GB", 25e7],
  ])("reads %s", (text, bytes) => expect(parseSize(text)).toBe(bytes));

  it.each(["", "fast", "-1MiB", "1 MiB/s", "0.3B", "1e9", "99999999TiB", "1 2", "1,000 GB"])(
    "refuses %j",
    (text) => expect(() => parseSize(text)).toThrow(RangeError),
  );

  it("reads back what formatSize wrote for whole units", () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 1, max: 1023 }),
        fc.constantFrom(1, 2 ** 10, 2 ** 20, 2 ** 30),
        (n, unit) => {
          expect(parseSize(formatSize(n * unit))).toBe(n * unit);
        },
      ),
    );
  });
});

describe("a capacity", () => {
  it.each([
    [1e12, "1 TB", "0.909 TiB"],
    [2 ** 42, "4.4 TB", "4 TiB"],
    [64e9, "64 GB", "59.6 GiB"],
  ])("of %d bytes is %s on the label, %s in the file manager", (bytes, label, counted) => {
    expect(formatCapacity(bytes)).toEqual({ label, counted });
  });
});
