"use client";

import { Link } from "../controls/link";
import { useRouter } from "next/navigation";
import { useRef, useState } from "react";
import type { LetteredRig } from "@/core/answer/lettered-rig";
import { tellComparison } from "@/core/compare/comparison-words";
import { VIEWS, type Question, type ViewName } from "@/core/compare/question";
import type { ShownComparison } from "@/core/compare/shown";
import { counted } from "@/core/units/counted";
import { DOING } from "@/core/units/rate";
import type { OpenTrace } from "@/core/study/open-trace";
import { ratesIn } from "@/core/units/number";
import { Toggle } from "../controls/toggle";
import { useUnit } from "../frame/unit";
import { EmptyPage } from "../frame/empty-page";
import { NarrowsDrawing } from "../narrows/narrows-drawing";
import { drawnPage } from "../out/drawn-page";
import { OutMenu } from "../out/out-menu";
import { CacheTables } from "./cache-tables";
import { CrossCheckPrograms } from "./cross-check";
import { CompareMatrix } from "./compare-matrix";
import { CompareTable } from "./compare-table";
import { CompareTraces } from "./compare-traces";
import { Bars } from "./bars";
import { Ladders } from "./ladders";
import { NativePicture } from "./native-picture";
import { titleOf } from "./picture-look";
import { References } from "./references";
import { RepeatPoints } from "./repeat-points";
import { JobTables } from "./job-tables";
import { PracticeTable } from "./practice-table";
import { QuestionWords } from "./question-words";
import { RunsDialog } from "./runs-dialog";
import { comparisonSlide, noteOf, tableRows } from "./table-rows";
import { Suites } from "./suites";
import { useQuestion } from "./use-question";
import { WeakList } from "./weak-list";
import { WorkTables } from "./work-tables";

