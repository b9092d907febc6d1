import { strFromU8, unzipSync } from "fflate";
import { renderToStaticMarkup } from "react-dom/server";
import { createElement } from "react";
import { HtmlValidate } from "html-validate";
import { parse as renderMarkdown } from "marked";
import { describe, expect, it, vi } from "vitest";
import { StudyFile } from "@/core/exchange/study-file";
import { readStudy } from "@/core/exchange/study-archive";
import { ReportChoice } from "@/core/study/report-choice";
import { twoBoxes } from "@/core/testing/two-boxes";
import { makeReport } from "./main";
import { escaped, ownText } from "./markdown";
import { OwnText } from "./own-text";
import { csvOf } from "./tables";

const AT = "2026-11-26T09:00:00.000Z";
const make = (form: "html" | "zip", file = twoBoxes(), choice: object = {}) =>
  makeReport({ file, form, at: AT, choice: ReportChoice.parse(choice) }).bytes;
const pageOf = (...args: [StudyFile?, object?]) => new TextDecoder().decode(make("html", ...args));

const HOSTILE = `"><script>alert(1)</script><img src=x onerror=alert(2)> =cmd|' /C calc'!A0 \u202egpj.exe & </title></style>`;
const hostile = () => {
  const file = twoBoxes();
  return twoBoxes({
    title: HOSTILE.slice(0, 119),
    parts: file.parts.map((part) => ({
      ...part,
      name: HOSTILE.slice(0, 70),
      maker: "=1+1",
      model: HOSTILE.slice(0, 79),
    })),
    rigs: file.rigs.map(({ id, partIds }) => ({
      id,
      partIds,
      name: HOSTILE.slice(0, 79),
      fileSystem: "@SUM(A1)",
    })),
  });
};

