import { describe, expect, it } from "vitest";
import { cable, drive, enclosure, port, rig } from "../testing/rigs";
import { keptModes } from "./kept-modes";
import { replacePart } from "./rig";

const K1 = cable(undefined, "K1");
const dropped = rig([port(), K1, enclosure(), drive()], "r", {
  settled: [{ partId: "box", mode: "usb-5g", by: "system" }],
  held: [{ partId: "box", what: "a display", read: 100, write: 0 }],
});
const changed = (out: string, put: ReturnType<typeof cable>) =>
  keptModes(
    replacePart(
      dropped,
      dropped.parts.find(({ id }) => id === out)!,
      put,
    ),
    dropped,
  );

describe("what was said of a link", () => {
  it("holds no longer with another cable on it, or another end", () => {
    expect(changed("K1", cable(undefined, "K2"))).toMatchObject({ settled: [], held: [] });
    expect(changed("port", port(undefined, "P2"))).toMatchObject({ settled: [], held: [] });
  });
  it("holds where all of the link stays", () => {
    expect(changed("drive", drive({}, "D2")).settled).toEqual(dropped.settled);
    expect(changed("drive", drive({}, "D2")).held).toEqual(dropped.held);
  });
});
