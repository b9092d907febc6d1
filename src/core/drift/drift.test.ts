import { describe, expect, it } from "vitest";
import { driftsOf, type Drift } from "./drift";
import { hostMember, type Series } from "./series";
import { LASTS_DAYS, madeDay, madeSeries, type MadeBench } from "./testing/made-series";

const SEEDS = Array.from({ length: 60 }, (_, i) => i + 1);
const hasChanged = ({ state }: Drift) => state === "slower" || state === "faster";

/** Benches in which one drive became slower, each with what is found. */
function slowed(shape: "step" | "slope", share: number, more: Partial<MadeBench> = {}) {
  return SEEDS.flatMap((seed) => {
    const change = { of: "drive 1", share, shape, atDay: 200 + (seed % 7) * 50 };
    const drifts = driftsOf(madeSeries({ seed, change, ...more }));
    const drift = drifts.get("drive 1");
    return drift ? [{ change, drifts, drift }] : [];
  });
}

/** A rig measured on days of a month, with these rates. */
const series = (name: string, parts: string[], days: [number, number][]): Series => ({
  key: name,
  studyId: "study",
  rigId: name,
  rigName: name,
  drill: "Haul",
  direction: "read",
  parts,
  host: "",
  simulated: false,
  days: days.map(([day, mbps]) => ({ day: madeDay(day), mbps, runs: 3, states: {} })),
});

