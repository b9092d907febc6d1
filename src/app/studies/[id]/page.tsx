import type { Metadata } from "next";
import Link from "next/link";
import type { OpenQuestion } from "@/core/answer/open-question";
import { firstRigs } from "@/core/answer/first-rigs";
import { drillsDone } from "@/core/answer/study";
import { DRILLS, drillNamed } from "@/core/drills/catalogue";
import { summaryOf } from "@/core/drills/drill";
import { usualDrill } from "@/core/drills/shape";
import { capital } from "@/core/chain/wording";
import { DOING } from "@/core/units/rate";
import { counted } from "@/core/units/counted";
import { QuestionLine } from "@/ui/answer/question-line";
import { ResultsTable } from "@/ui/answer/results-table";
import { Sentence } from "@/ui/answer/sentence";
import { Origins } from "@/ui/answer/origins";
import { StudyNotes } from "@/ui/answer/study-notes";
import { Verdicts } from "@/ui/answer/verdicts";
import { CourseLater } from "@/ui/frame/course-later";
import { Legend } from "@/ui/narrows/legend";
import { narrowsRows } from "@/ui/narrows/rows";
import { NarrowsDrawing } from "@/ui/narrows/narrows-drawing";
import { Saveable } from "@/ui/out/saveable";
import { Trail } from "@/ui/frame/trail";
import { asked, courseAtFirst, keptAnswers, openKept, type Query } from "./study";

type Props = { params: Promise<{ id: string }>; searchParams: Query };

export async function generateMetadata({ params }: Props): Promise<Metadata> {
  return { title: openKept((await params).id).study.title };
}

