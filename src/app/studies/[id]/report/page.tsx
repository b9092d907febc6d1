import type { Metadata } from "next";
import { services } from "@/services/services";
import { choiceOf, issuesOf } from "@/services/reports/make-report";
import { formatDayHere } from "@/core/units/day";
import { CourseLater } from "@/ui/frame/course-later";
import { Trail } from "@/ui/frame/trail";
import { ReportView } from "@/ui/report/report-view";
import { courseAtFirst, openKept } from "../study";

export const metadata: Metadata = { title: "Report" };

/** What the tester publishes of a study: as it stands, and as it was issued. */
export default async function ReportPage({ params }: { params: Promise<{ id: string }> }) {
  const kept = openKept((await params).id);
  const { store } = services();
  const { study } = kept;
  const choice = choiceOf(store, study.id);
  const issues = issuesOf(store, study.id).map(({ issuedAt, ...one }) => ({
    ...one,
    day: formatDayHere(issuedAt),
  }));
  return (
    <>
      <Trail title={study.title} simulated={study.simulated} studyId={study.id} />
      <CourseLater studyId={study.id} stages={courseAtFirst(kept)} current="Report" />
      <h1 className="sr-only">Report</h1>
      <ReportView studyId={study.id} choice={choice} issues={issues} />
    </>
  );
}
