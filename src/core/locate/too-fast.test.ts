import { describe, expect, it } from "vitest";
import { usualDrill } from "../drills/shape";
import { briefResultOf } from "../testing/measured";
import { summarise } from "../stats/repeats";
import { cable, drive, enclosure, port, rig } from "../testing/rigs";
import type { Observation } from "./observations/observation";
import { locate, placesOf } from "./locate";
import { tellNext } from "./findings/sentences";

const one = { ...rig([port(), cable(), enclosure(), drive()], "one"), fileSystem: "ext4" };
/** What is said of one run that memory may have answered. */
const buffered = (mbps: number, more: Partial<Observation> = {}) =>
  locate(
    [
      {
        ...more,
        rig: one,
        drill: usualDrill("haul", "read"),
        repeats: summarise([mbps, mbps * 1.01]),
        doubtful: true,
        measurementIds: ["m"],
      },
    ],
    one.parts,
  )[0]!;
const kinds = (mbps: number) =>
  buffered(mbps).explanations.map(({ kind, probability }) => [kind, probability]);

describe("a rate that memory may have answered", () => {
  it("is memory's most likely where no link of the rig carries it", () => {
    expect(kinds(7000)).toEqual([
      ["memory-answered", 0.85],
      ["nothing", expect.closeTo(0.15, 9)],
    ]);
  });

  it("may be the rig's own just as well where its links carry it", () => {
    expect(kinds(1000)).toEqual([
      ["memory-answered", 0.5],
      ["as-designed", 0.5],
    ]);
    expect(kinds(450)).toEqual([
      ["memory-answered", 0.5],
      ["nothing", 0.5],
    ]);
  });

  it.each([450, 1000, 7000])(
    "is memory's as a fact where the kernel counted less on the device: %d MB/s",
    (mbps) => {
      const results = [briefResultOf(mbps), briefResultOf(mbps, { deviceBytes: 5e7 })];
      const { explanations, nextSwaps } = buffered(mbps, { results });
      expect(explanations[0]).toMatchObject({ kind: "memory-answered", probability: 0.99 });
      expect(nextSwaps).toHaveLength(1);
    },
  );

  it.each([120, 450, 1000, 1300, 7000])(
    "is asked for again: %d MB/s, in ranges that rise",
    (mbps) => {
      const found = buffered(mbps);
      expect(found.settled).toBe(false);
      expect(found.nextSwaps).toHaveLength(1);
      const [{ outcomes }] = found.nextSwaps as [(typeof found.nextSwaps)[number]];
      const edges = outcomes.flatMap(({ fromMBps, toMBps }) => [fromMBps, toMBps]);
      expect(edges).toEqual(edges.toSorted((a, b) => a - b));
      expect(edges[1]).toBe(edges[2]);
      const sum = outcomes.reduce((all, { probability }) => all + probability, 0);
      expect(sum).toBeCloseTo(1, 9);
      // What each outcome would mean is what is suspected now.
      const places = placesOf(found.explanations).map(({ key }) => key);
      expect(outcomes.map(({ then: [first] }) => first!.place)).toEqual(places);
    },
  );

  it("says what less than it would mean", () => {
    const found = buffered(450);
    expect(tellNext(found.nextSwaps[0]!, found)).toMatch(/At less than 40\d.* it is memory/);
  });
});
