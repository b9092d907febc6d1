import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { asksNoMore, isAlike, requestsKey, shapeOf, usualDrill } from "./shape";

const haul = (set: object = {}) => usualDrill("haul", "read", { ...set });
const KIB = 1024;

describe("drills whose rates can be held against each other", () => {
  it("have as large requests, and as many of them in flight, for however long", () => {
    expect(isAlike(haul(), haul({ seconds: 60 }))).toBe(true);
    expect(isAlike(haul(), haul({ depth: 1 }))).toBe(false);
    expect(isAlike(haul(), haul({ block: 64 * KIB }))).toBe(false);
    // What is left out is as usual.
    expect(isAlike({ name: "haul", direction: "read", repeats: 3 }, haul())).toBe(true);
  });

  it("go in the same direction, and are of one kind", () => {
    expect(isAlike(haul(), usualDrill("haul", "write"))).toBe(false);
    const { block, depth } = shapeOf(haul())!;
    const scatter = usualDrill("scatter", "read", { block, depth });
    expect(isAlike(haul(), scatter)).toBe(false);
  });

  it("are copies only where everything is set alike: they keep no requests in flight", () => {
    const ferry = (set: object = {}) => usualDrill("ferry", "write", { ...set });
    expect(shapeOf(ferry())).toBeNull();
    expect(requestsKey(ferry())).toBe(requestsKey(ferry()));
    expect(asksNoMore(ferry(), ferry())).toBe(true);
    expect(asksNoMore(ferry(), haul())).toBe(false);
  });

  it("are those of a ladder’s step that asks for most, by which it is known", () => {
    const blocks = usualDrill("stride-ladder", "read", { blocks: [4096, 2 ** 20, 65_536] });
    expect(shapeOf(blocks)).toMatchObject({ block: 2 ** 20, depth: 1 });
    const depths = usualDrill("depth-ladder", "read", { depths: [1, 64, 8] });
    expect(shapeOf(depths)).toMatchObject({ block: 4096, depth: 64 });
  });
});

describe("a drill that asks for no more than another", () => {
  const requests = fc.record({
    block: fc.constantFrom(4 * KIB, 64 * KIB, 512 * KIB, 1024 * KIB),
    depth: fc.constantFrom(1, 8, 16, 32),
  });

  it("is each beside itself, and what is no more than no more", () =>
    fc.assert(
      fc.property(requests, requests, requests, (a, b, c) => {
        const [one, two, three] = [haul(a), haul(b), haul(c)];
        expect(asksNoMore(one, one)).toBe(true);
        if (asksNoMore(one, two) && asksNoMore(two, three))
          expect(asksNoMore(one, three)).toBe(true);
        if (asksNoMore(one, two) && asksNoMore(two, one))
          expect(requestsKey(one)).toBe(requestsKey(two));
      }),
    ));

  it("has smaller requests or fewer, and no more of them together", () => {
    expect(asksNoMore(haul({ depth: 1 }), haul())).toBe(true);
    expect(asksNoMore(haul(), haul({ depth: 1 }))).toBe(false);
    // A long fill has larger requests, half as many, and as much in flight.
    expect(asksNoMore(haul(), usualDrill("long-fill", "write"))).toBe(true);
  });
});
