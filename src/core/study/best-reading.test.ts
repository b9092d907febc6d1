import { describe, expect, it } from "vitest";
import { usualDrill } from "../drills/shape";
import type { Conditions } from "../run/result";
import { measured } from "../testing/measured";
import { drive, enclosure, port, rig } from "../testing/rigs";
import { bestReadings } from "./best-reading";
import type { BriefMeasurement } from "./measurement";

const RIG = rig([port(), enclosure(), drive()]);
const IDS = RIG.parts.map(({ id }) => id);

const read = (mbps: number, more: Partial<BriefMeasurement> = {}): BriefMeasurement => ({
  ...measured(RIG, [mbps]),
  conditions: { io: "direct" } as Conditions,
  ...more,
});

describe("the best that was read through a part", () => {
  it("is the fastest run past the page cache, of whichever rig it stands in", () => {
    const other = rig([RIG.parts[0]!, drive({ read: 1, write: 1 }, "other")], "other");
    const out = read(940);
    const best = bestReadings([
      read(410),
      read(433),
      read(500, { rig: other }),
      read(9000, { conditions: { io: "buffered" } as Conditions }),
      read(900, { drill: usualDrill("haul", "write") }),
      read(950, { warmUp: true }),
      { ...out, runs: out.runs.map((run) => ({ ...run, leftOut: "a loose cable" })) },
    ]);
    expect(IDS.map((id) => best[id]?.mbps)).toEqual([500, 433, 433]);
    expect(best["nobody"]).toBeUndefined();
  });

  it("is a simulated one only where nothing real was measured", () => {
    const simulated = read(2000, { origin: "simulated" });
    for (const all of [
      [simulated, read(400)],
      [read(400), simulated],
    ])
      expect(bestReadings(all)[IDS[0]!]).toEqual({ mbps: 400, simulated: false });
    expect(bestReadings([simulated])[IDS[0]!]).toEqual({ mbps: 2000, simulated: true });
  });
});
