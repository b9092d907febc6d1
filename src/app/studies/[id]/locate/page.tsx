import type { Metadata } from "next";
import Link from "next/link";
import { services } from "@/services/services";
import { conclusionsOf } from "@/services/conclusions/conclusions";
import { remembered } from "@/services/conclusions/remembered";
import { opinionOf } from "@/services/conclusions/opinion";
import { locatedStudy } from "@/core/answer/located-study";
import { degreeOf } from "@/core/locate/findings/certainty";
import type { ShownPlace } from "@/core/locate/findings/shown";
import { letterOf } from "@/core/answer/lettered-rig";
import { drillsDone } from "@/core/answer/study";
import { titleOf } from "@/core/drills/drill";
import { counted } from "@/core/units/counted";
import { ratesIn } from "@/core/units/number";
import { Direction, DOING } from "@/core/units/rate";
import { CourseLater } from "@/ui/frame/course-later";
import { EmptyPage } from "@/ui/frame/empty-page";
import { Trail } from "@/ui/frame/trail";
import { learntMinutes } from "@/core/locate/steps/learnt-minutes";
import { Fold } from "@/ui/controls/fold";
import { ArgumentSteps, hasChanged, stepWords } from "@/ui/locate/argument-steps";
import { BoxGrids } from "@/ui/locate/box-grids";
import { DeadEndList } from "@/ui/locate/dead-end-list";
import { Explanations } from "@/ui/locate/explanations";
import { NextSwaps } from "@/ui/locate/next-swaps";
import { NotCountedList } from "@/ui/locate/not-counted-list";
import { OpinionForm } from "@/ui/locate/opinion-form";
import { ReachPicture } from "@/ui/locate/reach-picture";
import { RigList } from "@/ui/locate/rig-list";
import { Legend } from "@/ui/narrows/legend";
import { NarrowsDrawing } from "@/ui/narrows/narrows-drawing";
import { asked, courseAtFirst, openKept, type Query } from "../study";

export const metadata: Metadata = { title: "Locate" };

/** Whether the likeliest of all causes is shown to be what limits the rig. */
const isShown = (place: ShownPlace | undefined): boolean =>
  place !== undefined && !place.together && degreeOf(place.probability) === "shown";

