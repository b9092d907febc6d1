import { notFound } from "next/navigation";
import { services } from "@/services/services";
import { isProblem } from "@/services/problem";
import { openTrace } from "@/services/studies/trace";
import { letterOf } from "@/core/answer/lettered-rig";
import { titleOf } from "@/core/drills/drill";
import type { OpenTrace } from "@/core/study/open-trace";
import { CourseLater } from "@/ui/frame/course-later";
import { Trail } from "@/ui/frame/trail";
import { TraceView } from "@/ui/trace/trace-view";
import { courseAtFirst, openKept, type Query } from "../study";

export const metadata = { title: "A run" };

/** More lines than this over each other tell nothing. */
const MOST = 6;

/** What happened in one run, with others laid over it: ?run= for each. */
export default async function TracePage({
  params,
  searchParams,
}: {
  params: Promise<{ id: string }>;
  searchParams: Query;
}) {
  const loaded = openKept((await params).id);
  const { run } = await searchParams;
  const ids = [...new Set([run].flat().flatMap((id) => id ?? []))].slice(0, MOST);
  const traces = ids.map(tryOpen).filter((trace) => trace !== null);
  if (traces.length === 0) notFound();
  const { study, rigs, measurements } = loaded;
  const nameOf = (rigId: string, repeat: number) => {
    const at = rigs.findIndex((rig) => rig.id === rigId);
    return `${at < 0 ? "–" : letterOf(at)}, repeat ${repeat + 1}`;
  };
  const choices = measurements.flatMap((one) =>
    one.runs
      .filter(({ status }) => status !== "running")
      .map(({ id, repeat }) => ({
        runId: id,
        name: `${nameOf(one.rigId, repeat)}, ${titleOf(one.drill)}, ${one.drill.direction}`,
        hint: one.rig.name,
      })),
  );
  return (
    <>
      <Trail title={study.title} simulated={study.simulated} studyId={study.id} />
      <CourseLater studyId={study.id} stages={courseAtFirst(loaded)} current="Measure" />
      <TraceView
        key={traces[0]!.runId}
        traces={traces}
        names={traces.map(({ rigId, repeat, rigName }) => `${nameOf(rigId, repeat)}, ${rigName}`)}
        choices={choices.slice(0, 500)}
      />
    </>
  );
}

function tryOpen(id: string): OpenTrace | null {
  try {
    return openTrace(services().store, id);
  } catch (error) {
    if (isProblem(error) && error.status === 404) return null;
    throw error;
  }
}
