import Papa from "papaparse";
import { describe, expect, it } from "vitest";
import { framedSvg } from "./framed-svg";
import { csvOf, tabbed } from "./save";

describe("what leaves the program", () => {
  it("is a picture whose words stay words, whatever they are", () => {
    const { svg, width, height } = framedSvg('<svg width="100" height="50"></svg>', 100, 50, {
      title: '<script>alert("x")</script> & more',
      note: `control \u0007 and ${"long ".repeat(60)}`,
    });
    expect(svg).not.toMatch(/<script|\u0007/);
    expect(svg).toContain("&lt;script&gt;");
    expect(svg).toMatch(/<svg x="16" y="\d+" width="100"/);
    expect(width).toBe(132);
    // A long note takes as many lines as it needs.
    expect(height).toBeGreaterThan(250);
  });

  it("is a table in which nothing is taken for a formula", () => {
    const rows = [
      ["rig", "MB/s"],
      ["=1+1", 12.5],
      ['a "b", c', null],
    ];
    const back = (text: string, delimiter: string) =>
      Papa.parse<string[]>(text.replace(/\n$/, ""), { delimiter }).data;
    const kept = [
      ["rig", "MB/s"],
      ["'=1+1", "12.5"],
      ['a "b", c', ""],
    ];
    expect(back(csvOf(rows), ",")).toEqual(kept);
    expect(back(tabbed(rows), "\t")).toEqual(kept);
  });
});
