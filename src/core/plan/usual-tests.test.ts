import { describe, expect, it } from "vitest";
import { defineFrom } from "../drills/drill";
import { USUAL_TESTS, usualTest } from "./usual-tests";

describe("the usual tests", () => {
  it.each(USUAL_TESTS.map((test) => [test.id, test] as const))("%s can be set up", (id, test) => {
    expect(usualTest(id)).toBe(test);
    expect(test.path[0]!.kind).toBe("host-port");
    expect(test.path.at(-1)!.kind).toBe("drive");
    // Something is compared, or judged: some place says so.
    expect(test.path.some(({ what }) => what !== "")).toBe(true);
    for (const drill of test.drills) expect(defineFrom(drill, null).name).toBe(drill.name);
    expect(test.read).not.toBe("");
  });

  it("is none where there is none of that name", () => {
    expect(usualTest("teapot")).toBeNull();
    expect(usualTest(null)).toBeNull();
  });
});
