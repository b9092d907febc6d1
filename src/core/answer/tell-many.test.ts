import { describe, expect, it } from "vitest";
import { findingOf, type Finding } from "../locate/findings/finding";
import type { Standing } from "../locate/findings/standing";
import { summarise } from "../stats/repeats";
import { statedRig } from "../testing/rigs";
import { letterOf } from "./study";
import { tellMany } from "./tell-many";
import type { Measured } from "./tell-rig";

/** A rig whose link is stated as 1 000 MB/s, read at some rate. */
const seen = (i: number, mbps: number, kind?: Finding["kind"], standing?: Standing): Measured => {
  const rig = statedRig(1000, `r${i}`);
  const observed = summarise([mbps, mbps]);
  const finding = findingOf(rig, "read", observed)!;
  return {
    letter: letterOf(i),
    rig,
    observed,
    drill: "haul",
    standing: standing ?? null,
    finding: kind ? { ...finding, kind } : finding,
  };
};
const said = (measured: Measured[]) =>
  tellMany(measured, "read").map((sentence) =>
    sentence
      .map(({ text }) => text)
      .join("")
      .replaceAll("\u202f", " "),
  );
const held = (name: string, probability: number, settled: boolean): Standing => ({
  likeliest: { kind: "own-limit", at: { part: name }, name, probability, others: 0 },
  settled,
  parts: {},
});

describe("very many rigs", () => {
  const designed = Array.from({ length: 20 }, (_, i) => seen(i, 960 + i));

  it("are one sentence where all run as they should", () => {
    expect(said(designed)).toEqual([
      "20 of 20 rigs run as their ledgers foresee: 960 to 979 MB/s reading, 96 to 98 % of the ceiling.",
    ]);
  });

  it("are told with what loses most first, by name", () => {
    const [first, ...rest] = said([...designed, seen(20, 300)]);
    expect(first).toBe(
      "1 of 21 rigs loses more than its ledger explains: 300 MB/s reading, 30 % of what the narrows could carry (rig U).",
    );
    expect(rest).toHaveLength(1);
    const many = said([
      ...designed,
      ...[700, 300, 500, 200, 600, 400, 650].map((mbps, i) => seen(20 + i, mbps)),
    ]);
    expect(many[0]).toMatch(
      /^7 of 27 rigs lose more .*: 200 to 700 MB\/s .*\(most of all rigs X, V, Z, W, Y and AA\)/,
    );
  });

  it("say what holds back those that were looked at, alike ones together", () => {
    const slow = [
      seen(20, 300, "below", held("K7", 0.97, true)),
      seen(21, 301, "below", held("K7", 0.98, true)),
      seen(22, 400, "below", held("Box", 0.6, false)),
      seen(23, 410, "below"),
    ];
    expect(said([...designed, ...slow]).slice(1, 3)).toEqual([
      "What holds rigs U and V back is K7 (97 to 98 %).",
      "Most likely Box holds rig W back (60 %); it is not settled.",
    ]);
  });

  it("keep apart what is too fast to be true, and what small requests decide", () => {
    const all = said([
      ...designed,
      seen(20, 4000),
      seen(21, 40, "by requests"),
      seen(22, 50, "by requests"),
    ]);
    expect(all).toHaveLength(3);
    expect(all[0]).toMatch(
      /^1 of 23 rigs gave more than its narrows can carry \(rig U\): memory answered/,
    );
    expect(all[2]).toMatch(/^2 of 23 rigs gave 40.0 to 50.0 MB\/s reading in small requests/);
  });

  it("count as designed what lies a little below, where all runs say so", () => {
    const near: Standing = {
      ...held("the link", 0.9, true),
      likeliest: { ...held("the link", 0.9, true).likeliest!, kind: "as-designed" },
    };
    expect(said([...designed, seen(20, 800, "below", near)])).toHaveLength(1);
  });
});
