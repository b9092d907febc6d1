import { describe, expect, it } from "vitest";
import { conclude } from "../conclude/conclusions";
import { around, measured } from "../testing/measured";
import { cable, drive, enclosure, port, rig, USB_5G } from "../testing/rigs";
import { resultMatrix } from "./result-matrix";

const box = enclosure([], "Serac");
const a = rig([port(), cable(undefined, "K5"), box, drive()], "a");
const b = rig([port(), cable(USB_5G, "K2"), box, drive()], "b");

describe("the table of results", () => {
  const matrix = resultMatrix(
    conclude({
      rigs: [a, b],
      measurements: [
        measured(a, around(1043)),
        measured(a, [49], { drill: { name: "scatter" }, result: { iops: 12_000 } }),
        measured(b, around(447), { direction: "write" }),
        measured(b, around(9000)),
      ],
      tolerance: 0.05,
    }),
  );

  it("has a column for each drill and direction that was done, reading first", () => {
    expect(matrix.columns.map(({ drill, direction }) => [drill, direction])).toEqual([
      ["haul", "read"],
      ["scatter", "read"],
      ["haul", "write"],
    ]);
  });

  it("has a row for each rig, and nothing where nothing was measured", () => {
    const present = matrix.rows.map(({ letter, cells }) => [letter, ...cells.map(Boolean)]);
    expect(present).toEqual([
      ["A", true, true, false],
      ["B", true, false, true],
    ]);
  });

  it("counts small requests, and has no share of a ceiling for them", () => {
    const [row] = matrix.rows;
    expect(row!.cells[0]).toMatchObject({ median: 1043, repeats: 3 });
    expect(row!.cells[0]!.share).toBeGreaterThan(0.9);
    expect(row!.cells[1]).toMatchObject({ median: 12_000, share: null, spread: null });
  });
});
