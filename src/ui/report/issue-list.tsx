/** An issue as it is listed. */
export interface ShownIssue {
  studyId: string;
  number: number;
  title: string;
  day: string;
}

/** Issues of a report, each with its page and its archive. */
export function IssueList({ issues }: { issues: readonly ShownIssue[] }) {
  if (issues.length === 0) return null;
  return (
    <ul className="border-t border-line">
      {issues.map(({ studyId, number, title, day }) => {
        const href = `/api/studies/${studyId}/report/issues/${number}`;
        return (
          <li
            key={`${studyId} ${number}`}
            className="flex flex-wrap items-baseline gap-x-3 border-b border-line py-1"
          >
            <a className="underline" href={href} target="_blank" rel="noreferrer">
              Issue {number}
            </a>
            <span className="text-[13px] text-secondary">{day}</span>
            <span className="min-w-0 flex-1 text-[13px] [overflow-wrap:anywhere]">{title}</span>
            <a className="text-[13px] underline" href={`${href}?form=zip`} download>
              everything by itself
            </a>
          </li>
        );
      })}
    </ul>
  );
}
