import { describe, expect, it } from "vitest";
import { MOST_ROWS, slideSvg, themeOf, type Slide } from "./slide";

const COLOURS = {
  paper: "#fff",
  ink: "#111",
  secondary: "#555",
  line: "#ddd",
  flow: "#188",
  bottleneck: "#a40",
};
const slide = (more: Partial<Slide> = {}): Slide => ({
  statement: "The Till enclosure limits rigs D to G to 597 MB/s.",
  rows: [
    { name: "D  Till", figure: "594", rate: 594, ceiling: 1141 },
    { name: "B  Nunatak", figure: "3 632", rate: 3632, ceiling: 4137 },
  ],
  source: "Haul reading, medians in MB/s. Simulated. Made with Nerrit.",
  ...more,
});
const sizesOf = (svg: string) =>
  [...svg.matchAll(/font-size="([\d.]+)"/g)].map(([, size]) => Number(size));
const numbersOf = (svg: string, name: string) =>
  [...svg.matchAll(new RegExp(` ${name}="(-?[\\d.]+)"`, "g"))].map(([, value]) => Number(value));

describe("a picture for a screen", () => {
  it("is of 16:9, with its statement, its rows and its source", () => {
    const svg = slideSvg(slide(), "light", COLOURS);
    expect(svg).toMatch(/^<svg [^>]*width="1920" height="1080"/);
    expect(svg).toContain(">D  Till<");
    expect(svg).toContain(">3 632<");
    expect(svg).toContain("Simulated. Made with Nerrit.");
  });

  it("has rows of at most seven, in type that a phone shows at 7 px and more", () => {
    const rows = Array.from({ length: 12 }, (_, i) => ({ ...slide().rows[0]!, name: `rig ${i}` }));
    const svg = slideSvg(slide({ rows, statement: "word ".repeat(60) }), "light", COLOURS);
    expect([...svg.matchAll(/>rig \d+</g)]).toHaveLength(MOST_ROWS);
    expect(Math.min(...sizesOf(svg)) * (390 / 1920)).toBeGreaterThan(7);
  });

  it("stays inside its frame, and draws no bar wider than its place", () => {
    const svg = slideSvg(slide(), "light", COLOURS);
    expect(Math.max(...numbersOf(svg, "y"))).toBeLessThan(1080);
    const right = [...svg.matchAll(/<rect x="([\d.]+)" y="[\d.]+" width="([\d.]+)"/g)].map(
      ([, x, width]) => Number(x) + Number(width),
    );
    expect(Math.max(...right)).toBeLessThan(1920 - 96);
  });

  it("draws a rig as its channel, as wide as its stages, with the one that holds it marked", () => {
    const stage = (key: string, ceiling: number, marked = false) => ({
      key,
      label: key,
      ceiling,
      own: 4000,
      held: 0,
      marked,
    });
    const channel = {
      stages: [stage("port", 4000), stage("Till’s bridge", 600, true), stage("drive", 3500)],
      widest: 4000,
      flow: 590,
    };
    const rows = [{ ...slide().rows[0]!, channel }];
    const svg = slideSvg(slide({ rows }), "light", COLOURS);
    expect(svg).toContain(">bottleneck: Till’s bridge<");
    expect(svg.match(/stroke="#a40"/g)).toHaveLength(2);
    const water = svg.match(/height="([\d.]+)" fill="#188"/)!;
    const still = slideSvg(
      slide({ rows: [{ ...rows[0]!, channel: { ...channel, flow: null } }] }),
      "light",
      COLOURS,
    );
    expect(Number(water[1])).toBeGreaterThan(10);
    expect(still).not.toContain('fill="#188"');
  });

  it("has no ground where it is clear, and light type where that is asked for", () => {
    expect(slideSvg(slide(), "dark", COLOURS)).toContain('fill="#fff"/>');
    expect(slideSvg(slide(), "clear-light", COLOURS)).not.toContain('width="100%" height="100%"');
    expect([themeOf("clear-light"), themeOf("clear-dark")]).toEqual(["dark", "light"]);
  });

  it("writes names as text, whatever is in them", () => {
    const rows = [{ name: '<b>"x"&', figure: "1", rate: null, ceiling: null }];
    expect(slideSvg(slide({ rows }), "light", COLOURS)).toContain("&lt;b&gt;&quot;x&quot;&amp;");
  });

  it("keeps the clips of a chart apart from those of the page", () => {
    const chart = () => ({
      svg: '<svg width="10" height="10"><g clip-path="url(#zr0-c1)"/></svg>',
      width: 10,
      height: 10,
    });
    expect(slideSvg(slide({ chart }), "light", COLOURS)).toContain("url(#slide-zr0-c1)");
  });
});
