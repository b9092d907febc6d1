import type { Metadata } from "next";
import type { LetteredRig } from "@/core/answer/lettered-rig";
import { drillsDone, type StudyAnswer } from "@/core/answer/study";
import { ARGUED, whyOf } from "@/core/answer/why";
import { DRILLS, drillNamed } from "@/core/drills/catalogue";
import { checkDemand } from "@/core/demand/check";
import { shownBy } from "@/core/demand/shown";
import { summaryOf } from "@/core/drills/drill";
import { usualDrill } from "@/core/drills/shape";
import { capital } from "@/core/chain/wording";
import type { Conclusions } from "@/core/conclude/conclusions";
import { claimsTold } from "@/core/judge/tell";
import { counts, type BriefMeasurement } from "@/core/study/measurement";
import { counted } from "@/core/units/counted";
import { ratesIn } from "@/core/units/number";
import { DOING, type RateUnit } from "@/core/units/rate";
import { ClaimsLine } from "@/ui/answer/claims-line";
import { drawBars, drawRigs } from "@/ui/answer/drawn";
import { FindingsDrawing, type DrawnGroup } from "@/ui/answer/findings-drawing";
import { Headline } from "@/ui/answer/headline";
import { OrderChoice } from "@/ui/answer/order-choice";
import { Origins } from "@/ui/answer/origins";
import { RestOfRigs } from "@/ui/answer/rest-of-rigs";
import { QuestionLine } from "@/ui/answer/question-line";
import { ResultsTable } from "@/ui/answer/results-table";
import { NextStepBox } from "@/ui/answer/step-link";
import { StudyNotes } from "@/ui/answer/study-notes";
import { Fold } from "@/ui/controls/fold";
import { Demands } from "@/ui/demands/demands";
import { CourseLater } from "@/ui/frame/course-later";
import { Trail } from "@/ui/frame/trail";
import { Legend } from "@/ui/narrows/legend";
import { narrowsRows } from "@/ui/narrows/rows";
import { answerSlide } from "@/ui/answer/answer-slide";
import { Saveable } from "@/ui/out/saveable";
import {
  asked,
  courseAtFirst,
  keptAnswers,
  keptConclusions,
  openKept,
  type Order,
  type Query,
} from "./study";

type Props = { params: Promise<{ id: string }>; searchParams: Query };

export async function generateMetadata({ params }: Props): Promise<Metadata> {
  return { title: openKept((await params).id).study.title };
}

/** More rigs than these are drawn as bars, unless their channels are asked for. */
const MOST_DRAWN = 40;
/** Rigs of one page, as bars. */
const ON_A_PAGE = 200;

