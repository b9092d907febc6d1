import { services } from "@/services/services";
import { answerQuestion, tracesOf } from "@/services/conclusions/comparison";
import { letterOf } from "@/core/answer/lettered-rig";
import { questionFrom } from "@/core/compare/question";
import { drillNamed } from "@/core/drills/catalogue";
import { CompareView } from "@/ui/compare/compare-view";
import { CourseLater } from "@/ui/frame/course-later";
import { Trail } from "@/ui/frame/trail";
import { courseAtFirst, drawnOf, openKept, type Query } from "../study";

export const metadata = { title: "Compare" };

/** How drives do through rigs: the question stands in the address. */
export default async function ComparePage({
  params,
  searchParams,
}: {
  params: Promise<{ id: string }>;
  searchParams: Query;
}) {
  const { store } = services();
  const compared = openKept((await params).id);
  const question = questionFrom(await searchParams);
  const shown = answerQuestion(store, compared, question);
  const { study, rigs, leftOut } = compared;
  return (
    <>
      <Trail title={study.title} simulated={study.simulated} studyId={study.id} />
      <CourseLater studyId={study.id} stages={courseAtFirst(compared)} current="Compare" />
      <CompareView
        studyId={study.id}
        question={question}
        shown={shown}
        drawn={question.view === "narrows" ? drawnOf(compared, shown) : []}
        traces={question.view === "traces" ? tracesOf(services().store, shown) : []}
        leftOut={leftOut.map(({ runId, rigId, drill, why }) => ({
          runId,
          why,
          drill: drillNamed(drill).title,
          letter: letterOf(
            Math.max(
              0,
              rigs.findIndex(({ id }) => id === rigId),
            ),
          ),
        }))}
      />
    </>
  );
}
