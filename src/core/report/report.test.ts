import { describe, expect, it } from "vitest";
import { studyOf, type StudyFileInput } from "../exchange/study-file";
import { twoBoxes } from "../testing/two-boxes";
import { ReportChoice, SECTIONS, USUAL_CHOICE } from "../study/report-choice";
import type { Block, Inline, ReportDocument } from "./document";
import { Earlier } from "./earlier";
import { reportOf, type Report } from "./report";

const AT = "2026-11-26T09:00:00.000Z";
const report = (
  choice: Partial<ReportChoice> | object = {},
  change: Partial<StudyFileInput> = {},
  earlier: Earlier | null = null,
): Report =>
  reportOf(
    { filed: studyOf(twoBoxes(change)), at: AT, earlier },
    ReportChoice.parse({ ...choice }),
  );
const wordsOf = (words: readonly Inline[]) =>
  words.map((one) => (typeof one === "string" ? one : one.text)).join("");
const textOf = (block: Block): string => {
  switch (block.kind) {
    case "heading":
      return block.text;
    case "prose":
      return wordsOf(block.words);
    case "list":
      return block.items.map(wordsOf).join("\n");
    case "table":
      return [
        block.table.title,
        block.table.note,
        ...block.table.rows.flat().map((c) => c.text),
      ].join("\n");
    case "photo":
      return block.photo.caption;
    case "picture":
      return `${block.picture.title}\n${block.picture.note}\n${block.picture.alt}`;
  }
};
const section = ({ sections }: ReportDocument, key: string) =>
  sections
    .find((one) => one.key === key)
    ?.blocks.map(textOf)
    .join("\n") ?? "";
const linksOf = ({ sections }: ReportDocument) => {
  const inline = (words: readonly Inline[]) =>
    words.flatMap((one) => (typeof one === "string" ? [] : (one.run ?? [])));
  return sections.flatMap(({ blocks }) =>
    blocks.flatMap((block): string[] => {
      if (block.kind === "prose") return inline(block.words);
      if (block.kind === "list") return block.items.flatMap(inline);
      return block.kind === "table" ? block.table.rows.flat().flatMap(({ run }) => run ?? []) : [];
    }),
  );
};

