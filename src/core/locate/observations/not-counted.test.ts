import { describe, expect, it } from "vitest";
import type { Conditions } from "../../run/result";
import { observationsOf, type BriefMeasurement } from "../../study/measurement";
import { around, measured } from "../../testing/measured";
import { cable, drive, enclosure, port, rig, USB_10G } from "../../testing/rigs";
import { notCounted } from "./not-counted";

const [P, K1, K2, B, D] = [
  port(USB_10G),
  cable(USB_10G, "K1"),
  cable(USB_10G, "K2"),
  enclosure(),
  drive(),
];
const slow = rig([P, K1, B, D], "slow");
const own = measured(slow, around(420));

/** What does not count beside the slow rig, by its reason. */
function reasons(more: BriefMeasurement[], rigs = [slow], first = own) {
  const used = observationsOf([first]);
  return Object.fromEntries(
    notCounted(used[0]!, [...more, first], rigs, used).map(({ why, text }) => [why, text]),
  );
}

describe("what does not count", () => {
  it("is nothing where all was done alike on one rig", () => {
    expect(reasons([])).toEqual({});
  });

  it.each<[RegExp, Parameters<typeof measured>[2]]>([
    [/warm up/, { warmUp: true }],
    [/page cache/, { conditions: { io: "buffered" } as Conditions }],
    [/simulated: it shows nothing/, { origin: "simulated" }],
    [/no drill says what was asked/, { origin: "watched" }],
    [/another drill: Scatter/, { drill: { name: "scatter" } }],
    [/the other direction: writing/, { direction: "write" }],
    [/with other requests: .* 1 in flight/, { drill: { name: "haul", depth: 1 } }],
  ])("is what was done otherwise: %s", (why, more) => {
    const found = Object.entries(reasons([measured(slow, around(900), more)]));
    expect(found).toHaveLength(1);
    expect(found[0]![0]).toMatch(why);
    expect(found[0]![1]).toBe("slow");
  });

  it("is what was cut short, or left out by the tester", () => {
    expect(Object.keys(reasons([measured(slow, [null, null])]))).toEqual(["never finished"]);
    const some = measured(slow, around(900));
    const without = { ...some, runs: some.runs.map((run) => ({ ...run, leftOut: "a fan fell" })) };
    expect(reasons([without])).toMatchObject({ "left out by the tester": "slow (3 runs)" });
    // Three measurements of one run each are three runs, too.
    const singles = [1, 2, 3].map(() => measured(slow, [900]));
    const none = singles.map((one) => ({
      ...one,
      runs: one.runs.map((run) => ({ ...run, leftOut: "a fan fell" })),
    }));
    expect(reasons(none)).toMatchObject({ "left out by the tester": "slow (3 runs)" });
  });

  it("is what was done on a rig that stands otherwise now", () => {
    const then = rig([P, K2, B, D], "slow");
    const [why] = Object.keys(reasons([measured(then, around(900))]));
    expect(why).toMatch(/changed since, or taken out/);
  });

  it("is simulated runs only where real ones stand beside them", () => {
    const played = measured(slow, around(420), { origin: "simulated" });
    expect(reasons([measured(slow, around(430), { origin: "simulated" })], [slow], played)).toEqual(
      {},
    );
  });

  it("counts for little where one repeat was made, or several things were changed at once", () => {
    const once = measured(slow, [420]);
    const other = rig([P, K2, enclosure([], "other box"), D], "other");
    const used = observationsOf([once, measured(other, around(900))]);
    const found = notCounted(used[0]!, [], [slow, other], used);
    expect(found.map(({ why, text }) => `${text}: ${why}`)).toEqual([
      expect.stringMatching(/^slow: one repeat only/),
      expect.stringMatching(/^other \(2\): differs in several things at once/),
    ]);
    expect(found[0]!.measurementIds).toEqual([once.id]);
  });

  it("names a few of many alike and counts the others", () => {
    const many = Array.from({ length: 7 }, (_, i) => {
      const one = rig([P, K1, B, D], `r${i}`);
      return { rig: one, run: measured(one, around(900), { warmUp: true }) };
    });
    const all = many.map(({ run }) => run);
    expect(reasons(all, [slow, ...many.map((one) => one.rig)])).toEqual({
      "made to warm up": "r0, r1, r2, r3 and 3 others",
    });
  });
});
