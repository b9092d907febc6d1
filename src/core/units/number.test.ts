import { describe, expect, it } from "vitest";
import {
  formatAbout,
  formatMicroseconds,
  formatNumber,
  formatPercent,
  formatRate,
  formatSeconds,
} from "./number";
import { inUnit } from "./rate";

const plain = (text: string) => text.replaceAll("\u202f", " ");

describe("figures", () => {
  it("keeps about three digits of a rate", () => {
    expect([1043.2, 446.8, 99.96, 41.23, 7.857, 0].map((r) => plain(formatRate(r)))).toEqual([
      "1 043",
      "447",
      "100",
      "41.2",
      "7.86",
      "0",
    ]);
  });
  it("groups thousands so that they cannot be taken for decimals", () => {
    expect(plain(formatNumber(1234567))).toBe("1 234 567");
  });
  it("gives small percentages a decimal", () => {
    expect(plain(formatPercent(0.934))).toBe("93 %");
    expect(plain(formatPercent(0.0042))).toBe("0.4 %");
    expect(plain(formatPercent(-0.57))).toBe("-57 %");
  });
  it("picks the unit of a time", () => {
    expect(formatMicroseconds(85)).toBe("85.0 µs");
    expect(formatMicroseconds(1240)).toBe("1.24 ms");
    expect(formatMicroseconds(2.1e6)).toBe("2.10 s");
    expect(formatSeconds(125)).toBe("2 min 05 s");
  });
  it("tells MB from MiB", () => {
    expect(inUnit(1048.576, "MiB/s")).toBeCloseTo(1000, 9);
    expect(inUnit(1048.576, "MB/s")).toBe(1048.576);
  });
});

it.each([
  [0, "5 s"],
  [34.3, "35 s"],
  [89, "90 s"],
  [153, "3 min"],
  [3570, "1 h"],
  [3600, "1 h"],
  [7750, "2 h 10 min"],
  [7199, "2 h"],
])("an estimate of %f s is about %s", (seconds, words) => {
  expect(formatAbout(seconds)).toBe(words);
});
