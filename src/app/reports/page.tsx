import type { Metadata } from "next";
import { services } from "@/services/services";
import { allIssues } from "@/services/reports/report";
import { IssueList } from "@/ui/report/issue-list";

export const metadata: Metadata = { title: "Issued reports" };

/** Every report that was issued, also those of studies that are gone. */
export default function ReportsPage() {
  const issues = allIssues(services().store).map(({ issuedAt, ...one }) => ({
    ...one,
    day: issuedAt.slice(0, 10),
  }));
  return (
    <div className="max-w-3xl">
      <h1 className="mb-2 font-serif text-[25px]">Issued reports</h1>
      {issues.length > 0 ? (
        <IssueList issues={issues} />
      ) : (
        <p>
          Nothing has been issued yet. Each study has its report as the last stage of its course.
        </p>
      )}
    </div>
  );
}
