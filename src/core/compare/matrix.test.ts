import { describe, expect, it } from "vitest";
import type { Rig } from "../chain/rig";
import { usualDrill } from "../drills/shape";
import { around, measured } from "../testing/measured";
import { cable, drive, enclosure, port, rig, USB_5G } from "../testing/rigs";
import { compare, evidenceOf } from "./comparison";
import { axesOf, chosenAxes, matrixOf } from "./matrix";
import { questionFrom } from "./question";

const named = (id: string) => ({ ...drive(), id, name: id });
const [serac, till] = [enclosure([], "Serac"), enclosure([], "Till")];
const build = (id: string, box: typeof serac, inside: string, wire = cable(undefined, "K5")) =>
  rig([port(), wire, box, named(inside)], id);
const rigs = [
  build("a", serac, "D1"),
  build("b", till, "D1"),
  build("c", serac, "D2"),
  build("d", till, "D2"),
];

/** The rigs laid out by the rates that they gave; null where one was not measured. */
function laidOut(
  all: Rig[],
  rates: (number | null)[],
  axes: Parameters<typeof matrixOf>[2] = { down: "drive", across: "enclosure" },
) {
  const runs = all.flatMap((one, i) => (rates[i] ? [measured(one, around(rates[i]))] : []));
  const { rows } = compare(questionFrom({}), evidenceOf(all, runs), 0.03);
  return matrixOf(rows, 0, axes, false);
}

describe("rigs laid out by two of their parts", () => {
  it("stand where their parts say, each with its rate and letter", () => {
    const { cells, heads } = laidOut(rigs, [1000, 500, 800, 400]);
    expect(heads.down.map(({ name }) => name)).toEqual(["D1", "D2"]);
    expect(heads.across.map(({ name }) => name)).toEqual(["Serac", "Till"]);
    expect(cells.map((row) => row.map((cell) => [cell!.letter, cell!.median]))).toEqual([
      [
        ["A", 1000],
        ["B", 500],
      ],
      [
        ["C", 800],
        ["D", 400],
      ],
    ]);
  });

  it("gain over the slowest of their edge, by the rigs that stand beside each other", () => {
    const { heads } = laidOut(rigs, [1000, 500, 800, 400]);
    expect(heads.across.map(({ slowest }) => slowest)).toEqual([false, true]);
    expect(heads.across[0]!.gain).toBeCloseTo(1, 6);
    expect(heads.down[0]!.gain).toBeCloseTo(0.25, 6);
    // One that is missing is no slowness: the gain is that of the pair that is there.
    const missing = laidOut(rigs, [1000, 500, 800, null]);
    expect(missing.cells[1]![1]).toBeNull();
    expect(missing.heads.across[0]!.gain).toBeCloseTo(1, 6);
  });

  it("have no gain where nothing stands beside nothing", () => {
    const { heads } = laidOut(rigs, [1000, null, null, 400]);
    expect(heads.across.map(({ gain }) => gain)).toEqual([null, null]);
  });

  it("have the ceilings of each column", () => {
    const slow = build("e", till, "D3", cable(USB_5G, "K2"));
    const { heads } = laidOut([...rigs, slow], [1000, 500, 800, 400, 300]);
    const [first, second] = heads.across.map(({ ceiling }) => ceiling!);
    expect(first!.low).toBe(first!.high);
    expect(second!.low).toBeLessThan(second!.high);
  });

  it("show the fastest of several at one place, and never what cannot be true before it", () => {
    const twin = build("e", serac, "D1", cable(undefined, "K6"));
    const { cells } = laidOut([...rigs, twin], [1000, 500, 800, 400, 1040]);
    expect(cells[0]![0]).toMatchObject({ letter: "E", others: ["A"], doubtful: false });
    const beyond = laidOut([...rigs, twin], [1000, 500, 800, 400, 9000]);
    expect(beyond.cells[0]![0]).toMatchObject({ letter: "A", others: ["E"] });
    const alone = laidOut(rigs, [9000, 500, 800, 400]);
    expect(alone.cells[0]![0]!.doubtful).toBe(true);
    expect(alone.heads.down[0]!.gain).toBeCloseTo(0.25, 6);
  });

  it("are counted by their requests where the drill asks for small ones", () => {
    const runs = rigs.map((one, i) =>
      measured(one, around(40), {
        drill: usualDrill("scatter", "read"),
        result: { iops: 1000 * (i + 1) },
      }),
    );
    const { rows } = compare(questionFrom({}), evidenceOf(rigs, runs), 0.03);
    const { cells, counted } = matrixOf(rows, 0, { down: "drive", across: "enclosure" }, true);
    expect(counted).toBe(true);
    expect(cells[1]![1]).toMatchObject({ median: 4000, efficiency: null });
  });
});

describe("what rigs are laid out by", () => {
  it("is what differs most, with drives down where there are several", () => {
    expect(chosenAxes(rigs, { down: null, across: null })).toEqual({
      down: "drive",
      across: "enclosure",
    });
    const cables = ["K1", "K2", "K3"].map((name) =>
      build(name, serac, "D1", cable(undefined, name)),
    );
    expect(axesOf(cables)).toEqual(["cable"]);
    expect(chosenAxes(cables, { down: null, across: null })).toEqual({
      down: "drive",
      across: "cable",
    });
  });

  it("is what was chosen, and never one part along both edges", () => {
    expect(chosenAxes(rigs, { down: null, across: "drive" })).toEqual({
      down: "enclosure",
      across: "drive",
    });
    expect(chosenAxes(rigs, { down: "enclosure", across: null })).toEqual({
      down: "enclosure",
      across: "drive",
    });
    expect(chosenAxes(rigs, { down: "drive", across: "drive" })).toEqual({
      down: "drive",
      across: "enclosure",
    });
    const one = [rigs[0]!];
    const { down, across } = chosenAxes(one, { down: null, across: null });
    expect(down).not.toBe(across);
  });

  it("is the number of drives in a box, in order", () => {
    const more = (id: string, count: number) =>
      rig([port(), cable(), serac, named("D1")], id, {
        beside: Array.from({ length: count - 1 }, (_, i) => named(`${id}${i}`)),
        layout: "raid-0",
      });
    const boxes = [more("x", 4), more("y", 1), more("z", 2)];
    const { heads } = laidOut(boxes, [900, 500, 700], { down: "enclosure", across: "drives" });
    expect(heads.across.map(({ name }) => name)).toEqual(["1 drive", "2 drives", "4 drives"]);
  });
});
