import { describe, expect, it } from "vitest";
import { studyOf, type StudyFileInput } from "../../exchange/study-file";
import { blankStep } from "../../run/step";
import { RECORDED, replayOf } from "../../testing/replayed";
import { ReportChoice } from "../../study/report-choice";
import { twoBoxes } from "../../testing/two-boxes";
import { reportOf } from "../report";

const done = (rigId: string, seconds: number, waited: number) => {
  const replay = replayOf(seconds, waited);
  const step = { ...blankStep("replay", {}), ms: seconds * 1e3, bytes: 3e9, requests: 900, replay };
  return {
    rigId,
    drill: { name: "encore", direction: "mixed" as const, recordings: [RECORDED] },
    runs: [
      {
        status: "done" as const,
        startedAt: "2026-03-01T10:00:00.000Z",
        steps: [{ ...step, meanMBps: 3e3 / seconds }],
        samples: [],
      },
    ],
  };
};
const figures = (runs: StudyFileInput["runs"]) =>
  reportOf(
    { filed: studyOf(twoBoxes({ runs })), at: "2026-11-26T09:00:00.000Z", earlier: null },
    ReportChoice.parse({}),
  ).document.sections.find(({ key }) => key === "figures")!.blocks;

describe("recorded work in a report", () => {
  it("is said by its time and how much it waited, rig by rig", () => {
    const blocks = figures([done("r", 41, 30), done("s", 12, 4)]);
    const [prose, table] = blocks;
    expect(prose).toMatchObject({
      kind: "prose",
      words: [expect.stringMatching(/Opening the project takes 41.* through A and 12.* through B/)],
    });
    expect(
      table!.kind === "table" && table!.table.rows.map(([rig, time]) => [rig!.text, time!.value]),
    ).toEqual([
      ["B other box", 12],
      ["A own box", 41],
    ]);
  });

  it("is not there where none was done again", () => {
    const haul = {
      rigId: "r",
      drill: { name: "haul", direction: "read" as const },
      ratesMBps: [600],
    };
    const tables = figures([haul]).filter(({ kind }) => kind === "table");
    expect(tables).toHaveLength(1);
  });
});
