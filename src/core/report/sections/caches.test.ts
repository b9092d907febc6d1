import { expect, it } from "vitest";
import { studyOf, type StudyFileInput } from "../../exchange/study-file";
import { ReportChoice } from "../../study/report-choice";
import { filledAt } from "../../testing/filled";
import { twoBoxes } from "../../testing/two-boxes";
import { reportOf } from "../report";

const figures = (runs: StudyFileInput["runs"]) =>
  reportOf(
    { filed: studyOf(twoBoxes({ runs })), at: "2026-11-26T09:00:00.000Z", earlier: null },
    ReportChoice.parse({}),
  ).document.sections.find(({ key }) => key === "figures")!.blocks;

it("says a cache over its free space in a report, with a row for each fill, and of one fill nothing", () => {
  const fills = [0, 0.5, 0.9].map((level) => filledAt("r", level, (10 + 200 * (1 - level)) * 1e9));
  const tables = (runs: StudyFileInput["runs"]) =>
    figures(runs).flatMap((block) =>
      block.kind === "table" && block.table.key === "cache-1" ? [block.table] : [],
    );
  const [table] = tables(fills);
  expect(
    table!.rows.map(([, free, cache]) => [free!.value, Math.round(Number(cache!.value) / 1e9)]),
  ).toEqual([
    [1e12, 210],
    [0.5e12, 110],
    [expect.closeTo(0.1e12), 30],
  ]);
  expect(tables(fills.slice(0, 1))).toEqual([]);
});
