import { describe, expect, it } from "vitest";
import { formatNumber, formatPercent, formatRate, writtenAs, type NumberStyle } from "./number";
import { formatCapacity, formatSize } from "./size";

describe("figures in another style", () => {
  it.each<[NumberStyle, string]>([
    ["1 234.5", "1\u202f234.5"],
    ["1 234,5", "1\u202f234,5"],
    ["1,234.5", "1,234.5"],
    ["1.234,5", "1.234,5"],
  ])("%s", (style, written) => {
    expect(writtenAs(style, () => formatNumber(1234.5, 1))).toBe(written);
  });

  it("reach rates, shares and sizes alike", () => {
    expect(
      writtenAs("1.234,5", () => [
        formatRate(7.862),
        formatPercent(0.0042),
        formatSize(1536),
        formatCapacity(1e12).counted,
      ]),
    ).toEqual(["7,86", "0,4\u202f%", "1,5 KiB", "0,909 TiB"]);
  });

  it("last as long as what they are asked for, also where that fails or asks again", () => {
    const fail = () => {
      throw new Error("no");
    };
    expect(() => writtenAs("1.234,5", fail)).toThrow("no");
    expect(formatNumber(1.5, 1)).toBe("1.5");
    writtenAs("1.234,5", () => {
      expect(writtenAs("1,234.5", () => formatNumber(1.5, 1))).toBe("1.5");
      expect(formatNumber(1.5, 1)).toBe("1,5");
    });
  });
});
