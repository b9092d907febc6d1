import { describe, expect, it } from "vitest";
import { formatDay, formatDayHere, formatMoment } from "./day";
import { formatNumber, formatPercent, formatRate } from "./number";
import { formatCapacity, formatSize } from "./size";
import { USUAL_WRITING, writtenAs, type NumberStyle } from "./writing";

const inStyle = <T>(numbers: NumberStyle, say: () => T) =>
  writtenAs({ ...USUAL_WRITING, numbers }, say);

describe("figures in another style", () => {
  it.each<[NumberStyle, string]>([
    ["1 234.5", "1\u202f234.5"],
    ["1 234,5", "1\u202f234,5"],
    ["1,234.5", "1,234.5"],
    ["1.234,5", "1.234,5"],
  ])("%s", (style, written) => {
    expect(inStyle(style, () => formatNumber(1234.5, 1))).toBe(written);
  });

  it("reach rates, shares and sizes alike", () => {
    expect(
      inStyle("1.234,5", () => [
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
    expect(() => inStyle("1.234,5", fail)).toThrow("no");
    expect(formatNumber(1.5, 1)).toBe("1.5");
    inStyle("1.234,5", () => {
      expect(inStyle("1,234.5", () => formatNumber(1.5, 1))).toBe("1.5");
      expect(formatNumber(1.5, 1)).toBe("1,5");
    });
  });
});

describe("days in another style", () => {
  it.each([
    ["2026-11-26", "2026-11-26", "2026-11-26 14:05"],
    ["26 November 2026", "26 November 2026", "26 November 2026 14:05"],
    ["November 26, 2026", "November 26, 2026", "November 26, 2026 14:05"],
  ] as const)("%s", (dates, day, moment) => {
    writtenAs({ ...USUAL_WRITING, dates }, () => {
      // By the clocks of wherever this runs.
      const at = new Date(2026, 10, 26, 14, 5, 9).toISOString();
      expect(formatDayHere(at)).toBe(day);
      expect(formatMoment(at)).toBe(moment);
    });
  });

  it("say no month that there is not", () => {
    expect(formatDay("2026-13-01", "26 November 2026")).toBe("2026-13-01");
  });
});
