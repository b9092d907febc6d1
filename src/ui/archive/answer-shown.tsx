"use client";

import type { Answer } from "@/core/archive/answer";
import { answerCsv, titled, writeCell } from "@/core/archive/cell";
import type { Question } from "@/core/archive/questions/question";
import { dayOfFile, fileName } from "@/core/units/file-name";
import { formatNumber } from "@/core/units/number";
import { Button } from "../controls/form";
import { CELL, FIGURE, HEAD, HEAD_RIGHT } from "../controls/table";
import { saveFile } from "../out/save";
import { AnswerPicture } from "./answer-picture";
import { TakeIn } from "./take-in";

/** Rows that a page shows; CSV has all that were answered. */
const MOST_SHOWN = 500;

/** An answer as a picture and a table. */
export function AnswerShown({
  answer,
  question,
  isSimulatedLeftOut,
}: {
  answer: Answer;
  question: Question | null;
  isSimulatedLeftOut: boolean;
}) {
  const { rows, isCut, ms } = answer;
  if (rows.length === 0)
    return (
      <p className="border border-line bg-sheet p-4" data-answer>
        No run in the archive answers that.
        {isSimulatedLeftOut && " Simulated runs are left out; count them too to see those."}
      </p>
    );
  const columns = titled(answer, question?.columns);
  const isFigure = (i: number) => typeof rows[0]![i] === "number" && columns[i]!.as !== "text";
  return (
    <div className="space-y-4" data-answer>
      {question && <AnswerPicture answer={answer} question={question} />}
      <div className="flex flex-wrap items-baseline justify-between gap-3">
        <p className="text-secondary">
          {isCut ? "More than " : ""}
          {formatNumber(rows.length)} {rows.length === 1 ? "row" : "rows"} in{" "}
          {formatNumber(ms / 1000, 1)} s
        </p>
        <div className="flex flex-wrap gap-3">
          <TakeIn answer={answer} />
          <Button
            className="text-sm"
            onClick={() =>
              saveFile(
                `${fileName(question?.name ?? "answer", dayOfFile(new Date().toISOString()))}.csv`,
                new Blob([answerCsv(answer)], { type: "text/csv" }),
              )
            }
          >
            Save as CSV
          </Button>
        </div>
      </div>
      <div className="overflow-x-auto">
        <table className="w-full">
          <thead>
            <tr>
              {columns.map(({ name, title }, i) => (
                <th key={name} className={isFigure(i) ? HEAD_RIGHT : HEAD}>
                  {title}
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {rows.slice(0, MOST_SHOWN).map((row, i) => (
              <tr key={i}>
                {row.map((value, j) => (
                  <td key={j} className={isFigure(j) ? FIGURE : CELL}>
                    {writeCell(value, columns[j]!.as)}
                  </td>
                ))}
              </tr>
            ))}
          </tbody>
        </table>
      </div>
      {rows.length > MOST_SHOWN && (
        <p className="text-sm text-secondary">
          The table shows the first {formatNumber(MOST_SHOWN)} rows; the CSV file holds all{" "}
          {formatNumber(rows.length)}.
        </p>
      )}
    </div>
  );
}
