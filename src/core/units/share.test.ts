import { expect, it } from "vitest";
import { shareFrom } from "./share";

it("reads a share as people write it, and nothing else", () => {
  expect(["85%", "85 %", "0.85", "0,85", " 85,0 % "].map(shareFrom)).toEqual(Array(5).fill(0.85));
  for (const text of ["", "%", "much", "-5 %", "1e2", "85 % of it"])
    expect(shareFrom(text)).toBeNaN();
});
