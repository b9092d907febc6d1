import { expect, it } from "vitest";
import { drive, enclosure, hub, port, rig, USB_10G } from "../testing/rigs";
import { rigsOf } from "./plugged-rig";

const numbered = <P extends { serial: string }>(part: P, serial: string): P => ({
  ...part,
  serial,
});
const box = numbered(enclosure(), "SER-1");
const disk = numbered(drive(), "MOR 7");
const whole = rig([port(), box, disk], "whole");
const names = (serials: string[], rigs = [whole]) =>
  rigsOf({ serials }, rigs).map(({ rig: { name }, sure }) => `${name}${sure ? "" : "?"}`);

it("is known by the serial numbers of all its parts, however they are padded", () => {
  expect(names(["SER-1", "mor7"])).toEqual(["whole"]);
  expect(names(["SER-1"])).toEqual([]);
  expect(names([])).toEqual([]);
  expect(names(["", "-"])).toEqual([]);
});

it("may be it where a part on the way has no serial number", () => {
  const through = rig([port(), hub(USB_10G), box, disk], "through a hub");
  expect(names(["SER-1", "MOR 7"], [whole, through])).toEqual(["whole", "through a hub?"]);
});

it("is not known by a hub alone, nor where no part has a number", () => {
  const plain = rig([port(), numbered(hub(USB_10G), "H1"), enclosure(), drive()], "plain");
  expect(names(["H1"], [plain])).toEqual([]);
});