describe("the page of a report", () => {
  it("needs nothing beside it", () => {
    const page = pageOf();
    // A whole page in a failure's words helps nobody: what is found is said alone.
    expect(page.match(/(src|href)="(?!#|data:)[^"]*/g)).toBeNull();
    expect(page.match(/url\((?!data:|#).{0,40}/g)).toBeNull();
    expect(page.match(/<script/gi)).toBeNull();
  });

  it("leads from every figure to a run of its own", () => {
    const page = pageOf();
    const ids = new Set([...page.matchAll(/ id="([^"]+)"/g)].map(([, id]) => id));
    const links = [...page.matchAll(/href="#([^"]+)"/g)].map(([, id]) => id);
    expect(links.length).toBeGreaterThan(10);
    for (const link of links) expect(ids).toContain(link);
  });

  it("has no dead links where the runs are left out", () => {
    const page = pageOf(twoBoxes(), { sections: [{ key: "runs", shown: false }] });
    expect(page.match(/href="#run-/)).toBeNull();
  });

  it("is valid, also with hostile names", async () => {
    const check = new HtmlValidate({ extends: ["html-validate:standard"] });
    const said = async (page: string) =>
      (await check.validateString(page)).results.flatMap(({ messages }) =>
        messages.map(({ ruleId, message }) => `${ruleId}: ${message}`),
      );
    expect(await said(pageOf())).toEqual([]);
    expect(await said(pageOf(hostile()))).toEqual([]);
    expect(await said("<!DOCTYPE html><p><div></p>")).not.toEqual([]);
  });

  it("keeps hostile names the text they are", () => {
    const page = pageOf(hostile(), { author: HOSTILE.slice(0, 119) });
    expect(page.match(/<script|<img/i)).toBeNull();
    expect(page.match(/<\/title>/g)!.length).toBe(
      1 + (page.match(/<svg[^>]*>\s*<title>/g)?.length ?? 0),
    );
    expect(page.match(/<\/style>/g)).toHaveLength(1);
    expect(page.includes("&lt;script&gt;alert(1)&lt;/script&gt;")).toBe(true);
  });
});

describe("the archive of a report", () => {
  const files = unzipSync(make("zip"));
  const text = (name: string) => strFromU8(files[name]!);

  it("has the page, Markdown, every picture and table, and the study", () => {
    const names = Object.keys(files);
    expect(names).toEqual(expect.arrayContaining(["report.html", "report.md", "study.zip"]));
    for (const [, picture] of text("report.md").matchAll(/!\[[^\]]*\]\(([^)]+)\)/g))
      expect(names).toContain(picture);
    expect(names.filter((name) => name.startsWith("tables/")).length).toBeGreaterThan(4);
  });

  it("can be made again from the study in it", () => {
    const study = StudyFile.parse(readStudy(files["study.zip"]!));
    expect(Buffer.compare(make("html", study), make("html"))).toBe(0);
  });

  it("gives pictures their title, their note and their words, in colours of their own", () => {
    const name = Object.keys(files).find((one) => one.endsWith(".svg"))!;
    const svg = text(name);
    expect(svg).toMatch(/<title>What each stage can carry/);
    expect(svg).toMatch(/aria-label="Rig A/);
    expect(svg).toMatch(/written down by hand/);
    expect(svg).toMatch(/Source: Does it deliver\?, 2026-11-26/);
    expect(svg).not.toMatch(/var\(--/);
  });

  it("is the same bytes from the same study, whenever it is made", () => {
    vi.useFakeTimers({ toFake: ["Date"] });
    try {
      const [first, later] = ["2026-11-26T09:00:00Z", "2027-03-01T17:30:00Z"].map((at) => {
        vi.setSystemTime(at);
        return make("zip");
      });
      expect(Buffer.compare(first!, later!)).toBe(0);
    } finally {
      vi.useRealTimers();
    }
  });

  it("keeps hostile names the text they are in Markdown, tables and pictures", () => {
    const bad = unzipSync(make("zip", hostile()));
    for (const [name, bytes] of Object.entries(bad)) {
      const said = strFromU8(bytes);
      if (name.endsWith(".svg") || name.endsWith(".md"))
        expect(said, name).not.toMatch(/<script|<img/i);
      if (/\.(svg|md|csv|html)$/.test(name)) expect(said.includes("\u202e"), name).toBe(false);
      if (name.endsWith(".csv")) expect(said, name).not.toMatch(/(^|,)"?[=+@]/m);
    }
  });
});

describe("tables, by themselves", () => {
  it("have title, note and plain figures, and no formula", () => {
    const csv = csvOf(
      {
        key: "t",
        title: "Rates",
        note: "MB/s",
        columns: [{ name: "rig" }, { name: "rate", figure: true }],
        rows: [[{ text: "=1+1" }, { text: "1 234.5", value: 1234.5 }]],
      },
      "Source: here.",
    );
    expect(csv.split("\r\n")).toEqual([
      "Rates",
      "MB/s",
      "Source: here.",
      "rig,rate",
      '"\'=1+1",1234.5',
      "",
    ]);
  });
});

describe("the tester's own words", () => {
  const shown = (markdown: string) => renderToStaticMarkup(createElement(OwnText, { markdown }));

  it("are Markdown", () => {
    expect(shown("A **bold** claim\n\n- one\n- two")).toMatch(/<strong>bold<\/strong>[\s\S]*<li>/);
    expect(shown("| a | b |\n|---|---|\n| 1 | 2 |")).toMatch(/<th scope="col">a<\/th>/);
    expect(shown("[here](https://example.org)")).toMatch(/<a href="https:\/\/example.org">here/);
  });

  it("are never markup of a page", () => {
    for (const bad of [
      "<script>alert(1)</script>",
      'x <img src="x" onerror="alert(1)"> y',
      "<div onclick=alert(1)>\n\ntext\n\n</div>",
      "![picture](https://example.org/x.png)",
    ])
      expect(shown(bad)).not.toMatch(/<(script|img|div onclick)/);
    for (const bad of [
      "[x](javascript:alert(1))",
      "[x](data:text/html,hi)",
      "<javascript:alert(1)>",
    ])
      expect(shown(bad)).not.toMatch(/href/);
    expect(shown("fish & chips, `a<b`, 3 < 4")).toBe(
      '<div class="own"><p>fish &amp; chips, <code>a&lt;b</code>, 3 &lt; 4</p></div>',
    );
  });
});

describe("the tester's own words in Markdown", () => {
  it("lead to pages and mail addresses alone, and fetch no picture from elsewhere", () => {
    for (const bad of [
      "[x](javascript:alert(1))",
      "[x](JavaScript&#58;alert(1))",
      "[x][a]\n\n[a]: javascript:alert(1)",
      "[![in](https://example.org/t.png)](javascript:alert(2))",
      "![far](https://example.org/track.png)",
      "![far][b]\n\n[b]: https://example.org/track.png",
      "<javascript:alert(1)>",
      '<img src="https://example.org/x.png">',
    ]) {
      const page = renderMarkdown(ownText(bad));
      expect(page, bad).not.toMatch(/href="javascript|<img|<a href="JavaScript/i);
    }
    const good = "See [here](https://example.org/a_(b)) and *this*.";
    expect(ownText(good)).toBe(good);
  });
});

describe("words in Markdown", () => {
  it("are no markup, whatever is in them", () => {
    expect(escaped("a *b* [c](d) <e> | f")).toBe("a \\*b\\* \\[c\\]\\(d\\) &lt;e\\> \\| f");
    expect(escaped("- a\n# b")).toBe("\\- a \\# b");
    expect(escaped("1. a")).toMatch(/^\\1\.|1\\\./);
  });
});