describe("the drift of a part", () => {
  it("is none where only days scatter: at most one warning in a hundred", () => {
    const all = SEEDS.flatMap((seed) => [...driftsOf(madeSeries({ seed })).values()]);
    expect(all.filter(hasChanged).length).toBeLessThanOrEqual(all.length / 100);
    // What does not change is called steady, not open.
    expect(all.filter(({ state }) => state === "steady").length).toBeGreaterThan(all.length * 0.9);
  });

  it.each(["step", "slope"] as const)("is found where a drive becomes slower by a %s", (shape) => {
    const all = slowed(shape, -0.12);
    const found = all.filter(({ drift }) => drift.state === "slower");
    expect(found.length).toBeGreaterThan(all.length * 0.95);
    expect(found.filter(({ drift }) => drift.shape === shape).length).toBeGreaterThan(
      found.length * 0.95,
    );
    // No other part is blamed, but one that stood beside the drive in all of its rigs.
    const blamed = found.flatMap(({ drifts, drift }) =>
      [...drifts.values()].filter(
        (one) => one !== drift && hasChanged(one) && !one.together.includes("drive 1"),
      ),
    );
    expect(blamed.length).toBeLessThanOrEqual(found.length / 20);
  });

  it("lies within its 95 % interval, and so does the day on which it came", () => {
    const found = slowed("step", -0.12).filter(({ drift }) => drift.shape === "step");
    const inside = found.filter(
      ({ drift: { change } }) => change!.low <= -0.12 && change!.high >= -0.12,
    );
    expect(inside.length).toBeGreaterThan(found.length * 0.9);
    const dated = found.filter(({ drift: { step, series: own }, change }) => {
      const days = own.flatMap((one) => one.days.map(({ day }) => day)).toSorted();
      // The first measured day after the change is the one that can be named.
      const first = days.find((day) => day >= madeDay(change.atDay))!;
      return step!.earliest <= first && step!.latest >= first;
    });
    expect(dated.length).toBeGreaterThan(found.length * 0.9);
    const slopes = slowed("slope", -0.12).filter(({ drift }) => drift.shape === "slope");
    const yearly = Math.expm1((Math.log1p(-0.12) * 365.25) / LASTS_DAYS);
    const covered = slopes.filter(
      ({ drift: { perYear } }) => perYear!.low <= yearly && perYear!.high >= yearly,
    );
    expect(covered.length).toBeGreaterThan(slopes.length * 0.9);
  });

  it("is found through a host that became slower, and blamed on the host", () => {
    const host = SEEDS.slice(0, 30).map((seed) => {
      const made = madeSeries({
        seed,
        change: { of: "port 1", share: -0.2, shape: "step", atDay: 350 },
      });
      return driftsOf(made);
    });
    const found = host.filter((drifts) => drifts.get(hostMember("lab")) && drifts.get("port 1"));
    // The port and its host stand in the same rigs: nobody can tell them apart.
    for (const drifts of found)
      expect(drifts.get("port 1")!.together).toEqual(expect.arrayContaining([hostMember("lab")]));
    const drives = found.flatMap((drifts) =>
      [...drifts.values()].filter(
        (one) => one.of.startsWith("drive") && hasChanged(one) && one.together.length === 0,
      ),
    );
    expect(drives.length).toBeLessThanOrEqual(found.length / 20);
  });

  const STEADY: [number, number][] = [
    [0, 500],
    [10, 502],
    [20, 499],
    [40, 501],
    [50, 500],
    [60, 498],
  ];
  const SLOWER: [number, number][] = [
    [0, 500],
    [10, 502],
    [20, 499],
    [40, 431],
    [50, 429],
    [60, 430],
  ];

  it("names both where two parts stood in the same rigs, and the rig that tells them apart", () => {
    const both = series("Both", ["drive", "cable"], SLOWER);
    const other = series(
      "Other cable",
      ["drive", "cable 2"],
      [
        [0, 480],
        [10, 481],
      ],
    );
    const drifts = driftsOf([both, other]);
    expect(drifts.get("drive")).toMatchObject({ state: "slower", together: ["cable"] });
    expect(drifts.get("cable")).toMatchObject({ state: "slower", together: ["drive"] });
    expect(drifts.get("drive")!.next?.rigName).toBe("Other cable");
    expect(drifts.get("cable")!.next).toBeNull();
    // Measured again through the other cable, as fast as before: the cable it is.
    const again = series(
      "Other cable",
      ["drive", "cable 2"],
      [
        [0, 480],
        [10, 481],
        [50, 480],
        [60, 479],
      ],
    );
    const settled = driftsOf([both, again]);
    expect(settled.get("cable")).toMatchObject({ state: "slower", together: [] });
    expect(settled.get("drive")!.state).toBe("open");
  });

  it("is open on too few days, and where a single odd day says otherwise", () => {
    expect(
      driftsOf([
        series(
          "A",
          ["drive"],
          [
            [0, 500],
            [10, 500],
            [20, 300],
          ],
        ),
      ]).get("drive"),
    ).toMatchObject({
      state: "open",
      open: "few-days",
    });
    const odd = STEADY.map(([day, rate], i): [number, number] => [day, i === 5 ? 300 : rate]);
    expect(driftsOf([series("A", ["drive"], odd)]).get("drive")!.state).toBe("open");
    expect(driftsOf([series("A", ["drive"], STEADY)]).get("drive")!.state).toBe("steady");
  });

  it("says what changed on the same day", () => {
    const slower = series("A", ["drive"], SLOWER);
    slower.days = slower.days.map((one, i) => ({
      ...one,
      states: {
        "kernel of desk": i < 3 ? "6.1.0" : "6.8.0",
        "firmware of drive": i % 2 ? "1" : "2",
      },
    }));
    const drift = driftsOf([slower]).get("drive")!;
    expect(drift.meanwhile).toEqual([{ what: "kernel of desk", from: "6.1.0", to: "6.8.0" }]);
    expect(drift.step).toMatchObject({ dayBefore: madeDay(20), day: madeDay(40) });
  });

  it("joins what two studies measured alike, and tells nothing of rates that differ between rigs", () => {
    const first = series("same", ["drive"], SLOWER.slice(0, 3));
    const then = { ...series("same", ["drive"], SLOWER.slice(3)), studyId: "another" };
    expect(driftsOf([first, then]).get("drive")!.state).toBe("slower");
    const elsewhere = series("another rig", ["drive"], SLOWER.slice(3));
    expect(driftsOf([first, elsewhere]).get("drive")!.state).not.toBe("slower");
  });
});
