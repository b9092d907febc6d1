import { redirect } from "next/navigation";
import { services } from "@/services/services";
import { studyOfMeasurement } from "@/services/conclusions/comparison";
import { ownDrills } from "@/services/measuring/own-drills";
import { testLike } from "@/services/studies/copy-study";
import { USUAL_DRILL } from "@/core/drills/catalogue";
import { resultMatrix } from "@/core/answer/result-matrix";
import { toldRun, type ToldRun } from "@/core/answer/told-run";
import type { BriefMeasurement } from "@/core/study/measurement";
import { ratesIn } from "@/core/units/number";
import type { RateUnit } from "@/core/units/rate";
import { listed, runBefore } from "@/core/study/listed";
import { UNSAID } from "@/core/run/stated";
import { usualTest } from "@/core/plan/usual-tests";
import { CourseLater } from "@/ui/frame/course-later";
import { Trail } from "@/ui/frame/trail";
import { MeasureView } from "@/ui/measure/measure-view";
import { asked, courseAtFirst, keptAnswers, keptConclusions, openKept, type Query } from "../study";

export const metadata = { title: "Measure" };

const one = (value: string | string[] | undefined) => (typeof value === "string" ? value : null);

export default async function MeasurePage({
  params,
  searchParams,
}: {
  params: Promise<{ id: string }>;
  searchParams: Query;
}) {
  const loaded = openKept((await params).id);
  const { study, rigs, measurements } = loaded;
  const { direction, drill, unit } = await asked(searchParams);
  const { rig, m, target, test, like } = await searchParams;
  const shown = measurements.find(({ id }) => id === m);
  // What was seen of a part in another study is shown where it was measured.
  const elsewhere = shown || !one(m) ? null : studyOfMeasurement(services().store, one(m)!);
  if (elsewhere && elsewhere !== study.id) redirect(`/studies/${elsewhere}/measure?m=${one(m)}`);
  const latest = measurements.find(({ origin }) => origin === "measured");
  return (
    <>
      <Trail title={study.title} simulated={study.simulated} studyId={study.id} />
      <CourseLater studyId={study.id} stages={courseAtFirst(loaded)} current="Measure" />
      <MeasureView
        studyId={study.id}
        rigs={rigs}
        measurements={measurements.map(listed)}
        before={shown ? runBefore(shown, measurements) : null}
        said={latest?.stated ?? UNSAID}
        rigId={rigs.some(({ id }) => id === rig) ? one(rig) : null}
        target={one(target)}
        direction={direction}
        drill={drill ?? USUAL_DRILL.name}
        plan={services().planner.latest(study.id)}
        own={ownDrills(services().store)}
        shownId={shown?.id ?? null}
        matrix={resultMatrix(keptConclusions(loaded))}
        told={shown ? toldOf(loaded, shown, unit) : null}
        simulated={study.simulated}
        test={usualTest(one(test)) ?? testLike(services().store, one(like))}
      />
    </>
  );
}

/** What a measurement came to, by all runs of its drill and direction; null where it has no result. */
function toldOf(
  loaded: ReturnType<typeof openKept>,
  shown: BriefMeasurement,
  unit: RateUnit,
): ToldRun | null {
  const { name: drill, direction } = shown.drill;
  const answer = keptAnswers(loaded, { drill, unit, origin: null }).find(
    (one) => one.direction === direction,
  );
  return toldRun(shown, answer ?? null, keptConclusions(loaded), ratesIn(unit));
}
