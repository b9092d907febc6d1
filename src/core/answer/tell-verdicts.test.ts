import { describe, expect, it } from "vitest";
import type { Verdict, VerdictKind } from "../judge/verdict";
import { summarise } from "../stats/repeats";
import { enclosure } from "../testing/rigs";
import { ratesIn } from "../units/number";
import { tellVerdicts } from "./tell-verdicts";

const NONE = { reasons: [], settle: [], rig: null, seen: null, challenge: [] };
const verdict = (name: string, kind: VerdictKind, mbps = 1000, more: Partial<Verdict> = {}) =>
  ({
    part: enclosure([], name),
    kind,
    ...NONE,
    claim: { kind: "peak", direction: "read", mbps },
    shortBy: kind === "Falls short" ? 0.2 : null,
    observed: summarise([900, 902]),
    ...more,
  }) as Verdict;
const said = (verdicts: Verdict[], rates = ratesIn("MB/s")) =>
  tellVerdicts(verdicts, rates).map((sentence) =>
    sentence
      .map(({ text }) => text)
      .join("")
      .replaceAll("\u202f", " "),
  );
const many = (count: number, kind: VerdictKind, mbps?: number) =>
  Array.from({ length: count }, (_, i) => verdict(`Box ${i}`, kind, mbps));

describe("verdicts in sentences", () => {
  it("are told one by one where they are few, as they come", () => {
    expect(said([verdict("a", "Delivers"), verdict("b", "Falls short")])).toEqual([
      "A delivers the 1 000 MB/s it claims for reading.",
      "B falls 20 % short of the 1 000 MB/s it claims for reading.",
    ]);
    expect(said([verdict("a", "Delivers in bursts only")])[0]).toMatch(/in bursts only\.$/);
    expect(said([])).toEqual([]);
  });

  it("are written in the reader’s unit", () => {
    expect(said([verdict("a", "Delivers")], ratesIn("Gb/s"))[0]).toMatch(
      /the 8.00 Gb\/s it claims/,
    );
  });

  it("are one sentence for three and more that keep the same claim in the same way", () => {
    expect(said(many(3, "Delivers"))).toEqual([
      "Box 0, Box 1 and Box 2 deliver the 1 000 MB/s they claim for reading.",
    ]);
    expect(said(many(2, "Delivers"))).toHaveLength(2);
    // Another claim, or another verdict, is another sentence.
    expect(said([...many(3, "Delivers"), ...many(3, "Delivers", 2000)])).toHaveLength(2);
    expect(said([...many(3, "Delivers"), ...many(3, "Delivers in bursts only")])).toHaveLength(2);
  });

  it("name some of many, and say how many more", () => {
    expect(said(many(20, "Can't tell yet"))).toEqual([
      "Whether Box 0, Box 1, Box 2, Box 3, Box 4, Box 5 and 14 others deliver the 1 000 MB/s they claim for reading can't be told yet.",
    ]);
    // One more than are named is named too.
    expect(said(many(7, "Delivers"))[0]).not.toMatch(/others/);
  });

  it("say of each part by how much it falls short, the faults first where there are many", () => {
    const all = said([
      ...many(13, "Delivers"),
      verdict("x", "Falls short", 1000, { shortBy: 0.4 }),
    ]);
    expect(all).toHaveLength(2);
    expect(all[0]).toBe("X falls 40 % short of the 1 000 MB/s it claims for reading.");
  });

  it("end somewhere, and lead on to Judge", () => {
    const all = said(many(30, "Falls short"));
    expect(all).toHaveLength(13);
    expect(all.at(-1)).toBe("Judge has 18 verdicts more.");
  });

  it("are silent on claims of which nothing was seen", () => {
    expect(said([verdict("a", "Can't tell yet", 1000, { observed: null })])).toEqual([]);
  });
});
