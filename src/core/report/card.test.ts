import { describe, expect, it } from "vitest";
import { studyOf, type StudyFileInput } from "../exchange/study-file";
import { twoBoxes } from "../testing/two-boxes";
import { cardOf, type CardChoice } from "./card";
import type { Table } from "./document";
import { inStudy, type InStudy } from "./seen-with";
import { columnsOf, sheetOf, usualColumns } from "./sheet";

const CHOICE: CardChoice = { unit: "MB/s", numbers: "1 234.5", dates: "2026-11-26" };
const AT = "2026-11-26T09:00:00Z";
type Run = NonNullable<StudyFileInput["runs"]>[number];
const haul = (rigId: string, day: string, ...ratesMBps: number[]): Run => ({
  rigId,
  ratesMBps,
  createdAt: `${day}T10:00:00.000Z`,
  drill: { name: "haul", direction: "read" },
});
const studyWith = (title: string, runs: Run[]): InStudy => {
  const { study, rigs, measurements } = studyOf(twoBoxes({ title, runs }));
  return inStudy({ study, rigs, measurements });
};
const partOf = (id: string) => studyOf(twoBoxes()).parts.find((one) => one.id === id)!;
const table = ({ sections }: ReturnType<typeof cardOf>, key: string): Table =>
  sections
    .flatMap(({ blocks }) => blocks)
    .flatMap((block) =>
      block.kind === "table" && block.table.key === key ? [block.table] : [],
    )[0]!;
const texts = ({ rows }: Table) => rows.map((row) => row.map(({ text }) => text).join(" | "));

describe("the shelf card of a part", () => {
  const spring = studyWith("Spring", [
    haul("r", "2026-03-01", 600, 601, 602),
    haul("s", "2026-03-01", 1000, 1001, 1002),
  ]);
  const autumn = studyWith("Autumn", [haul("s", "2026-10-01", 900, 901, 902)]);

  it("says what it claims and what each study made of that", () => {
    const card = cardOf(partOf("own"), [spring], CHOICE, AT);
    expect(texts(table(card, "facts")).join()).toMatch(/price \| 40\.00 EUR/);
    expect(texts(table(card, "verdicts"))).toEqual([
      expect.stringMatching(
        /peak 950 MB\/s reading \| Falls short in this combination by 37.% \| 601 \| Spring/,
      ),
    ]);
  });

  it("says the most that passed, and what 100 MB/s of it cost", () => {
    const [row] = texts(table(cardOf(partOf("other"), [spring, autumn], CHOICE, AT), "carried"));
    expect(row).toMatch(/^Haul, reading \| 1.001 \|/);
    // 40 EUR over 10.01 times 100 MB/s.
    expect(row).toMatch(/4\.00$/);
  });

  it("says what most people ask for first", () => {
    const scatter: Run = {
      rigId: "s",
      ratesMBps: [40, 41],
      createdAt: "2026-03-02T10:00:00.000Z",
      drill: { name: "scatter", direction: "read" },
    };
    const both = studyWith("Both", [haul("s", "2026-03-01", 1000, 1001), scatter]);
    const drills = texts(table(cardOf(partOf("other"), [both], CHOICE, AT), "carried"));
    expect(drills.map((row) => row.split(",")[0])).toEqual(["Haul", "Scatter"]);
  });

  it("sees that the same set-up got slower from one day to another", () => {
    const both = studyWith("Both", [
      haul("s", "2026-03-01", 1000, 1001, 1002),
      haul("s", "2026-10-01", 900, 901, 902),
      haul("r", "2026-03-01", 600, 601, 602),
      haul("r", "2026-10-01", 600, 602, 601),
    ]);
    expect(texts(table(cardOf(partOf("other"), [both], CHOICE, AT), "drift"))[0]).toMatch(
      /2026-03-01 to 2026-10-01 \| slower by 10.%/,
    );
    expect(texts(table(cardOf(partOf("own"), [both], CHOICE, AT), "drift"))[0]).toMatch(/the same/);
    const once = cardOf(partOf("own"), [spring], CHOICE, AT);
    expect(JSON.stringify(once)).toMatch(/no set-up with it was measured on two days/);
  });

  it("sees it across studies too", () => {
    expect(texts(table(cardOf(partOf("other"), [spring, autumn], CHOICE, AT), "drift"))[0]).toMatch(
      /slower by 10.%/,
    );
  });

  it("lists every rig once, of all studies", () => {
    expect(texts(table(cardOf(partOf("d"), [spring, autumn], CHOICE, AT), "rigs"))).toHaveLength(3);
  });

  it("keeps to what fits on one page, and says what is left out", () => {
    const many = Array.from({ length: 60 }, (_, i) =>
      studyWith(`Study ${i} ${"of a long name ".repeat(5)}`, [
        haul("s", "2026-03-01", 900 + i, 901 + i),
      ]),
    );
    const card = cardOf(partOf("d"), many, CHOICE, AT);
    const lines = card.sections
      .flatMap(({ blocks }) => blocks)
      .reduce((sum, block) => sum + (block.kind === "table" ? block.table.rows.length : 1), 0);
    expect(lines).toBeLessThanOrEqual(30);
    const rigs = table(card, "rigs");
    expect(rigs.note).toMatch(new RegExp(`${60 - rigs.rows.length} more are left out`));
    for (const [name, study] of rigs.rows)
      expect(Math.max(name!.text.length, study!.text.length)).toBeLessThanOrEqual(36);
  });

  it("is there for a part that was never used", () => {
    const card = cardOf(partOf("own"), [], CHOICE, AT);
    expect(JSON.stringify(card)).toMatch(/Nothing was measured through it yet/);
  });
});

describe("the comparison sheet of a part", () => {
  const warm = { ...haul("s", "2026-03-02", 990, 991), stated: { ambientCelsius: 31 } };
  const studies = [
    studyWith("Spring", [{ ...haul("r", "2026-03-01", 600, 601), stated: { ambientCelsius: 20 } }]),
    studyWith("Summer", [warm as Run]),
  ];
  const drive = partOf("d");

  it("has the columns that were picked, and no others", () => {
    const names = columnsOf(drive, studies).map(({ key }) => key);
    expect(names).toEqual(expect.arrayContaining(["haul.read", "haul.read.efficiency", "price"]));
    expect(usualColumns(columnsOf(drive, studies))).toEqual([
      "enclosure",
      "file-system",
      "haul.read",
    ]);
    const sheet = table(
      sheetOf(drive, studies, ["price", "haul.read", "advert"], CHOICE, AT),
      "sheet",
    );
    expect(sheet.columns.map(({ name }) => name)).toEqual([
      "rig",
      "study",
      "price of the path",
      "Haul, reading, MB/s",
    ]);
    // The cable's price is not known, so that of the path is not.
    expect(texts(sheet)[0]).toMatch(/ \| – \| /);
  });

  it("puts a drive through all its rigs, by enclosure, and says where conditions differ", () => {
    const made = sheetOf(drive, studies, ["enclosure", "haul.read"], CHOICE, AT);
    expect(texts(table(made, "sheet"))).toEqual([
      expect.stringMatching(
        /other box \| Summer \| Box other \| 991|other box \| Summer \| Box other \| 990/,
      ),
      expect.stringMatching(/own box \| Spring \| Box own \| 60[01]/),
    ]);
    expect(JSON.stringify(made.sections[1])).toMatch(/room temperature 20 °C, there 31 °C/);
  });
});
