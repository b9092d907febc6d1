import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { modeOf } from "../../ledger/catalogue";
import { gridOver, placeOf, unlimited, withModes } from "./grid";

const bounds = fc.tuple(
  fc.double({ min: 0.1, max: 1000, noNaN: true }),
  fc.double({ min: 1.1, max: 1e6, noNaN: true }),
);

describe("a grid of rates", () => {
  it("goes from one rate to the other evenly, and ends with what does not matter", () => {
    fc.assert(
      fc.property(bounds, ([low, width]) => {
        const grid = gridOver(low, low * width);
        expect(grid.rates[0]! / low).toBeCloseTo(1, 9);
        expect(grid.rates.at(-2)! / (low * width)).toBeGreaterThan(1 - 1e-9);
        expect(grid.rates[unlimited(grid)]).toBe(Infinity);
        // Never so fine that a study of rates far apart takes long.
        expect(grid.rates.length).toBeLessThan(500);
      }),
    );
  });

  it("has a nearest place for every rate, also beside it", () => {
    const grid = gridOver(10, 1000);
    for (const mbps of [10, 37.4, 450, 1000]) {
      const off = Math.abs(Math.log(grid.rates[placeOf(grid, mbps)]! / mbps));
      expect(off).toBeLessThanOrEqual(grid.step / 2 + 1e-9);
    }
    expect(placeOf(grid, 1)).toBe(0);
    expect(placeOf(grid, 1e9)).toBe(grid.rates.length - 2);
  });
});

describe("places for link modes", () => {
  const [slow, fast] = [modeOf("usb-480m"), modeOf("usb-5g")];
  const grid = withModes(gridOver(10, 1000), [fast, slow], [470, 45]);
  const count = grid.rates.length;

  it("come after those of the rates, and stand in the order of what they let through", () => {
    expect(grid.order).toHaveLength(count + 2);
    const tops = [...grid.rates, 470, 45];
    const inOrder = [...grid.order].map((place) => tops[place]!);
    expect(inOrder).toEqual(inOrder.toSorted((a, b) => a - b));
    expect(grid.order.at(-1)).toBe(unlimited(grid));
  });

  it("have a rank each, by which limits are held against one another", () => {
    grid.order.forEach((place, i) => expect(grid.rank[place]).toBe(i));
    expect(grid.rank[count + 1]!).toBeLessThan(grid.rank[count]!);
    expect(grid.rank[placeOf(grid, 40)]!).toBeLessThan(grid.rank[count + 1]!);
    expect(grid.rank[placeOf(grid, 600)]!).toBeGreaterThan(grid.rank[count]!);
  });
});
