import { describe, expect, it } from "vitest";
import { readLog } from "./log";
import { laidOver, onRunsClock, warmthOfLog } from "./log-warmth";

const SAME = { zoneMinutes: 0, aheadSeconds: 0 };
const STARTED = "2026-11-30T10:00:00.000Z";

const read = (text: string) => {
  const log = readLog(text);
  return warmthOfLog(log, log.columns);
};
const over = (text: string, set = SAME, endMs = 60_000) =>
  laidOver(onRunsClock(read(text), STARTED, set), endMs, "fan.csv");
const points = (text: string, set = SAME) =>
  over(text, set).map(({ ms, celsius }) => [ms, ...Object.values(celsius)]);

describe("temperatures out of a log", () => {
  it("lie over the run by moments that are the same everywhere, whatever the zone here is", () => {
    const text = "time,drive temp\n2026-11-30T10:00:10Z,40\n2026-11-30T12:00:20+02:00,44\n";
    expect(points(text)).toEqual([
      [10_000, 40],
      [20_000, 44],
    ]);
    expect(points(text, { zoneMinutes: 540, aheadSeconds: 0 })).toEqual(points(text));
    const unix = Date.parse(STARTED) / 1e3;
    expect(points(`time,temp\n${unix + 5},40\n${unix + 6},41\n`)).toEqual([
      [5000, 40],
      [6000, 41],
    ]);
  });

  it("lie over it by date and time of where the log was written", () => {
    const text = "time,temp\n30.11.2026 11:00:10,40\n30.11.2026 11:00:20,44\n";
    expect(over(text)).toEqual([]);
    expect(points(text, { zoneMinutes: 60, aheadSeconds: 0 })).toEqual([
      [10_000, 40],
      [20_000, 44],
    ]);
  });

  it("lie over it by the time of day, over midnight too", () => {
    const set = { zoneMinutes: 14 * 60, aheadSeconds: 0 };
    const text = "time,temp\n23:59:50,40\n23:59:58,41\n0:00:10,44\n0:00:20,45\n";
    expect(points(text, set).map(([ms]) => ms)).toEqual([-10_000, -2000, 10_000, 20_000]);
    expect(points("time,temp\n0:00:10,44\n0:00:20,45\n", set)).toEqual([
      [10_000, 44],
      [20_000, 45],
    ]);
  });

  it("begin with the run where the log has no clock, and move with what its clock is ahead by", () => {
    const text = "s,temp\n100,40\n101,41\n";
    expect(points(text)).toEqual([
      [0, 40],
      [1000, 41],
    ]);
    expect(points(text, { zoneMinutes: 600, aheadSeconds: -7 })).toEqual([
      [7000, 40],
      [8000, 41],
    ]);
  });

  it("are those about the time of the run, and none of another day", () => {
    const line = (s: number) =>
      `2026-11-30T10:${String(Math.floor(s / 60)).padStart(2, "0")}:00Z,40`;
    const minutes = Array.from({ length: 50 }, (_, i) => line(i * 60)).join("\n");
    expect(over(`time,temp\n${minutes}\n`).map(({ ms }) => ms)).toEqual([0, 60_000]);
    expect(over("time,temp\n2026-11-29T10:00:10Z,40\n2026-11-29T10:00:20Z,44\n")).toEqual([]);
  });

  it("are called by their heads, each column by itself, whatever stands beside them", () => {
    const text = "time,load %,Bridge temp,NAND: temp\n0,3,40,50\n1,x,41,51\n2,4,42,52\n";
    const [first] = over(text);
    expect(first!.celsius).toEqual({
      "log fan.csv: Bridge temp": 40,
      "log fan.csv: NAND temp": 50,
    });
    expect(read(text).problems).toEqual([]);
  });

  it("name the line that makes no sense, and are refused where there are none", () => {
    expect(read("s,temp\n0,40\n1,hot\n2,99999\n3,41\n").problems.map(({ line }) => line)).toEqual([
      3, 4,
    ]);
    expect(() => read("s,MB/s\n0,40\n1,41\n")).toThrow(/temperature/);
    expect(read("date,temp\n01/02/2026,40\n04/05/2026,41\n").problems).toHaveLength(1);
  });

  it("of many lines a second are kept once a second", () => {
    const lines = Array.from({ length: 100 }, (_, i) => `${i / 10},${40 + i / 100}`).join("\n");
    expect(over(`s,temp\n${lines}\n`)).toHaveLength(10);
  });
});
