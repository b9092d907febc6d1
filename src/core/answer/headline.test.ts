import { describe, expect, it } from "vitest";
import type { Rig } from "../chain/rig";
import type { BriefMeasurement } from "../study/measurement";
import { answered } from "../testing/answered";
import { around, measured } from "../testing/measured";
import {
  cable,
  drive,
  enclosure,
  port,
  rig,
  statedRig,
  USB_10G,
  USB_20G,
  USB_5G,
} from "../testing/rigs";
import type { StudyAnswer } from "./study";

const study = { tolerance: 0.05, smallestEffect: 0.03 };
const box = enclosure([], "Serac");
const a = rig([port(), cable(undefined, "K5"), box, drive()], "a");
const b = rig([port(), cable(USB_5G, "K2"), box, drive()], "b");

const answer = (rigs: Rig[], ...measurements: BriefMeasurement[]) =>
  answered(study, rigs, measurements, "read");
const textOf = ({ headline }: StudyAnswer) =>
  headline
    .map((sentence) => sentence.map(({ text }) => text).join(""))
    .join(" ")
    .replaceAll("\u202f", " ");
const marked = ({ headline }: StudyAnswer) =>
  headline.flat().flatMap(({ text, bottleneck }) => (bottleneck ? [text] : []));

describe("the headline of an answer", () => {
  it("is that all runs as designed, with the bottleneck of the quickest, what would widen it, and the part that costs most", () => {
    const told = answer([a, b], measured(a, around(1043)), measured(b, around(447)));
    expect(textOf(told)).toMatch(/^Both rigs run as designed\./);
    expect(textOf(told)).toMatch(
      /Serac enclosure \(10 Gb\/s\) limits rig A to 1 043 MB\/s; a wider/,
    );
    expect(textOf(told)).toMatch(/Cable K2 \(5 Gb\/s\) limits rig B to 447 MB\/s\.$/);
    expect(marked(told)).toEqual(["The Serac enclosure", "Cable K2"]);
  });

  it("says of some of the rigs alone that they run as designed", () => {
    const twin = rig([port(), cable(undefined, "K6"), box, drive()], "twin");
    expect(textOf(answer([a, b, twin], measured(a, around(1043))))).toMatch(
      /^Rig A runs as designed/,
    );
    const two = answer([a, b, twin], measured(a, around(1043)), measured(b, around(447)));
    expect(textOf(two)).toMatch(/^Both measured rigs run as designed/);
  });

  it("names a likely cause with its percentage beside the word, its rigs, its figure and the ceiling", () => {
    const till = enclosure([], "Till");
    const other = { ...drive(), id: "d2", name: "d2" };
    const slow = [drive(), other].map((inside, i) =>
      rig([port(), cable(undefined, "K5"), till, inside], `till${i}`),
    );
    const told = answer(
      [a, ...slow],
      measured(a, around(1043)),
      ...slow.map((one) => measured(one, around(593))),
    );
    expect(textOf(told)).toMatch(
      /^The Till enclosure (very likely|likely) \(\d\d %\) limits rigs B and C to 593 MB\/s, 52 % of the 1 141 that their 10 Gb\/s link carries\./,
    );
    expect(marked(told)).toEqual([]);
    expect(textOf(told)).not.toMatch(/ledger|explain|held back|narrows/);
  });

  it("puts first what cannot be true, and that it does not count", () => {
    const text = textOf(answer([b, a], measured(b, around(900)), measured(a, around(1043))));
    expect(text).toMatch(
      /^Rig A reads 900 MB\/s through a 5 Gb\/s link: memory very likely \(85 %\) answered, this run does not count\./,
    );
  });

  it("says as a fact that memory answered where the kernel counted less on the device", () => {
    const short = measured(a, around(700), { result: { deviceBytes: 4e7 } });
    const told = answer([b, a], measured(b, around(447)), short);
    expect(textOf(told)).toMatch(
      /^Rig B reads 700 MB\/s: memory answered, this run does not count\./,
    );
    expect(told.told[0]!.title).toBe("Memory answered");
    expect(told.told[0]!.next!.text).toMatch(/past the page cache/);
  });

  it("states a file system as the cause, with what the same rig reads on another", () => {
    const fast = { ...a, fileSystem: "ext4" };
    const slow = { ...rig(a.parts, "c"), fileSystem: "ntfs, in user space" };
    const text = textOf(
      answer([fast, slow], measured(fast, around(1043)), measured(slow, around(400))),
    );
    expect(text).toMatch(
      /^NTFS through FUSE .*limits rig B to 400 MB\/s; on ext4 rig A reads 1 043 MB\/s\.$/,
    );
  });

  it("says of an old driver mode that it limits the rig, as a fact", () => {
    const wide = {
      ...box,
      connectors: [{ side: "up" as const, modes: USB_20G }, box.connectors[1]!],
    };
    const unqueued = rig([port(), cable(), wide, drive()], "u", { transport: "usb-unqueued" });
    const told = answer([unqueued], measured(unqueued, around(700)));
    expect(told.rigs[0]!.finding?.kind).toBe("by protocol");
    expect(textOf(told)).toMatch(
      /^The driver mode \(USB storage, unqueued\) limits rig A to 700 MB\/s, \d\d % of/,
    );
  });

  it("names a link that was reported below what its parts share by the causes that may hold it there", () => {
    const dropped = {
      ...rig([port(USB_10G), cable(USB_10G, "K9"), box, drive()], "d"),
      settled: [{ partId: box.id, mode: "usb-480m", by: "system" as const }],
    };
    const alone = answer([dropped], measured(dropped, around(42)));
    expect(textOf(alone)).toMatch(
      /rig A to 42.0 MB\/s, 3.7 % of the 1 141 that its 10 Gb\/s link carries/,
    );
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
    expect(both.rigs[0]!.standing!.likeliest).toMatchObject({
      kind: "dropped-mode",
      at: { part: "K9" },
    });
    // What its parts would carry is what the rate is held against, not the mode that it dropped to.
    expect(textOf(both)).toMatch(/able K9 .*limits rig A to 42.0 MB\/s, 3.7 % of the 1 1/);
    expect(both.told[0]!.title).toBe("Cable K9 holds its link to 480 Mb/s");
  });

  it("says nothing more than two lines hold, of very many rigs too", () => {
    const rigs = Array.from({ length: 30 }, (_, i) => statedRig(100 + 10 * i, `s${i}`));
    const share = (i: number) => (i === 7 ? 0.3 : i === 20 ? 0.5 : 0.97);
    const runs = rigs.map((one, i) => measured(one, around((100 + 10 * i) * share(i))));
    const told = answer(rigs, ...runs);
    expect(textOf(told).length).toBeLessThanOrEqual(190);
    expect(textOf(told)).toMatch(/rigs? (U|H)/);
    expect(told.groups.at(-1)!.rigs).toHaveLength(28);
  });

  it("says what is missing where nothing was measured", () => {
    expect(textOf(answer([]))).toMatch(/no rigs yet/);
    expect(textOf(answer([a, b]))).toMatch(/Nothing is measured yet, reading through rigs A and B/);
  });
});
