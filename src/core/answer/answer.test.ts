import { describe, expect, it } from "vitest";
import type { Rig } from "../chain/rig";
import type { BriefMeasurement } from "../study/measurement";
import type { Study } from "../study/study";
import { around, measured } from "../testing/measured";
import {
  cable,
  drive,
  enclosure,
  hub,
  part,
  port,
  rig,
  statedRig,
  USB_10G,
  USB_20G,
  USB_5G,
} from "../testing/rigs";
import { answered as studyAnswered } from "../testing/answered";
import { letterOf, type StudyAnswer } from "./study";

const study: Study = {
  id: "s",
  title: "t",
  tolerance: 0.05,
  smallestEffect: 0.03,
  simulated: false,
  demands: [],
};
const claim = { direction: "read", kind: "peak", mbps: 1000 } as const;
const box = enclosure([claim], "Serac");
const a = rig([port(), cable(undefined, "K5"), box, drive()], "a");
const b = rig([port(), cable(USB_5G, "K2"), box, drive()], "b");

const answer = (rigs: Rig[], ...measurements: BriefMeasurement[]) =>
  studyAnswered(study, rigs, measurements, "read");
const textOf = ({ answer: { sentences } }: StudyAnswer) =>
  sentences
    .map((sentence) => sentence.map(({ text }) => text).join(""))
    .join(" ")
    .replaceAll("\u202f", " ");
const marked = ({ answer: { sentences } }: StudyAnswer) =>
  sentences.flat().flatMap(({ text, narrows }) => (narrows ? [text] : []));