/** The answer of a study: the headline, the next step, the claims, and the drawing grouped by cause. */
export default async function AnswerPage({ params, searchParams }: Props) {
  const whole = openKept((await params).id);
  const wanted = await asked(searchParams);
  const { direction, unit, drill: name, origin, order } = wanted;
  const answers = keptAnswers(whole, { drill: name, unit, origin });
  const shown = answers.find((answer) => answer.direction === direction)!;
  const { study } = whole;
  const conclusions = keptConclusions(whole, origin);
  const isDrawn = wanted.all || shown.rigs.length <= MOST_DRAWN;
  const most = isDrawn ? MOST_DRAWN : ON_A_PAGE;
  const first = firstOf(shown, order, most);
  const measurements = origin
    ? whole.measurements.filter((one) => one.origin === origin)
    : whole.measurements;

  return (
    <>
      <Trail title={study.title} simulated={study.simulated} studyId={study.id} />
      <CourseLater studyId={study.id} stages={courseAtFirst(whole)} current="" />
      <div className="mt-2 flex flex-wrap gap-x-8 gap-y-2 md:flex-nowrap">
        <Headline sentences={shown.headline} />
        {shown.next && (
          <NextStepBox
            step={shown.next}
            studyId={study.id}
            simulated={study.simulated}
            drill={shown.drill}
          />
        )}
      </div>
      {shown.rigs.length > 0 && (
        <>
          <div className="mt-2">
            <ClaimsLine
              told={claimsTold(conclusions.judged(ratesIn(unit)))}
              tolerance={study.tolerance}
              studyId={study.id}
            />
          </div>
          <div className="mt-1.5 flex flex-wrap items-baseline justify-between gap-x-6">
            <QuestionLine
              {...questionOf(shown, drillsDone(measurements, direction))}
              direction={direction}
              unit={unit}
            />
            <OrderChoice value={order} />
          </div>
          <Origins
            measurements={whole.measurements}
            shown={origin}
            query={{ direction, unit, drill: shown.drill }}
          />
          <Saveable
            className="mt-1 border border-line bg-sheet px-4 py-1.5"
            caption={{
              title: study.title,
              note: `${drillNamed(shown.drill).title} ${DOING[direction]}, medians of repeats; what each stage can carry and what flowed, ${unit}.${simulatedWords(shown, study.simulated, capital)}`,
            }}
            rows={narrowsRows(first, direction, unit)}
            slide={answerSlide(shown, first, {
              unit,
              counted: drillNamed(shown.drill).shows.includes("iops"),
              source: `${study.title}: ${drillNamed(shown.drill).title} ${DOING[direction]}, medians in ${unit}; width: what each stage can carry.${simulatedWords(shown, study.simulated, capital)} Made with Nerrit.`,
            })}
            foot={<Foot shown={shown} studyId={study.id} simulated={study.simulated} />}
          >
            <FindingsDrawing
              groups={groupsOf(shown, first, conclusions, unit)}
              drawn={isDrawn ? drawRigs(first, direction, unit) : null}
              bars={isDrawn ? [] : drawBars(first, direction, unit)}
              ordered={order === "cause" ? null : first.map(({ rig }) => rig.id)}
              direction={direction}
              unit={unit}
              studyId={study.id}
              simulated={study.simulated}
              drill={shown.drill}
            />
          </Saveable>
          <RestOfRigs
            shown={first.length}
            of={shown.rigs.length}
            most={MOST_DRAWN}
            isDrawn={isDrawn}
            {...wanted}
          />
          <Fold className="mt-3" summary="Figures as a table" open={shown.rigs.length <= 12}>
            <div className="overflow-x-auto" tabIndex={0} role="group" aria-label="Figures">
              <ResultsTable rigs={first} unit={unit} />
            </div>
          </Fold>
        </>
      )}
      <Demands
        studyId={study.id}
        demands={study.demands}
        rigs={whole.rigs.slice(0, MOST_DRAWN).map((rig) => ({
          rig,
          checks: study.demands.map((demand) =>
            checkDemand(rig, demand, (way) =>
              shownBy(whole.evidence.of.get(rig.id) ?? [], rig, way),
            ),
          ),
        }))}
      />
      <section className="mt-5 max-w-3xl">
        <StudyNotes studyId={study.id} notes={study.notes ?? ""} />
      </section>
    </>
  );
}

/** The rigs that are shown first, in the order that was asked for. */
function firstOf({ rigs, groups }: StudyAnswer, order: Order, most: number): LetteredRig[] {
  const rate = ({ observation }: LetteredRig) => observation?.repeats.median ?? -1;
  const all =
    order === "letter"
      ? rigs
      : order === "rate"
        ? rigs.toSorted((a, b) => rate(b) - rate(a))
        : groups.flatMap((group) => group.rigs);
  return all.slice(0, most);
}

