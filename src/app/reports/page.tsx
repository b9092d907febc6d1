import { formatDayHere } from "@/core/units/day";
import { EmptyPage } from "@/ui/frame/empty-page";
import type { Metadata } from "next";
import { services } from "@/services/services";
import { allIssues } from "@/services/reports/make-report";
import { IssueList } from "@/ui/report/issue-list";

export const metadata: Metadata = { title: "Issued reports" };

/** Every report that was issued, also those of studies that are gone. */
export default function ReportsPage() {
  const issues = allIssues(services().store).map(({ issuedAt, ...one }) => ({
    ...one,
    day: formatDayHere(issuedAt),
  }));
  return (
    <div className="max-w-3xl">
      <h1 className="mb-2 font-serif text-[25px]">Issued reports</h1>
      {issues.length > 0 ? (
        <IssueList issues={issues} />
      ) : (
        <EmptyPage href="/" action="See all studies">
          No report is issued yet. A study’s report is the last stage of its course.
        </EmptyPage>
      )}
    </div>
  );
}
