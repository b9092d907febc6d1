import { notFound } from "next/navigation";
import { USUAL_DRILL } from "@/core/drills/catalogue";
import { listed } from "@/core/study/listed";
import { CourseLater } from "@/ui/frame/course-later";
import { Trail } from "@/ui/frame/trail";
import { SimulateView } from "@/ui/simulate/simulate-view";
import { courseAtFirst, openKept, type Query } from "../study";

export const metadata = { title: "Simulated" };

/** A rig of the study on the simulated bench, beside what was measured. */
export default async function SimulatedPage({
  params,
  searchParams,
}: {
  params: Promise<{ id: string }>;
  searchParams: Query;
}) {
  const loaded = openKept((await params).id);
  const { study, rigs, measurements } = loaded;
  const { rig: named, m } = await searchParams;
  const done = measurements.filter(({ runs }) => runs.some(({ result }) => result)).map(listed);
  const shown = done.find(({ id }) => id === m);
  const rig = rigs.find(({ id }) => id === (shown?.rigId ?? named)) ?? rigs[0];
  if (!rig) notFound();
  const against = shown ?? done.find(({ rigId }) => rigId === rig.id);
  return (
    <>
      <Trail title={study.title} simulated={study.simulated} studyId={study.id} />
      <CourseLater studyId={study.id} stages={courseAtFirst(loaded)} current="Rigs" />
      <SimulateView
        key={`${rig.id} ${against?.id ?? ""}`}
        studyId={study.id}
        rigs={rigs}
        measured={done}
        first={{
          rigId: rig.id,
          drill: USUAL_DRILL.name,
          direction: "read",
          measurementId: against?.id ?? "",
          recordings: "",
          seed: "1",
          ambient: "22",
          filled: "",
          used: false,
          cacheGB: "",
          foldedMBps: "",
          faults: null,
        }}
      />
    </>
  );
}