describe("the answer", () => {
  it("says which part costs what, how near each rig is to its ceiling, and what delivers", () => {
    const answered = answer([a, b], measured(a, around(1043)), measured(b, around(447)));
    expect(marked(answered)).toEqual(["Cable K2", "the Serac enclosure"]);
    const text = textOf(answered);
    for (const figure of ["447", "1 043", "5 Gb/s", "10 Gb/s", "93 %", "91 %", "delivers"]) {
      expect(text).toContain(figure);
    }
    expect(answered.answer.open).toBeNull();
  });

  it("tells of rigs alike in one sentence, from three on", () => {
    const rigs = Array.from({ length: 6 }, (_, i) =>
      rig([port(), cable(undefined, `K${i}`), box, drive()], `r${i}`),
    );
    const runs = rigs.map((one, i) => measured(one, around(1045 - i)));
    const few = textOf(answer(rigs.slice(0, 2), ...runs.slice(0, 2)));
    expect(few).not.toMatch(/Rigs [A-Z].* are limited/);
    const text = textOf(answer(rigs, ...runs));
    const link = /are limited by the Serac enclosure’s own 10 Gb\/s link/g;
    expect(text.match(link)).toHaveLength(1);
    expect(text).toMatch(/Rigs A to F are limited.*: 1 040 to 1 045 MB\/s reading, 91 to 92 % of/);
  });

  it("sums up very many rigs that differ: how many lose more than their ledgers explain, and which most", () => {
    const rigs = Array.from({ length: 30 }, (_, i) => statedRig(100 + 10 * i, `s${i}`));
    const share = (i: number) => (i === 7 ? 0.3 : i === 20 ? 0.5 : 0.97);
    const runs = rigs.map((one, i) => measured(one, around((100 + 10 * i) * share(i))));
    const told = answer(rigs, ...runs);
    const text = textOf(told);
    expect(told.answer.sentences.length).toBeLessThan(8);
    expect(text).toMatch(
      /2 of 30 rigs lose more than their ledgers explain: 51.0 to 150 MB\/s reading, 30 to 50 % .*\(rigs H and U\)/,
    );
    expect(text).toMatch(
      /28 of 30 rigs run as their ledgers foresee: 97.\d to 378 MB\/s reading, 97 %/,
    );
  });

  it("says in one sentence what many parts keep, and of each by how much it falls short", () => {
    const boxes = Array.from({ length: 20 }, (_, i) => enclosure([claim], `Box ${i}`));
    const rigs = boxes.map((one, i) => rig([port(), cable(), one, drive()], `r${i}`));
    const runs = rigs.map((one, i) => measured(one, around(i === 3 ? 700 : 1045)));
    const text = textOf(answer(rigs, ...runs));
    expect(text.match(/deliver the 1 000 MB\/s they claim for reading/g)).toHaveLength(1);
    expect(text).toMatch(/Box 0, Box 1, Box 2, .* and 13 others deliver/);
    expect(text).toMatch(/Box 3 falls 30 % short of/);
  });

  it("names a throttled link as the narrows", () => {
    const [slow, fast] = [statedRig(40, "s"), statedRig(120, "f")];
    const { rigs } = answer(
      [slow, fast],
      measured(slow, around(40)),
      measured(fast, around(119.8)),
    );
    expect(rigs.map(({ finding }) => finding?.kind)).toEqual(["at narrows", "at narrows"]);
  });

  it("names a link that was reported below what its parts share, and who most likely holds it there", () => {
    const dropped = {
      ...rig([port(USB_10G), cable(USB_10G, "K9"), box, drive()], "d"),
      settled: [{ partId: box.id, mode: "usb-480m", by: "system" as const }],
    };
    const alone = answer([dropped], measured(dropped, around(42)));
    expect(alone.rigs[0]!.finding!.kind).toBe("at narrows");
    expect(marked(alone)).toEqual(["480 Mb/s link"]);
    expect(textOf(alone)).toMatch(
      /All its parts say 10 Gb\/s; what holds it lower is K9 or one of \d others that this shelf cannot tell/,
    );
    const slower = textOf(answer([dropped], measured(dropped, around(36))));
    expect(slower).toMatch(/gets out of a 480 Mb\/s link. All its parts say 10 Gb\/s/);
    // With another cable it comes up as it should: what is known now is said, and the narrows stays one.
    const other = { ...dropped, id: "o", name: "o", settled: [] };
    const swapped = {
      ...other,
      parts: [other.parts[0]!, cable(USB_10G, "K8"), ...other.parts.slice(2)],
    };
    const both = answer(
      [dropped, swapped],
      measured(dropped, around(42)),
      measured(swapped, around(990)),
    );
    const [first] = both.rigs;
    expect(first!.standing!.likeliest).toMatchObject({ kind: "dropped-mode", at: { part: "K9" } });
    expect(first!.finding!.kind).toBe("at narrows");
    expect(textOf(both)).toMatch(/K9/);
  });

  it("asks which of several it is, where this shelf cannot tell them apart", () => {
    // Nothing of the other rig fits into this one.
    const sata = [
      part("host-port", "board", { down: ["sata-6g"] }),
      part("drive", "D2", { up: ["sata-6g"] }),
    ];
    const slow = rig([port(), cable(), enclosure(), drive({})], "one");
    const [one, two] = [slow, rig(sata, "two")];
    const found = answer([one, two], measured(one, around(300)), measured(two, around(540)));
    expect(found.rigs[0]!.standing!.settled).toBe(true);
    expect(found.answer.open!.text).toMatch(/^Still open: which of \d holds rig A\?$/);
    expect(found.answer.open!.step).toEqual({ kind: "locate", rigId: "one", direction: "read" });
  });

  it("convicts nobody where two things differ", () => {
    const c = rig([port(), cable(USB_5G, "K2"), enclosure([], "Cirque"), drive()], "c");
    const text = textOf(answer([a, c], measured(a, around(1043)), measured(c, around(447))));
    expect(text).toMatch(/2 ways/);
    expect(text).not.toMatch(/costs/);
  });

  it("counts a different drill as a difference", () => {
    const other = measured(b, around(447), { drill: { seconds: 60 } });
    expect(textOf(answer([a, b], measured(a, around(1043)), other))).toMatch(/2 ways/);
  });

  it("calls noise noise", () => {
    const twin = rig([port(), cable(undefined, "K6"), box, drive()], "twin");
    const text = textOf(answer([a, twin], measured(a, around(1043)), measured(twin, around(1040))));
    expect(text).toMatch(/the same within the noise/);
  });

  it("draws nothing from single runs, and asks for repeats", () => {
    const answered = answer([a, b], measured(a, [1043]), measured(b, [447]));
    expect(textOf(answered)).not.toMatch(/costs/);
    expect(answered.answer.open?.step).toMatchObject({ kind: "measure", rigId: "a" });
  });

  it("flags a rate above the ceiling", () => {
    expect(textOf(answer([b, a], measured(b, around(900))))).toMatch(/memory answered/);
  });

  it("asks for what is missing, in the order of the work", () => {
    expect(answer([]).answer.open?.step.kind).toBe("rigs");
    expect(answer([a]).answer.open?.step.kind).toBe("rigs");
    const half = answer([a, b], measured(a, around(1043)));
    expect(half.answer.open?.step).toMatchObject({
      kind: "measure",
      rigId: "b",
      direction: "read",
    });
  });

  it("does not explain what the ledger does not, and accuses no stage of it", () => {
    const hubbed = rig([port(), cable(undefined, "K5"), hub(USB_10G), box, drive()], "hubbed");
    const answered = answer([a, hubbed], measured(a, around(1043)), measured(hubbed, around(800)));
    expect(textOf(answered)).toMatch(/does not explain/);
    expect(textOf(answered)).toMatch(/Most likely hub.* holds rig B back/);
    expect(marked(answered)).toEqual(["the Serac enclosure"]);
    expect(answered.answer.open).not.toBeNull();
  });

  it("tells the narrows of the slow rig too where it is not the part that was changed", () => {
    const other = rig([port(), cable(undefined, "K6"), box, drive()], "other");
    const text = textOf(
      answer([a, other], measured(a, around(1090)), measured(other, around(950))),
    );
    expect(text).toMatch(/Cable K6 costs rig B 13 % of the flow/);
    expect(text).toMatch(/Rig B is limited by the Serac enclosure/);
  });

  it("says so where the driver mode gets no more out of a wide link", () => {
    const wide = {
      ...box,
      connectors: [{ side: "up" as const, modes: USB_20G }, box.connectors[1]!],
    };
    const unqueued = rig([port(), cable(), wide, drive()], "u", { transport: "usb-unqueued" });
    const answered = answer([unqueued], measured(unqueued, around(700)));
    expect(answered.rigs[0]!.finding?.kind).toBe("by protocol");
    expect(textOf(answered)).toMatch(
      /all that USB storage, unqueued \(bulk only\) gets out of a 20 Gb\/s link/,
    );
    expect(marked(answered)).toEqual([]);
    expect(answered.verdicts[0]!.kind).toBe("Can't tell yet");
  });

  it("says what else is nearly as narrow", () => {
    const close = rig([port(), cable(), enclosure(), drive({ read: 1150 })], "close");
    expect(textOf(answer([close], measured(close, around(1050))))).toMatch(
      /with drive nearly as narrow/,
    );
  });

  it("letters rigs beyond Z", () => {
    expect([0, 25, 26, 27, 701, 702].map(letterOf)).toEqual(["A", "Z", "AA", "AB", "ZZ", "AAA"]);
  });
});