describe("a report", () => {
  it("begins with the answer and ends with every run", () => {
    const { document } = report();
    expect(document.sections[0]!.key).toBe("answer");
    expect(document.sections.at(-1)!.key).toBe("runs");
    expect(section(document, "answer")).toMatch(/own box[\s\S]*603/);
    expect(section(document, "verdicts")).toMatch(
      /Box own[\s\S]*Falls short in this combination by 37.%/,
    );
    expect(section(document, "verdicts")).toMatch(/Box other[\s\S]*Delivers/);
    expect(section(document, "argument")).toMatch(/Box own/);
    expect(section(document, "gear")).toMatch(/40\.00 EUR/);
    expect(section(document, "method")).toMatch(
      /noise floor of the bench is 0\.2 %|noise floor of the bench is 0\.\d/,
    );
  });

  it("is the same from the same study and choice", () => {
    expect(report()).toEqual(report());
  });

  it("links every figure to a run that stands in it", () => {
    const { document } = report();
    const runs = document.sections
      .at(-1)!
      .blocks.flatMap((block) =>
        block.kind === "table" ? block.table.rows.flatMap(([first]) => first!.anchor ?? []) : [],
      );
    const links = linksOf(document);
    expect(links.length).toBeGreaterThan(8);
    // A sentence that names a rig leads to its run too.
    const [lead] = document.sections[0]!.blocks;
    expect(
      linksOf({ ...document, sections: [{ ...document.sections[0]!, blocks: [lead!] }] }),
    ).not.toEqual([]);
    for (const { blocks } of document.sections)
      for (const block of blocks)
        if (block.kind === "picture")
          for (const { run } of block.picture.runs) expect(runs).toContain(run);
    for (const link of links) expect(runs).toContain(link);
  });

  it("keeps to the sections and the order that were chosen, and to the tester's words", () => {
    const { document } = report({
      sections: [
        { key: "gear", text: "*Lent* by a friend." },
        { key: "verdicts", shown: false },
      ],
    });
    const keys = document.sections.map(({ key }) => key);
    expect(keys[0]).toBe("gear");
    expect(keys).not.toContain("verdicts");
    expect(keys).toContain("answer");
    expect(document.sections[0]!.own).toBe("*Lent* by a friend.");
  });

  it("shows pictures of the bench where they were put, with what they show", () => {
    const id = "ab".repeat(32);
    const photos = { [id]: { type: "image/png" as const, data: "AAAA", width: 4, height: 3 } };
    const choice = ReportChoice.parse({
      photos: [
        { id, section: "method", caption: "The bench" },
        { id: "cd".repeat(32), section: "method", caption: "Gone since" },
      ],
    });
    const { document } = reportOf({ filed: studyOf(twoBoxes()), at: AT, photos }, choice);
    expect(section(document, "method")).toMatch(/^The bench/);
    expect(section(document, "method")).not.toMatch(/Gone since/);
    const unsaid = { photos: [{ id, section: "method", caption: " " }] };
    expect(ReportChoice.safeParse(unsaid).error?.issues[0]?.message).toMatch(/what it shows/);
  });

  it("leaves out what there is nothing to say of", () => {
    const keys = report().document.sections.map(({ key }) => key);
    expect(keys).not.toContain("demands");
    expect(keys).not.toContain("changes");
  });

  it("writes figures and days as chosen, in every sentence, and names of modes as they are", () => {
    const { document } = report({ unit: "Gb/s", numbers: "1.234,5", dates: "26 November 2026" });
    expect(document.made).toBe("26 November 2026");
    expect(section(document, "figures")).toMatch(/4,82/);
    expect(section(document, "figures")).not.toMatch(/\d\.\d/);
    const all = document.sections.map(({ key }) => section(document, key)).join("\n");
    expect(all).toMatch(/PCIe 3\.0/);
    expect(all).not.toMatch(/4\.82/);
    // Whatever else is written meanwhile is as before.
    expect(section(report().document, "figures")).toMatch(/0\.4/);
  });

  it("says on every table and picture what was typed", () => {
    const { document } = report();
    expect(document.origins).toMatch(/written down by hand/);
    for (const { key, blocks } of document.sections)
      for (const block of blocks) {
        if (block.kind === "picture") expect(block.picture.note, key).toMatch(/by hand/);
        if (block.kind === "table" && /figures|glance/.test(block.table.key))
          expect(block.table.note, key).toMatch(/by hand/);
      }
  });

  it("says what stays open: what was measured once, and what was not controlled", () => {
    const once = {
      rigId: "s",
      drill: { name: "haul", direction: "read" as const },
      ratesMBps: [1000],
    };
    const open = section(report({}, { runs: [once] }).document, "limits");
    expect(open).toMatch(/Measured once only[^\n]*B/);
    expect(open).toMatch(/Not controlled[^\n]*room temperature/);
    expect(open).toMatch(/1 rig not measured: A/);
  });

  it("says what changed since the issue before", () => {
    const before = report();
    const earlier = Earlier.parse({ ...before.stand, number: 3, issuedAt: AT });
    const unchanged = section(report({}, {}, earlier).document, "changes");
    expect(unchanged).toMatch(/issue 3 of 2026-11-26[\s\S]*Nothing changed/);
    const more = {
      runs: [
        ...twoBoxes().runs,
        {
          rigId: "r",
          drill: { name: "haul", direction: "read" as const },
          ratesMBps: [980, 981, 982, 983],
        },
      ],
    };
    const changed = section(report({}, more as never, earlier).document, "changes");
    expect(changed).toMatch(/runs came in/);
    expect(changed).toMatch(/instead of 603/);
    expect(changed).toMatch(
      /Box own[^\n]*Delivers; it was: Falls short in this combination|Can't tell yet; it was: Falls short in this combination/,
    );
  });

  it("is written of a study without runs, and of one without rigs", () => {
    expect(section(report({}, { runs: [] }).document, "figures")).toMatch(
      /Nothing has been measured/,
    );
    expect(report({}, { runs: [], rigs: [], parts: [] }).document.sections.length).toBeGreaterThan(
      2,
    );
  });
});

describe("how a report is chosen", () => {
  it("names each section once, those that were not named in their usual place", () => {
    expect(USUAL_CHOICE.sections.map(({ key }) => key)).toEqual(Object.keys(SECTIONS));
    const twice = { sections: [{ key: "gear" }, { key: "gear" }] };
    expect(ReportChoice.safeParse(twice).error?.issues[0]?.message).toMatch(/twice/);
  });

  it("refuses what it does not know", () => {
    expect(ReportChoice.safeParse({ numbers: "1_234" }).success).toBe(false);
    expect(ReportChoice.safeParse({ sections: [{ key: "advert" }] }).success).toBe(false);
  });

  it("writes days in each style", () => {});
});
