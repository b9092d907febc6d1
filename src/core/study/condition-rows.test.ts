import { describe, expect, it } from "vitest";
import type { Conditions } from "../run/result";
import { conditionRows, conditionsDiffer } from "./condition-rows";
import { Stated, UNSAID } from "../run/stated";

const conditions = (more: Partial<Conditions> = {}): Conditions => ({
  startedAt: "",
  nerrit: "",
  host: "bench",
  kernel: "6.1",
  processor: "Quick",
  cores: 8,
  loadAtStart: 0.2,
  target: "/x",
  targetKind: "directory",
  fileSystem: "ext4",
  mountOptions: "rw",
  device: "sdb",
  deviceBytes: 1e12,
  freeBytes: 9e11,
  scheduler: "none",
  rotational: false,
  writeCache: "write back",
  requestLimitBytes: 524288,
  io: "direct",
  lane: "native",
  notes: [],
  quiet: [],
  ...more,
});
const told = (more: Partial<Conditions> = {}, stated: Partial<Stated> = {}) => ({
  conditions: conditions(more),
  stated: { ...UNSAID, ...stated },
});
const quiet = (what: string, value: string) => ({ what, value, from: `/sys/${what}` });

describe("the circumstances of a run", () => {
  it("hold what the tester said beside what the system told, and nothing that is not known", () => {
    const rows = conditionRows(told({ writeCache: null }, { ambientCelsius: 23, fan: "on" }));
    const names = rows.map(({ what }) => what);
    expect(names.slice(0, 2)).toEqual(["room temperature", "fan"]);
    expect(names).not.toContain("write cache");
    expect(names).not.toContain("heatsink");
    expect(conditionRows({ conditions: null, stated: UNSAID })).toEqual([]);
  });

  it("do not differ by what only passes: load, time, a little room", () => {
    expect(
      conditionsDiffer(told(), told({ loadAtStart: 3, startedAt: "x", freeBytes: 8.7e11 })),
    ).toEqual([]);
  });

  it.each([
    [{ kernel: "6.12" }, "kernel"],
    [{ fileSystem: "exfat" }, "file system"],
    [{ mountOptions: "rw,sync" }, "mounted with"],
    [{ io: "buffered" as const }, "requests"],
    [{ freeBytes: 2e11 }, "filled"],
    [{ host: "laptop" }, "machine"],
  ])("differ where the system told otherwise: %j", (more, what) => {
    expect(conditionsDiffer(told(), told(more)).map((one) => one.what)).toEqual([what]);
  });

  it("differ in what was said and in power policies, where both are known", () => {
    const a = told({ quiet: [quiet("USB power", "on")] }, { fan: "off", drive: "fresh" });
    const b = told({ quiet: [quiet("USB power", "auto")] }, { fan: "on" });
    expect(conditionsDiffer(a, b).map(({ what }) => what)).toEqual(["fan", "USB power"]);
    expect(conditionsDiffer(told(), b)).toEqual([]);
  });

  it("differ where one drive began clearly warmer, as far as both are known", () => {
    const began = (startCelsius: number) => ({ ...told(), startCelsius });
    expect(conditionsDiffer(began(52), began(31))).toEqual([
      { what: "drive as it began", a: "52 °C", b: "31 °C" },
    ]);
    expect(conditionsDiffer(began(36), began(31))).toEqual([]);
    expect(conditionsDiffer(began(52), told())).toEqual([]);
  });

  it("refuses a room that nobody could stand in", () => {
    expect(Stated.safeParse({ ambientCelsius: 200 }).success).toBe(false);
    expect(Stated.parse({})).toEqual(UNSAID);
  });
});
