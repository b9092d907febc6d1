import type { Metadata } from "next";
import { services } from "@/services/services";
import { conclusionsOf } from "@/services/conclusions/conclusions";
import { remembered } from "@/services/conclusions/remembered";
import { opinionOf } from "@/services/conclusions/opinion";
import { locatedStudy } from "@/core/answer/located-study";
import { letterOf } from "@/core/answer/lettered-rig";
import { drillsDone } from "@/core/answer/study";
import { titleOf } from "@/core/drills/drill";
import { learntMinutes } from "@/core/locate/steps/learnt-minutes";
import { ratesIn } from "@/core/units/number";
import { Direction, DOING } from "@/core/units/rate";
import { CourseLater } from "@/ui/frame/course-later";
import { EmptyPage } from "@/ui/frame/empty-page";
import { Trail } from "@/ui/frame/trail";
import { DeadEndList } from "@/ui/locate/dead-end-list";
import { LocatedView } from "@/ui/locate/located-view";
import { asked, courseAtFirst, openKept, type Query } from "../study";

export const metadata: Metadata = { title: "Locate" };

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
  const conclusions = conclusionsOf(store, compared, wide ? { elsewhere: true } : {});
  const { drill, direction, unit } = wanted;
  const askedRig = { drill, direction, rigId: typeof rig === "string" ? rig : null };
  const found = remembered(conclusions, JSON.stringify(["located", askedRig, unit]), () =>
    locatedStudy(conclusions, askedRig, ratesIn(unit)),
  );
  const last = found.argument.length - 1;
  const at = step === undefined || last < 0 ? last : Math.max(0, Math.min(last, Number(step) || 0));
  const shown = at === last ? found.shown : found.argument[at]!.then;
  const base = `/studies/${study.id}/locate`;
  const others = Direction.options.flatMap((way) =>
    drillsDone(compared.measurements, way).map((one) => ({ drill: one, direction: way })),
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
      {shown ? (
        <LocatedView
          study={study}
          found={found}
          shown={shown}
          at={at}
          drills={others}
          wide={wide}
          all={wanted.all}
          unit={unit}
          opinion={opinionOf(store)}
          learnt={learntMinutes(compared.measurements)}
          dead={dead}
        />
      ) : (
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
      )}
    </>
  );
}
