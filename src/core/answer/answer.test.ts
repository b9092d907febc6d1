import { describe, expect, it } from "vitest";
import type { Rig } from "../chain/rig";
import { judgeClaim } from "../judge/verdict";
import { summarise, type Repeats } from "../stats/repeats";
import {
  cable,
  drive,
  enclosure,
  hub,
  port,
  rig,
  statedRig,
  USB_10G,
  USB_5G,
} from "../testing/rigs";
import { answerStudy } from "./answer";
import { letterOf } from "./study";

const around = (mbps: number) => summarise([mbps * 0.998, mbps, mbps * 1.002]);
const claim = { direction: "read", kind: "peak", mbps: 1000 } as const;
const box = enclosure([claim], "Serac");
const a = rig([port(), cable(undefined, "K5"), box, drive()], "a");
const b = rig([port(), cable(USB_5G, "K2"), box, drive()], "b");

const entry = (letter: string, r: Rig, observed: Repeats | null, drill = "same") => ({
  letter,
  rig: r,
  observed,
  drill,
});
const textOf = (answer: ReturnType<typeof answerStudy>) =>
  answer.sentences
    .map((sentence) => sentence.map(({ text }) => text).join(""))
    .join(" ")
    .replaceAll("\u202f", " ");
const marked = (answer: ReturnType<typeof answerStudy>) =>
  answer.sentences.flat().flatMap(({ text, narrows }) => (narrows ? [text] : []));

describe("the answer", () => {
  it("says which part costs what, how near each rig is to its ceiling, and what delivers", () => {
    const [fast, slow] = [around(1043), around(447)];
    const verdict = judgeClaim(box, claim, [
      { rig: a, observed: fast },
      { rig: b, observed: slow },
    ]);
    const answer = answerStudy([entry("A", a, fast), entry("B", b, slow)], "read", [verdict]);
    expect(marked(answer)).toEqual(["Cable K2", "the Serac enclosure"]);
    const text = textOf(answer);
    for (const figure of ["447", "1 043", "5 Gb/s", "10 Gb/s", "93 %", "91 %", "delivers"]) {
      expect(text).toContain(figure);
    }
    expect(answer.open).toBeNull();
  });

  it("names a throttled link as the narrows", () => {
    const [slow, fast] = [statedRig(40, "s"), statedRig(120, "f")];
    const answer = answerStudy(
      [entry("A", slow, around(40)), entry("B", fast, around(119.8))],
      "read",
      [],
    );
    expect(answer.findings["s"]?.kind).toBe("at narrows");
    expect(answer.findings["f"]?.kind).toBe("at narrows");
  });

  it("convicts nobody where two things differ", () => {
    const c = rig([port(), cable(USB_5G, "K2"), enclosure([], "Cirque"), drive()], "c");
    const text = textOf(
      answerStudy([entry("A", a, around(1043)), entry("C", c, around(447))], "read", []),
    );
    expect(text).toMatch(/2 ways/);
    expect(text).not.toMatch(/costs/);
  });

  it("counts a different drill as a difference", () => {
    const text = textOf(
      answerStudy(
        [entry("A", a, around(1043), "one"), entry("B", b, around(447), "other")],
        "read",
        [],
      ),
    );
    expect(text).toMatch(/2 ways/);
  });

  it("calls noise noise", () => {
    const twin = rig([port(), cable(undefined, "K6"), box, drive()], "twin");
    const answer = answerStudy(
      [entry("A", a, around(1043)), entry("B", twin, around(1040))],
      "read",
      [],
    );
    expect(textOf(answer)).toMatch(/the same within the noise/);
  });

  it("draws nothing from single runs, and asks for repeats", () => {
    const answer = answerStudy(
      [entry("A", a, summarise([1043])), entry("B", b, summarise([447]))],
      "read",
      [],
    );
    expect(textOf(answer)).not.toMatch(/costs/);
    expect(answer.open?.step).toMatchObject({ kind: "measure", rigId: "a" });
  });

  it("flags a rate above the ceiling", () => {
    const text = textOf(answerStudy([entry("A", b, around(900)), entry("B", a, null)], "read", []));
    expect(text).toMatch(/memory answered/);
  });

  it("asks for what is missing, in the order of the work", () => {
    expect(answerStudy([], "read", []).open?.step.kind).toBe("rigs");
    expect(answerStudy([entry("A", a, null)], "read", []).open?.step.kind).toBe("rigs");
    expect(
      answerStudy([entry("A", a, around(1043)), entry("B", b, null)], "read", []).open?.step,
    ).toMatchObject({ kind: "measure", rigId: "b", direction: "read" });
  });

  it("does not explain what the ledger does not", () => {
    const hubbed = rig([port(), cable(undefined, "K5"), hub(USB_10G), box, drive()], "hubbed");
    const answer = answerStudy(
      [entry("A", a, around(1043)), entry("B", hubbed, around(700))],
      "read",
      [],
    );
    expect(textOf(answer)).toMatch(/does not explain/);
    expect(answer.open).not.toBeNull();
  });

  it("says what else is nearly as narrow", () => {
    const close = rig([port(), cable(), enclosure(), drive({ read: 1150 })], "close");
    const text = textOf(answerStudy([entry("A", close, around(1050))], "read", []));
    expect(text).toMatch(/with drive nearly as narrow/);
  });

  it("letters rigs beyond Z", () => {
    expect([0, 25, 26, 27, 701, 702].map(letterOf)).toEqual(["A", "Z", "AA", "AB", "ZZ", "AAA"]);
  });
});