/** The findings with the rigs that are shown of each. */
function groupsOf(
  { groups, told }: StudyAnswer,
  first: readonly LetteredRig[],
  conclusions: Conclusions,
  unit: RateUnit,
): DrawnGroup[] {
  const { measurements } = conclusions;
  const shown = new Set(first.map(({ rig }) => rig.id));
  return groups.flatMap((group, i): DrawnGroup[] => {
    const rigIds = group.rigs.map(({ rig }) => rig.id).filter((id) => shown.has(id));
    if (rigIds.length === 0) return [];
    const { title, certainty, next } = told[i]!;
    const why = i < ARGUED ? whyOf(group, conclusions, ratesIn(unit)) : null;
    const impossible = group.kind === "impossible" ? runsOf(group.rigs, measurements) : [];
    return [{ key: group.key, title, certainty, next, why, impossible, rigIds }];
  });
}

/** The runs that some rigs are known by, by their ids. */
function runsOf(rigs: readonly LetteredRig[], measurements: readonly BriefMeasurement[]): string[] {
  const ids = new Set(rigs.flatMap(({ observation }) => observation?.measurementIds ?? []));
  return measurements
    .filter(({ id }) => ids.has(id))
    .flatMap(({ runs }) => runs.filter(counts).map(({ id }) => id));
}

/** What the question line says and offers: what was done, and what could be done next. */
function questionOf({ rigs, drill: asked, direction }: StudyAnswer, done: { name: string }[]) {
  const drill = rigs.find(({ observation }) => observation)?.observation?.drill;
  const kind = drillNamed(asked);
  const usual = kind.summary(usualDrill(kind.name, kind.directions[0]!) as never);
  const isDone = (name: string) => done.some((one) => one.name === name);
  const names = [...new Set(rigs.flatMap(({ rig }) => rig.parts.at(-1)?.name ?? []))];
  return {
    drives: names.length > 2 ? `${names.length} drives` : names.join(" and "),
    several: names.length > 1,
    drill: asked,
    drills: DRILLS.filter(
      (one) => one.directions.includes(direction) && (isDone(one.name) || one.shows.length > 0),
    ).map((one) => ({
      name: one.name,
      title: one.title,
      what: isDone(one.name) ? one.what : `${one.what}; not done yet`,
    })),
    summary: drill ? summaryOf(drill) : usual,
    rigCount: rigs.length,
  };
}

/** Whether what is shown was made up by the simulated bench, as a sentence; empty where nothing was. */
function simulatedWords(
  { rigs }: StudyAnswer,
  isSample: boolean,
  write: (text: string) => string = (text) => text,
): string {
  const some = rigs.some(({ observation }) => observation?.origin === "simulated");
  if (!isSample && !some) return "";
  return ` ${write(isSample ? "simulated sample data" : "simulated runs among them")}.`;
}

/** What stands below the drawing: its legend, how often each was repeated, the study as a file. */
function Foot({
  shown,
  studyId,
  simulated,
}: {
  shown: StudyAnswer;
  studyId: string;
  simulated: boolean;
}) {
  const repeats = shown.rigs.flatMap(({ observation }) => observation?.repeats.n ?? []);
  return (
    <div className="flex flex-wrap gap-x-6 gap-y-1">
      <Legend
        direction={shown.direction}
        flow={repeats.length > 0}
        host={shown.rigs.some(({ machine }) => machine)}
        predicted={repeats.length < shown.rigs.length}
        likely={shown.groups.some(
          ({ kind, certainty }) => kind === "cause" && certainty?.degree !== "shown",
        )}
        states={shown.rigs.some(
          ({ standing }) => standing && Object.keys(standing.parts).length > 0,
        )}
      />
      <p className="text-[13px] text-secondary">
        {repeats.length > 0 && `${repeatsInWords(repeats)}.`}
        {simulatedWords(shown, simulated, capital)}{" "}
        <a href={`/api/studies/${studyId}/file`} className="underline" download>
          Save the study as a file
        </a>
      </p>
    </div>
  );
}

/** "3 repeats each"; where rigs differ, "2 to 5 repeats each". */
function repeatsInWords(repeats: readonly number[]): string {
  const [least, most] = [Math.min(...repeats), Math.max(...repeats)];
  return least === most
    ? `${counted(most, "repeat")} each`
    : `${least} to ${counted(most, "repeat")} each`;
}
