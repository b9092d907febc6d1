import { describe, expect, it } from "vitest";
import type { Fit } from "../run/result";
import { measured } from "../testing/measured";
import { observationsOf } from "../study/measurement";
import { cable, drive, enclosure, port, rig } from "../testing/rigs";
import { answeringOf } from "./answering";

const one = rig([port(), cable(), enclosure(), drive()], "one");
const byBlock: Fit = {
  by: "block",
  overheadUs: 90,
  asymptoteMBps: 940,
  halfRateBytes: 84_600,
  worst: 0.04,
};
const byDepth: Fit = {
  by: "depth",
  singleIops: 9000,
  plateauIops: 70_000,
  kneeDepth: 8,
  rises: true,
};
const ladder = (name: string, direction: "read" | "write", fit: Fit) =>
  measured(one, [900], { direction, drill: { name }, result: { fit } });

describe("how quickly a rig answers", () => {
  it("follows from its ladders, each way by itself", () => {
    const seen = observationsOf([
      ladder("stride-ladder", "read", byBlock),
      ladder("depth-ladder", "read", byDepth),
      ladder("depth-ladder", "write", byDepth),
      measured(one, [900, 901]),
    ]);
    expect(answeringOf(seen)).toEqual({
      read: { overheadUs: 90, mbps: 940, mostIops: 70_000, worst: 0.04 },
      write: null,
    });
  });
});
