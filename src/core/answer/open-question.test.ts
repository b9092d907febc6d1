import { describe, expect, it } from "vitest";
import type { Verdict } from "../judge/verdict";
import { findingOf } from "../locate/findings/finding";
import type { Standing } from "../locate/findings/standing";
import { summarise } from "../stats/repeats";
import { enclosure, statedRig } from "../testing/rigs";
import { openQuestion } from "./open-question";
import type { Entry } from "./tell-rig";

/** A rig whose link is stated as 100 MB/s, read at these rates. */
const entry = (letter: string, rates: number[], standing: Standing | null = null): Entry => {
  const rig = statedRig(100, letter);
  const observed = rates.length > 0 ? summarise(rates) : null;
  const finding = observed && findingOf(rig, "read", observed);
  return { letter, rig, observed, finding, standing, drill: "haul" };
};
const held = (settled: boolean, others: number, kind = "own-limit"): Standing => ({
  likeliest: { kind, at: { part: "x" }, name: "x", probability: 0.97, others } as never,
  settled,
  parts: {},
});
const [fine, slow] = [
  [96, 97],
  [40, 41],
];
const ask = (entries: Entry[], verdicts: Verdict[] = []) => openQuestion(entries, "read", verdicts);

describe("what an answer leaves open", () => {
  it("is rigs first, then what was not measured, or once only", () => {
    expect(ask([])!.step).toEqual({ kind: "rigs" });
    expect(ask([entry("A", fine)])!.text).toMatch(/A second rig/);
    const unmeasured = ask([entry("A", fine), entry("B", [])])!;
    expect(unmeasured.text).toBe("Rig B has not been measured reading.");
    expect(unmeasured.step).toEqual({ kind: "measure", rigId: "B", direction: "read" });
    expect(ask([entry("A", [96]), entry("B", fine)])!.text).toMatch(/^Rig A was measured once/);
  });

  it("is nothing where every rig is as designed", () => {
    expect(ask([entry("A", fine), entry("B", fine)])).toBeNull();
  });

  it("is an open claim before what holds a rig back", () => {
    const verdict = {
      part: enclosure([], "Box"),
      kind: "Can't tell yet",
      settle: [{ text: "Measure it." }],
      claim: { kind: "peak", direction: "read", mbps: 90 },
    } as unknown as Verdict;
    const open = ask([entry("A", fine), entry("B", slow, held(false, 0))], [verdict])!;
    expect(open.text).toMatch(/does Box deliver 90.0 MB\/s reading\? Measure it\.$/);
    expect(open.step).toEqual({ kind: "judge" });
  });

  it("is what holds a slow rig back, until that is settled", () => {
    const open = ask([entry("A", fine), entry("B", slow, held(false, 0))])!;
    expect(open.text).toBe("Still open: what holds rig B?");
    expect(open.step).toEqual({ kind: "locate", rigId: "B", direction: "read" });
    expect(ask([entry("A", fine), entry("B", slow)])!.text).toBe("Still open: what holds rig B?");
    expect(ask([entry("A", fine), entry("B", slow, held(true, 0))])).toBeNull();
  });

  it("is which of several it is, where this shelf cannot tell", () => {
    const open = ask([entry("A", fine), entry("B", slow, held(true, 2))])!;
    expect(open.text).toBe("Still open: which of 3 holds rig B?");
    // Of two of them it is the one that loses most.
    const slower = entry("C", [30, 31], held(true, 1));
    const both = [entry("A", fine), entry("B", slow, held(true, 2)), slower];
    for (const order of [both, both.toReversed()])
      expect(ask(order)!.text).toBe("Still open: which of 2 holds rig C?");
    // Links of one mode in a row are narrow alike: that is no question.
    expect(ask([entry("A", fine), entry("B", slow, held(true, 2, "as-designed"))])).toBeNull();
  });
});
