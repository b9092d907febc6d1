import { describe, expect, it } from "vitest";
import { follow } from "./followed";
import { makeBench } from "./made-bench";
import { makeSmallBench } from "./small-requests";

/** A small part of `npm run bench:locate`, so that nothing there breaks unseen. */
describe.each([
  { of: "large requests", make: makeBench },
  { of: "small requests", make: makeSmallBench },
])("following the next swap on made benches of $of", ({ make }) => {
  const found = Array.from({ length: 32 }, (_, i) => follow(make(500_000 + i)));
  const share = (of: (one: (typeof found)[number]) => boolean) =>
    found.filter(of).length / found.length;

  it("ends at the hidden cause, and does not settle on another", () => {
    expect(share(({ right }) => right)).toBeGreaterThanOrEqual(0.9);
    expect(share(({ right, settled }) => settled && !right)).toBeLessThanOrEqual(0.05);
  });

  it("settles most of them within a few runs", () => {
    expect(share(({ settled }) => settled)).toBeGreaterThan(0.75);
    const swaps = found.map((one) => one.swaps).toSorted((a, b) => a - b);
    expect(swaps[Math.floor(swaps.length / 2)]).toBeLessThanOrEqual(6);
  });
});
