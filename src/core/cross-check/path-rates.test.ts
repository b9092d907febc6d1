import { expect, it } from "vitest";
import type { Fit } from "../run/result";
import { observationsOf } from "../study/measurement";
import { measured } from "../testing/measured";
import { cable, drive, enclosure, port, rig } from "../testing/rigs";
import { pathRatesOf, rateWhenAsked } from "./path-rates";

const one = rig([port(), cable(), enclosure(), drive()], "one");
const byBlock: Fit = {
  by: "block",
  overheadUs: 60,
  asymptoteMBps: 1000,
  halfRateBytes: 60_000,
  worst: 0.04,
};
const byDepth: Fit = {
  by: "depth",
  singleIops: 10_000,
  plateauIops: 90_000,
  kneeDepth: 9,
  rises: true,
};
const ladder = (name: string, fit: Fit, more: object = {}) =>
  measured(one, [900], { direction: "read", drill: { name, ...more }, result: { fit } });
const byBlocks = ladder("stride-ladder", byBlock);
const byDepths = ladder("depth-ladder", byDepth, { block: 4096 });

it("takes what a rig gives from its ladders, and the most from what it gave in a row", () => {
  const seen = observationsOf([byBlocks, byDepths, measured(one, [1400, 1410, 1390])]);
  const path = pathRatesOf(seen, "read")!;
  expect(path).toMatchObject({ overheadUs: 60, mbps: 1000, mostIops: 90_000, mostMBps: 1400 });
  // A random request of 4 KiB takes 100 µs, one in a row 60 and 4.1 for its bytes.
  expect(path.randomUs).toBeCloseTo(100 - 60 - 4.096, 6);
  expect(rateWhenAsked(path, { block: 4096, depth: 1, isRandom: true })).toBeCloseTo(40.96, 6);
});

it("tells nothing without a ladder by block, of the other way, or of random places without one by depth", () => {
  expect(pathRatesOf(observationsOf([byDepths]), "read")).toBeNull();
  expect(pathRatesOf(observationsOf([byBlocks]), "write")).toBeNull();
  const path = pathRatesOf(observationsOf([byBlocks]), "read")!;
  expect(path).toMatchObject({ randomUs: null, mostIops: null, mostMBps: 1000 });
  expect(rateWhenAsked(path, { block: 4096, depth: 1, isRandom: true })).toBeNull();
});
