import { describe, expect, it } from "vitest";
import { suitesWith, type Suite } from "../study/suite";
import { cable, drive, enclosure, port, rig } from "../testing/rigs";
import { IN_MB } from "../units/number";
import type { Question } from "./question";
import { suitesShown, tellSuite } from "./suites";

const NARROW = cable(["usb-480m"], "narrow");
const wide = rig([port(), cable(), enclosure(), drive()], "wide");
const narrow = rig([port(), NARROW, enclosure(), drive()], "narrow");
const SUITE: Suite = {
  name: "Workday",
  rigIds: ["narrow", "wide"],
  tests: [
    { name: "Import", unit: "s", isLessBetter: true, values: [40, 20] },
    { name: "Save", unit: "MB/s", isLessBetter: false, values: [300, 306] },
    { name: "Search", unit: "points", isLessBetter: false, values: [1000, 900] },
    { name: "Print", unit: "s", isLessBetter: true, values: [5, null] },
  ],
};
const ALL: Pick<Question, "rigs" | "drive" | "against"> = {
  rigs: null,
  drive: null,
  against: "ceiling",
};
const shown = (question: Partial<typeof ALL> = {}) =>
  suitesShown([SUITE], [narrow, wide], { ...ALL, ...question }, 0.03);

describe("a suite over rigs", () => {
  it("holds each test against the baseline, whichever way its figures are better", () => {
    const [suite] = shown();
    expect(suite!.rigs.map(({ letter }) => letter)).toEqual(["A", "B"]);
    expect(suite!.rows.map(({ cells }) => cells[1]!.ratio)).toEqual([2, 1.02, 0.9, null]);
    // A good mean does not depend on the baseline: turned round it is the reciprocal.
    const [turned] = shown({ against: "wide" });
    expect(turned!.rigs[0]!.rigId).toBe("wide");
    expect(turned!.rigs[1]!.overall! * suite!.rigs[1]!.overall!).toBeCloseTo(1, 12);
  });

  it("says which tests gain from the wider link, which lose, and which are the same", () => {
    expect(tellSuite(shown()[0]!, IN_MB)).toMatch(
      /^1 of 3 tests gains from the wider link of B \(.*MB\/s\): Import 100.%\. Search is 10.% worse\. 1 is the same within 3.%\.$/,
    );
    expect(tellSuite(shown({ against: "wide" })[0]!, IN_MB)).toMatch(
      /^1 of 3 tests gains from A: /,
    );
  });

  it("takes only the rigs that are asked about, and says where one alone is left", () => {
    expect(shown({ drive: "nobody" })).toEqual([]);
    const [alone] = suitesShown([SUITE], [narrow], ALL, 0.03);
    expect(tellSuite(alone!, IN_MB)).toMatch(/^Only rig A/);
  });

  it("loses the figures of a rig that is left behind, and no others", () => {
    const [kept] = suitesWith([SUITE], (id) => (id === "wide" ? "other" : undefined));
    expect(kept!.rigIds).toEqual(["other"]);
    expect(kept!.tests.map(({ values }) => values)).toEqual([[20], [306], [900], [null]]);
    expect(suitesWith([SUITE], () => undefined)).toEqual([]);
  });
});