/** Which part holds each rig back, by all that was measured, and what to swap next. */
export default async function LocatePage({
  params,
  searchParams,
}: {
  params: Promise<{ id: string }>;
  searchParams: Query;
}) {
  const { store } = services();
  const compared = openKept((await params).id);
  const { study } = compared;
  const wanted = await asked(searchParams);
  const { rig, step, studies } = await searchParams;
  const wide = studies === "all";
  const typed = opinionOf(store);
  const learnt = learntMinutes(compared.measurements);
  const conclusions = conclusionsOf(store, compared, wide ? { elsewhere: true } : {});
  const { drill, direction, unit } = wanted;
  const askedRig = { drill, direction, rigId: typeof rig === "string" ? rig : null };
  const found = remembered(conclusions, JSON.stringify(["located", askedRig, unit]), () =>
    locatedStudy(conclusions, askedRig, ratesIn(unit)),
  );
  const { argument, notCounted: uncounted } = found;
  const last = argument.length - 1;
  const at = step === undefined ? last : Math.max(0, Math.min(last, Number(step) || 0));
  const isNow = at === last;
  const shown = isNow ? found.shown : argument[at]!.then;
  const base = `/studies/${study.id}/locate`;
  const link = (more: Record<string, string>) =>
    `${base}?${new URLSearchParams({
      drill: found.drill,
      direction: found.direction,
      ...(wide ? { studies: "all" } : {}),
      ...(wanted.all ? { rigs: "all" } : {}),
      ...more,
    })}`;
  const others = Direction.options.flatMap((direction) =>
    drillsDone(compared.measurements, direction).map((drill) => ({ drill, direction })),
  );
  const drawing = argument[at] && (
    <section className="mt-4 border border-line bg-sheet px-4 py-3">
      <h2 className="mb-2 font-semibold">
        {argument[at].drawn.length > 1
          ? `Rig ${shown?.letter} beside rig ${argument[at].letter}`
          : `Rig ${shown?.letter}`}
      </h2>
      <NarrowsDrawing rigs={argument[at].drawn} direction={found.direction} unit={wanted.unit} />
      <div className="mt-1.5">
        <Legend direction={found.direction} states />
      </div>
    </section>
  );
  const dead = (
    <DeadEndList
      ends={found.deadEnds}
      letter={(id) => letterOf(compared.rigs.findIndex((one) => one.id === id))}
      studyId={study.id}
      simulated={study.simulated}
      then={base}
    />
  );
  return (
    <>
      <Trail title={study.title} simulated={study.simulated} studyId={study.id} />
      <CourseLater studyId={study.id} stages={courseAtFirst(compared)} current="Locate" />
      <h1 className="sr-only">Locate</h1>
      {!shown ? (
        <div className="mt-4 space-y-5">
          <EmptyPage href={`/studies/${study.id}/measure`} action="Measure a rig">
            {conclusions.knownIn(found.drill, found.direction).size > 0
              ? `${titleOf(found.asDone)}, ${DOING[found.direction]}: only simulated runs are there, and they show nothing of real parts.`
              : others.length > 0
                ? `${titleOf(found.asDone)}, ${DOING[found.direction]}, was not measured yet, so nothing can be located by it.`
                : "Nothing was measured yet, so nothing can be located."}
          </EmptyPage>
          {dead}
        </div>
      ) : (
        <>
          {!isNow && (
            <p className="mt-3 border-l-[3px] border-dashed border-ink pl-3" role="status">
              <b className="font-semibold">
                As it stood after step {at + 1} of {argument.length}.
              </b>{" "}
              <Link className="underline" href={link({ rig: shown.rigId })}>
                How it stands now
              </Link>
            </p>
          )}
          <p
            data-conclusion
            className="mt-3 font-serif text-[20px] leading-[1.28] text-pretty [overflow-wrap:anywhere] md:text-[25px]"
          >
            {shown.sentence}
          </p>
          {last > 0 && (!isNow || hasChanged(argument[at]!)) && (
            <p className="mt-1 text-[15px]">
              <span className="font-semibold">
                {isNow ? "What the last run changed" : "What this run changed"} (
                {argument[at]!.letter}, {ratesIn(wanted.unit).said(argument[at]!.observedMBps)}):
              </span>{" "}
              {stepWords(argument[at]!)}.
            </p>
          )}
          {!isNow && drawing}
          <nav aria-label="Drill" className="mt-2 flex flex-wrap gap-x-4 text-sm">
            {others.map(({ drill, direction }) => {
              const here = drill.name === found.drill && direction === found.direction;
              return (
                <Link
                  key={`${drill.name} ${direction}`}
                  href={`${base}?${new URLSearchParams({ drill: drill.name, direction })}`}
                  aria-current={here ? "true" : undefined}
                  className={here ? "font-semibold" : "text-secondary underline"}
                >
                  {drill.title}, {DOING[direction]}
                </Link>
              );
            })}
          </nav>
          <div className="mt-3 grid grid-cols-[minmax(0,1fr)] gap-6 lg:grid-cols-[minmax(0,1.5fr)_minmax(0,1fr)]">
            <div className="space-y-5">
              {dead}
              {shown.reaches.length > 0 && (
                <section className="border border-line bg-sheet px-4 py-3">
                  <h2 className="mb-2 font-semibold">
                    What each part of rig {shown.letter} has been shown to carry
                  </h2>
                  <ReachPicture
                    reaches={shown.reaches}
                    slow={shown.observedMBps}
                    title={`What the parts of rig ${shown.letter} have been shown to carry`}
                    simulated={found.simulated}
                    studyId={study.id}
                  />
                </section>
              )}
              <section>
                <h2 className="mb-2 font-semibold">
                  {shown.fromMemory
                    ? `Where the rate of rig ${shown.letter} may come from`
                    : `What may limit rig ${shown.letter}`}
                </h2>
                <Explanations places={shown.places} studyId={study.id} />
              </section>
              <BoxGrids
                grids={found.boxes}
                drill={found.drill}
                direction={found.direction}
                studyId={study.id}
                simulated={study.simulated}
                then={link({ rig: shown.rigId })}
                unit={wanted.unit}
              />
              {uncounted.length > 0 && (
                <Fold
                  summary={
                    <span className="font-semibold">
                      What does not count, or counts for little ({uncounted.length})
                    </span>
                  }
                >
                  <NotCountedList list={uncounted} studyId={study.id} />
                </Fold>
              )}
              <OpinionForm opinion={typed} learnt={learnt} />
              <p className="text-[13px] text-secondary">
                {wide ? (
                  <>
                    What these parts showed in other studies counts too.{" "}
                    <Link className="underline" href={link({ studies: "this", rig: shown.rigId })}>
                      Only this study
                    </Link>
                    .{" "}
                  </>
                ) : (
                  <>
                    Only runs of this study count.{" "}
                    <Link className="underline" href={link({ studies: "all", rig: shown.rigId })}>
                      Count what these parts showed in other studies too
                    </Link>
                    .{" "}
                  </>
                )}
                {found.simulated
                  ? "All of this rests on simulated runs."
                  : "Simulated runs are left out of this."}{" "}
                A probability follows from what was measured and from how often each cause occurs.
              </p>
            </div>
            <div className="space-y-5">
              <section className="border-l-[3px] border-ink bg-bank px-4 py-3">
                <h2 className="sr-only">What to do next</h2>
                {isNow ? (
                  <NextSwaps
                    next={shown.next}
                    borrow={shown.borrow}
                    settled={shown.settled}
                    isGroup={!isShown(shown.places[0])}
                    studyId={study.id}
                    simulated={study.simulated}
                    then={link({ rig: shown.rigId })}
                    opinion={typed}
                  />
                ) : (
                  <p>
                    <Link
                      className="underline"
                      href={link({ rig: shown.rigId, step: `${at + 1}` })}
                      scroll={false}
                    >
                      On to step {at + 2}
                    </Link>
                    : {argument[at + 1]!.name} gave{" "}
                    {ratesIn(wanted.unit).said(argument[at + 1]!.observedMBps)}.
                  </p>
                )}
              </section>
              {argument.length > 1 && (
                <section>
                  <h2 className="mb-1 font-semibold">The argument, step by step</h2>
                  <ArgumentSteps
                    steps={argument}
                    at={at}
                    hrefOf={(index) => link({ rig: shown.rigId, step: `${index}` })}
                    unit={wanted.unit}
                  />
                </section>
              )}
              <section>
                <h2 className="mb-1 font-semibold">
                  {counted(found.rigs.length, "rig")}, {titleOf(found.asDone)},{" "}
                  {DOING[found.direction]}
                </h2>
                <RigList
                  rigs={found.rigs}
                  shownId={shown.rigId}
                  hrefOf={(rigId) => link({ rig: rigId })}
                  allHref={wanted.all ? null : link({ rig: shown.rigId, rigs: "all" })}
                  rate={ratesIn(wanted.unit).said}
                />
              </section>
            </div>
          </div>
          {isNow && drawing}
        </>
      )}
    </>
  );
}
