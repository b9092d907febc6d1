import { describe, expect, it } from "vitest";
import { bottleneckOf } from "./bottleneck";
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
  USB_5G,
} from "../testing/rigs";
import { formatPercent, IN_MB } from "../units/number";
import { called, capital, inRows, list, nameBottleneck, span } from "./wording";

const inWords = (parts: Parameters<typeof rig>[0]) =>
  nameBottleneck(bottleneckOf(rig(parts), "read")!)
    .map(({ text }) => text)
    .join("");

describe("words for several", () => {
  it.each<[string[], string]>([
    [[], ""],
    [["B"], "B"],
    [["B", "A"], "A and B"],
    [["C", "A", "B"], "A to C"],
    [["A", "B", "D", "F", "G", "H", "I"], "A, B, D and F to I"],
    // Beyond Z letters go on with two.
    [["AB", "Z", "AA", "X"], "X and Z to AB"],
  ])("name rigs that follow one another in one: %j", (letters, words) => {
    expect(inRows(letters)).toBe(words);
  });

  it("span what they are, with the unit once, and say once what is written alike", () => {
    const rates = (...values: number[]) => span(values, IN_MB.rate, IN_MB.said);
    expect(rates(1042, 1003, 1010).replaceAll("\u202f", " ")).toBe("1 003 to 1 042 MB/s");
    expect(rates(447.2, 447.4)).toBe("447 MB/s");
    const shares = (...values: number[]) => span(values, formatPercent, formatPercent);
    expect(shares(0.91, 0.88).replaceAll("\u202f", " ")).toBe("88 to 91 %");
    expect(shares(0.91, 0.914).replaceAll("\u202f", " ")).toBe("91 %");
  });
});

describe("words for parts", () => {
  it("say the kind once", () => {
    expect(called(cable(USB_5G, "K2"))).toBe("cable K2");
    expect(called(cable(USB_5G, "the long cable"))).toBe("the long cable");
    expect(called(enclosure([], "Serac"))).toBe("the Serac enclosure");
    expect(called(port(USB_5G, "Rear port"))).toBe("Rear port");
  });

  it("join as in speech", () => {
    expect([list([]), list(["a"]), list(["a", "b"]), list(["a", "b", "c"])]).toEqual([
      "",
      "a",
      "a and b",
      "a, b and c",
    ]);
    expect(capital("cable K2")).toBe("Cable K2");
  });
});

describe("words for the bottleneck", () => {
  it("name what makes it", () => {
    const box = enclosure([], "Serac");
    expect(inWords([port(), cable(USB_5G, "K2"), box, drive()])).toBe(
      "cable K2, which holds its link to 5 Gb/s",
    );
    expect(inWords([port(), cable(), box, drive()])).toBe("the Serac enclosure’s own 10 Gb/s link");
    expect(inWords([port(), cable(), hub(["usb-480m"], "Firn"), box, drive()])).toBe(
      "the Firn hub’s own 480 Mb/s link",
    );
    expect(inWords([port(), cable(), box, drive({ read: 200 }, "Moraine")])).toBe(
      "the Moraine drive itself",
    );
  });

  it("name the whole link where every part of it is as slow", () => {
    expect(inWords(statedRig(40).parts)).toBe("the 40 MB/s link from socket to disk");
  });

  it("name a part's own limit", () => {
    const limited = part("hub", "Firn", { up: USB_10G, down: USB_10G }, { limits: { read: 300 } });
    expect(inWords([port(), limited, enclosure(), drive()])).toBe("the Firn hub’s own limit");
  });
});