/** The question, its answer as it is asked to be shown, and what is weak about it. */
export function CompareView({
  studyId,
  question,
  shown,
  drawn,
  traces,
  leftOut,
}: {
  /** Null where it is of a part, over all studies. */
  studyId: string | null;
  question: Question;
  shown: ShownComparison;
  /** The rigs as the Narrows drawing takes them, where that is the view. */
  drawn: LetteredRig[];
  /** A trace of each rig, where that is the view. */
  traces: OpenTrace[];
  leftOut: { runId: string; letter: string; drill: string; why: string }[];
}) {
  const { ask, asking } = useQuestion(question);
  const router = useRouter();
  const unit = useUnit();
  const drawing = useRef<HTMLDivElement>(null);
  const [open, setOpen] = useState<{ rigId: string; column: number } | null>(null);
  const row = shown.rows.find(({ rigId }) => rigId === open?.rigId);
  const cell = open && row ? row.cells[open.column] : null;
  const column = open ? shown.columns[open.column] : undefined;
  const seen = shown.rows.some(({ cells }) => cells.some((one) => one !== null));
  return (
    <div aria-busy={asking}>
      <h1 className="sr-only">Compare</h1>
      <div className="mt-3">
        <QuestionWords question={question} shown={shown} ask={ask} />
      </div>
      {seen && (
        <p className="font-serif text-[22px] leading-8">
          {tellComparison(shown, ratesIn(unit).said)}
        </p>
      )}
      {!seen &&
      shown.works.length + shown.caches.length + shown.suites.length > 0 ? null : !seen ? (
        <EmptyPage
          href={studyId ? `/studies/${studyId}/measure` : "/shelf"}
          action={studyId ? "Measure a rig" : "See all parts"}
        >
          Nothing was measured yet that answers this question. Another drill, direction or rig can
          be chosen in its words.
        </EmptyPage>
      ) : (
        <>
          <div className="mt-2 flex flex-wrap items-center gap-4">
            <Toggle
              label="How it is shown"
              value={question.view}
              options={Object.entries(VIEWS).map(([value, text]) => ({
                value: value as ViewName,
                text,
              }))}
              onChange={(view) => ask({ view })}
            />
            <span
              className={`text-[13px] text-secondary ${asking ? "" : "invisible"}`}
              role="status"
            >
              asking…
            </span>
            <span className="ml-auto">
              {(question.view === "table" ||
                question.view === "matrix" ||
                question.view === "narrows") && (
                <OutMenu
                  caption={{ title: titleOf(shown), note: noteOf(shown, question, unit) }}
                  drawn={
                    question.view === "narrows"
                      ? () => drawing.current && drawnPage(drawing.current)
                      : undefined
                  }
                  rows={() => tableRows(shown, question, unit)}
                  slide={() => comparisonSlide(shown, question, unit)}
                />
              )}
            </span>
          </div>
          <section className="mt-2 border border-line bg-sheet px-4 py-3">
            {question.view === "table" && (
              <CompareTable
                shown={shown}
                question={question}
                onSort={(sort) => ask({ sort })}
                onOpen={({ rigId }, at) => setOpen({ rigId, column: at })}
              />
            )}
            {question.view === "matrix" && (
              <CompareMatrix
                shown={shown}
                ask={ask}
                onOpen={(rigId, column) => setOpen({ rigId, column })}
              />
            )}
            {question.view === "narrows" &&
              (drawn.length > 0 ? (
                <div ref={drawing}>
                  <NarrowsDrawing
                    rigs={drawn}
                    direction={shown.columns[0]!.direction}
                    unit={unit}
                  />
                </div>
              ) : (
                <p className="py-6 text-secondary">None of these rigs can be drawn.</p>
              ))}
            {question.view === "bars" && <Bars shown={shown} question={question} />}
            {question.view === "native" && <NativePicture shown={shown} question={question} />}
            {question.view === "ladders" && <Ladders shown={shown} question={question} />}
            {question.view === "traces" && (
              <CompareTraces traces={traces} shown={shown} unit={unit} />
            )}
            {question.view === "repeats" && <RepeatPoints shown={shown} question={question} />}
          </section>
          {shown.hidden > 0 && (
            <p className="mt-1 text-sm">
              {counted(shown.rows.length, "rig")} of {shown.rows.length + shown.hidden}, in this
              order.{" "}
              <button type="button" className="underline" onClick={() => ask({ all: true })}>
                Show all
              </button>
            </p>
          )}
          {studyId && (question.view === "table" || question.view === "bars") && (
            <References
              studyId={studyId}
              references={shown.references}
              onChanged={() => router.refresh()}
            />
          )}
          <WeakList weak={shown.weak} studyId={studyId} />
          {leftOut.length > 0 && (
            <p className="mt-2 text-sm">
              {counted(leftOut.length, "run")} left out:{" "}
              {leftOut.slice(0, 6).map(({ runId, letter, drill, why }, i) => (
                <span key={runId}>
                  {i > 0 && "; "}
                  <Link className="underline" href={`/runs/${encodeURIComponent(runId)}`}>
                    {letter}, {drill}
                  </Link>{" "}
                  ({why})
                </span>
              ))}
              {leftOut.length > 6 && ` and ${leftOut.length - 6} more`}.
            </p>
          )}
          <PracticeTable
            key={`${question.gb} ${question.other}`}
            studyId={studyId}
            shown={shown}
            question={question}
            ask={ask}
          />
        </>
      )}
      <WorkTables studyId={studyId} shown={shown} />
      <CacheTables caches={shown.caches} gigabytes={question.gb} />
      <JobTables jobs={shown.jobs} />
      {studyId && <Suites studyId={studyId} suites={shown.suites} rigs={shown.rigs} />}
      {studyId && (
        <CrossCheckPrograms
          studyId={studyId}
          rigs={shown.rigs}
          direction={shown.columns[0]?.direction ?? "read"}
        />
      )}
      {open && row && cell && column && (
        <RunsDialog
          row={row}
          cell={cell}
          title={`${column.title}, ${DOING[column.direction]}`}
          onClose={() => setOpen(null)}
        />
      )}
    </div>
  );
}
