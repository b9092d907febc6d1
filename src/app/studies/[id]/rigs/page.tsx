import { bench } from "@/bench/bench";
import { shelf } from "@/bench/shelf";
import { Course } from "@/ui/frame/course";
import { Trail } from "@/ui/frame/trail";
import { RigsView } from "@/ui/rigs/rigs-view";
import { bothAnswers, courseOf, loadStudy } from "../study";

export const metadata = { title: "Rigs" };

export default async function RigsPage({ params }: { params: Promise<{ id: string }> }) {
  const loaded = loadStudy((await params).id);
  const { study, rigs } = loaded;
  const parts = shelf(bench().store).filter(({ retired }) => !retired);
  return (
    <>
      <Trail title={study.title} simulated={study.simulated} />
      <Course stages={courseOf(loaded, bothAnswers(loaded))} current="Rigs" />
      <RigsView studyId={study.id} rigs={rigs} shelf={parts} />
    </>
  );
}
