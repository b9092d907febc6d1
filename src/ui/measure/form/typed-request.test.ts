import { describe, expect, it } from "vitest";
import { drillNamed } from "@/core/drills/catalogue";
import { blank, inWords, requestOf, reserveOf } from "./typed-request";

const haul = drillNamed("haul");
const asked = (more: object) => requestOf(haul, { ...blank("haul", "read"), ...more }, undefined);

describe("what is typed to ask for a measurement", () => {
  it("leaves out what is empty, and takes a reserve of nothing for what it is", () => {
    expect(asked({})).toMatchObject({ reserve: null, other: null, more: [], io: "direct" });
    expect(asked({})).not.toHaveProperty("repeats");
    expect(asked({ reserve: "0 B" })).toMatchObject({ reserve: 0 });
    expect(asked({ reserve: "2 GiB", repeats: "4" })).toMatchObject({
      reserve: 2 ** 31,
      repeats: 4,
    });
    expect([reserveOf(""), reserveOf("0"), reserveOf("lots")]).toEqual([null, 0, null]);
  });

  it("sends text that makes no sense as it is, so that the refusal names it", () => {
    expect(asked({ reserve: "lots" })).toMatchObject({ reserve: "lots" });
    expect(asked({ settings: { block: "huge" } })).toMatchObject({ block: NaN });
  });

  it("sends another end and further drives only to drills that have them", () => {
    const typed = { other: "/a", more: "/b\n\n /c " };
    expect(asked(typed)).toMatchObject({ other: null, more: [] });
    const convoy = drillNamed("convoy");
    expect(requestOf(convoy, { ...blank("convoy", "read"), ...typed }, "Mine")).toMatchObject({
      more: ["/b", "/c"],
      title: "Mine",
    });
  });

  it("begins with a direction that the drill has, and says what will be done", () => {
    expect(blank("long-fill", "read").direction).toBe("write");
    expect(inWords(haul, { ...blank("haul", "read"), repeats: "1" }, null)).toMatch(/; once$/);
    const odd = { ...blank("haul", "read"), settings: { depth: "deep" } };
    expect(inWords(haul, odd, null)).toMatch(/does not make sense/);
  });
});
