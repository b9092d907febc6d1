import fc from "fast-check";
import { describe, expect, it } from "vitest";
import type { Rig } from "@/core/chain/rig";
import { marksOf } from "@/core/locate/findings/finding";
import { cable, drive, enclosure, hub, port, rig, USB_10G, USB_5G } from "@/core/testing/rigs";
import { bankLine, evenEdges, halfWidth, halfWidths, lineUp } from "./geometry";

const a = rig([port(), cable(undefined, "K5"), enclosure(), drive()], "a");
const b = rig([port(), cable(USB_5G, "K2"), enclosure(), drive()], "b");
const c = rig(
  [port(), cable(undefined, "K5"), hub(USB_10G), cable(USB_5G, "K7"), enclosure(), drive()],
  "c",
);

const drawn = (one: Rig, flow: number | null = null) => ({
  rig: one,
  flow,
  machine: null,
  marks: marksOf({ rig: one, finding: null, standing: null, observation: null }, "read"),
});

describe("line-up of rigs", () => {
  it("puts hosts that something is known of before the ports, as wide as there is room", () => {
    const machine = { machine: "lab2", mbps: 9000 };
    const { columns, rows, widest } = lineUp([{ ...drawn(a), machine }, drawn(b)], "read");
    expect(columns[0]).toMatchObject({ role: "host", differs: true });
    expect(rows.map(({ stages }) => stages[0]?.ceiling ?? null)).toEqual([9000, null]);
    expect(widest).toBe(lineUp([drawn(a), drawn(b)], "read").widest);
    expect(halfWidth(9000, widest, 50)).toBe(25);
  });

  it("puts the differing part into one column and marks it", () => {
    const { columns } = lineUp(
      [a, b].map((one) => drawn(one)),
      "read",
    );
    expect(columns.map(({ role }) => role)).toEqual([
      "host port",
      "cable",
      "bridge",
      "slot",
      "drive",
    ]);
    expect(columns.map(({ differs }) => differs)).toEqual([false, true, false, false, false]);
  });

  it("puts the other end of a copy first, from its drive to the host, beside rigs without one", () => {
    const other = [port(undefined, "p2"), enclosure([], "old box"), drive({}, "old")];
    const { columns, rows } = lineUp(
      [a, { ...b, other }].map((one) => drawn(one)),
      "write",
    );
    expect(columns.filter((column) => column.other).map(({ role }) => role)).toEqual([
      "drive",
      "slot",
      "bridge",
      "host port",
    ]);
    const names = (row: number) => rows[row]!.stages.map((stage) => stage?.part.name ?? null);
    expect(names(0)).toEqual([null, null, null, null, "port", "K5", "box", "box", "drive"]);
    expect(names(1)).toEqual([
      "old",
      "old box",
      "old box",
      "p2",
      "port",
      "K2",
      "box",
      "box",
      "drive",
    ]);
  });

  it("draws one part at both ends of a copy in both of its places", () => {
    const { columns, rows } = lineUp(
      [{ ...a, other: a.parts }].map((one) => drawn(one)),
      "read",
    );
    const [row] = rows;
    expect(row!.stages.map((stage, i) => [stage!.part.name, columns[i]!.other])).toEqual([
      ...["drive", "box", "box", "K5", "port"].map((name) => [name, true]),
      ...["port", "K5", "box", "box", "drive"].map((name) => [name, false]),
    ]);
  });

  it("has room for the longest chain there can be", () => {
    const links = Array.from({ length: 4 }, (_, i) => [
      cable(USB_10G, `c${i}`),
      hub(USB_10G, `h${i}`),
    ]).flat();
    const longest = rig([port(), ...links, cable(), enclosure(), drive()], "long");
    const { columns, rows } = lineUp(
      [longest, a].map((one) => drawn(one)),
      "read",
    );
    expect(columns.length).toBeGreaterThanOrEqual(12);
    expect(rows.every(({ stages }) => stages.length === columns.length)).toBe(true);
    expect(rows.every(({ marks }) => marks.stageKeys.length > 0)).toBe(true);
  });

  it("opens columns for what one rig has more", () => {
    const { columns, rows } = lineUp(
      [a, c].map((one) => drawn(one)),
      "read",
    );
    expect(columns.map(({ role }) => role)).toEqual([
      "host port",
      "cable",
      "hub",
      "cable",
      "bridge",
      "slot",
      "drive",
    ]);
    expect(rows[0]!.stages.filter((stage) => stage === null)).toHaveLength(2);
    expect(rows[1]!.stages.every((stage) => stage !== null)).toBe(true);
  });

  it("leaves room for a flow above every ceiling", () => {
    expect(lineUp([drawn(a, 9999)], "read").widest).toBe(9999);
  });
});

describe("widths", () => {
  it("follow the rate to the power 0.42 and fill the height at most", () => {
    expect(halfWidth(1000, 1000, 80)).toBe(40);
    expect(halfWidth(500, 1000, 80) / 40).toBeCloseTo(0.5 ** 0.42, 12);
    expect(halfWidth(0, 1000, 80)).toBe(0);
    fc.assert(
      fc.property(fc.double({ min: 0, max: 1e5, noNaN: true }), (rate) => {
        expect(halfWidth(rate, 1e5, 80)).toBeLessThanOrEqual(40);
      }),
    );
  });

  it("go on through a column without a stage", () => {
    const { rows, widest } = lineUp(
      [a, c].map((one) => drawn(one)),
      "read",
    );
    const halves = halfWidths(rows[0]!, (stage) => stage.ceiling, widest, 80);
    expect(halves[2]).toBe(halves[1]);
    expect(halves.every(Number.isFinite)).toBe(true);
  });

  it("make a line from edge to edge", () => {
    const line = bankLine([10, 20, 20], -1, evenEdges(3, 300), 50);
    expect(line.startsWith("M0 40")).toBe(true);
    expect(line.endsWith("H300")).toBe(true);
    expect(line).not.toMatch(/NaN|Infinity/);
  });
});