/** The answer of a study: the sentence, the drawing, the figures, the verdicts. */
export default async function AnswerPage({ params, searchParams }: Props) {
  const whole = openKept((await params).id);
  const { direction, unit, drill: name, origin, all } = await asked(searchParams);
  const loaded = origin
    ? { ...whole, measurements: whole.measurements.filter((one) => one.origin === origin) }
    : whole;
  const answers = keptAnswers(whole, { drill: name, unit, origin });
  const shown = answers.find((answer) => answer.direction === direction)!;
  const { study, rigs } = loaded;
  const first = all ? shown.rigs : firstRigs(shown.rigs);
  const drill = shown.rigs.find(({ observation }) => observation)?.observation?.drill;
  const kind = drillNamed(shown.drill);
  const usual = kind.summary(usualDrill(kind.name, kind.directions[0]!) as never);
  // What was done can be asked for, and what could be done next.
  const done = drillsDone(loaded.measurements, direction).map((one) => one.name);
  const choices = DRILLS.filter(
    (one) =>
      one.directions.includes(direction) && (done.includes(one.name) || one.shows.length > 0),
  ).map((one) => ({
    name: one.name,
    title: one.title,
    what: done.includes(one.name) ? one.what : `${one.what}; not done yet`,
  }));
  const names = [...new Set(rigs.flatMap(({ parts }) => parts.at(-1)?.name ?? []))];
  const drives = names.length > 2 ? `${names.length} drives` : names.join(" and ");
  const simulated = study.simulated
    ? "simulated sample data"
    : shown.rigs.some(({ observation }) => observation?.origin === "simulated") &&
      "simulated runs among them";
  const repeats = shown.rigs.flatMap(({ observation }) => observation?.repeats.n ?? []);

  return (
    <>
      <Trail title={study.title} simulated={study.simulated} />
      <CourseLater studyId={study.id} stages={courseAtFirst(whole)} current="" />
      <div className="mt-3 flex gap-8">
        <Sentence sentences={shown.answer.sentences} />
        {shown.answer.open && (
          <Open question={shown.answer.open} studyId={study.id} drill={shown.drill} />
        )}
      </div>
      {rigs.length > 0 && (
        <>
          <div className="mt-3">
            <QuestionLine
              drives={drives}
              several={names.length > 1}
              drill={shown.drill}
              drills={choices}
              summary={drill ? summaryOf(drill) : usual}
              rigCount={rigs.length}
              direction={direction}
              unit={unit}
            />
          </div>
          <Origins
            measurements={whole.measurements}
            shown={origin}
            query={{ direction, unit, drill: shown.drill }}
          />
          <Saveable
            className="mt-1 border border-line bg-sheet px-4 py-3"
            caption={{
              title: study.title,
              note: `${kind.title} ${DOING[direction]}, medians of repeats; what each stage can carry and what flowed, ${unit}.${simulated ? ` ${capital(simulated)}.` : ""}`,
            }}
            rows={narrowsRows(first, direction, unit)}
            corner
          >
            <NarrowsDrawing rigs={first} direction={direction} unit={unit} />
          </Saveable>
          <div className="mt-1.5 flex flex-wrap justify-between gap-x-6">
            <Legend
              direction={direction}
              flow={repeats.length > 0}
              predicted={repeats.length < rigs.length}
              states={shown.rigs.some(
                ({ standing }) => standing && Object.keys(standing.parts).length > 0,
              )}
            />
            <p className="text-[13px] text-secondary">
              {repeats.length > 0 && repeatsInWords(repeats)}
              {simulated && ` · ${simulated}`}
              {" · "}
              <a href={`/api/studies/${study.id}/file`} className="underline" download>
                Save the study as a file
              </a>
            </p>
          </div>
          {first.length < rigs.length && (
            <p className="mt-1 text-[14px]">
              Of {counted(rigs.length, "rig")} the {first.length} that lose most are shown.{" "}
              <Link
                className="underline"
                scroll={false}
                href={`?${new URLSearchParams({ direction, unit, drill: shown.drill, ...(origin ? { origin } : {}), rigs: "all" })}`}
              >
                Show all of them
              </Link>
            </p>
          )}
          <div className="mt-3 grid gap-6 xl:grid-cols-[minmax(0,1.9fr)_minmax(0,1fr)]">
            <section>
              <h2 className="mb-1 font-semibold">Figures</h2>
              <ResultsTable rigs={first} unit={unit} />
            </section>
            <section id="judge">
              <h2 className="mb-1 font-semibold">Does it deliver?</h2>
              <p className="mb-1 text-[14px]">
                <Link className="underline" href={`/studies/${study.id}/judge`}>
                  All claims of all parts, and what they rest on
                </Link>
              </p>
              <Verdicts verdicts={shown.verdicts} tolerance={study.tolerance} unit={unit} />
            </section>
          </div>
        </>
      )}
      <section className="mt-5 max-w-3xl">
        <StudyNotes studyId={study.id} notes={study.notes ?? ""} />
      </section>
    </>
  );
}

/** "3 repeats each"; where rigs differ, "2 to 5 repeats each". */
function repeatsInWords(repeats: readonly number[]): string {
  const [least, most] = [Math.min(...repeats), Math.max(...repeats)];
  return least === most
    ? `${counted(most, "repeat")} each`
    : `${least} to ${counted(most, "repeat")} each`;
}

/** What the button of a step says. */
const STEPS: Record<OpenQuestion["step"]["kind"], string> = {
  rigs: "Go to the rigs",
  measure: "Measure it",
  locate: "See what may hold it back",
  judge: "See what would settle it",
};

function Open({
  question,
  studyId,
  drill,
}: {
  question: OpenQuestion;
  studyId: string;
  drill: string;
}) {
  const { text, step } = question;
  const base = `/studies/${studyId}`;
  const href = !("rigId" in step)
    ? `${base}/${step.kind}`
    : `${base}/${step.kind}?rig=${step.rigId}&direction=${step.direction}&drill=${drill}`;
  return (
    <aside className="ml-auto w-[270px] shrink-0 self-start border-l-2 border-ink pl-4">
      <p className="mb-2 font-semibold">{text}</p>
      <Link
        href={href}
        className="inline-block rounded-sm bg-ink px-3 py-1 font-semibold text-paper"
      >
        {STEPS[step.kind]}
      </Link>
    </aside>
  );
}
