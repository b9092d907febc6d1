import { describe, expect, it } from "vitest";
import { usualDrill } from "../drills/shape";
import type { BriefMeasurement } from "../study/measurement";
import { around, measured } from "../testing/measured";
import { drive, enclosure, port, rig } from "../testing/rigs";
import { joinSeries, membersOf, seriesOf } from "./series";

const RIG = rig([port(), enclosure(), { ...drive(), firmware: "1.2" }], "Desk rig", {
  host: "desk",
});
const STUDY = { id: "study", simulated: false };

/** A measurement of a day, at this rate. */
const on = (day: string, mbps: number, more: Partial<BriefMeasurement> = {}): BriefMeasurement => ({
  ...measured(RIG, around(mbps)),
  createdAt: `${day}T10:00:00.000Z`,
  ...more,
});

describe("the series of a study", () => {
  it("holds one day for all runs of that day, and keeps drills and directions apart", () => {
    const series = seriesOf(
      STUDY,
      [RIG],
      [
        on("2026-02-01", 500),
        on("2026-02-01", 520),
        on("2026-01-01", 400),
        on("2026-01-01", 300, { drill: usualDrill("haul", "write") }),
        on("2026-01-01", 30, { drill: usualDrill("scatter", "read") }),
      ],
    );
    expect(series).toHaveLength(3);
    const [reading] = series;
    expect(reading!.days.map(({ day, runs }) => [day, runs])).toEqual([
      ["2026-01-01", 3],
      ["2026-02-01", 6],
    ]);
    expect(reading!.days[1]!.mbps).toBeCloseTo(510, 0);
    expect(reading!.days[1]!.states["firmware of drive"]).toBe("1.2");
    expect(membersOf(reading!)).toEqual([
      ...RIG.parts.map(({ id }) => id).toReversed(),
      "host desk",
    ]);
  });

  it("leaves out what was typed, simulated, left out, to warm up, or measured with other parts", () => {
    const other = { ...RIG, parts: [RIG.parts[0]!, RIG.parts[2]!] };
    const out = on("2026-01-04", 500);
    const series = seriesOf(
      STUDY,
      [RIG],
      [
        on("2026-01-01", 500, { origin: "typed" }),
        on("2026-01-02", 500, { origin: "simulated" }),
        on("2026-01-03", 500, { warmUp: true }),
        { ...out, runs: out.runs.map((run) => ({ ...run, leftOut: "a cable was loose" })) },
        on("2026-01-05", 500, { rig: other }),
        on("2026-01-06", 500),
      ],
    );
    expect(series.flatMap(({ days }) => days.map(({ day }) => day))).toEqual(["2026-01-06"]);
  });

  it("counts the simulated runs of sample data, and those alone", () => {
    const all = [on("2026-01-01", 500, { origin: "simulated" })];
    expect(seriesOf({ ...STUDY, simulated: true }, [RIG], all)).toHaveLength(1);
    expect(seriesOf(STUDY, [RIG], all)).toEqual([]);
  });

  it("is one with that of another study only where all is alike", () => {
    const first = seriesOf(STUDY, [RIG], [on("2026-01-01", 500)]);
    const again = { ...RIG, id: "another rig", name: "The same again" };
    const alike = seriesOf({ ...STUDY, id: "b" }, [again], [on("2026-02-01", 480, { rig: again })]);
    expect(joinSeries([...first, ...alike])).toMatchObject([
      { rigName: "Desk rig", days: [{ day: "2026-01-01" }, { day: "2026-02-01" }] },
    ]);
    for (const change of [{ host: "lab" }, { fileSystem: "ntfs" }, { bay: "2" }]) {
      const moved = { ...RIG, ...change };
      const series = seriesOf(
        { ...STUDY, id: "c" },
        [moved],
        [on("2026-02-01", 480, { rig: moved })],
      );
      expect(joinSeries([...first, ...series])).toHaveLength(2);
    }
  });
});
