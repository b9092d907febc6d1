"use client";

import { useRouter } from "next/navigation";
import { useRef, useState } from "react";
import type { ReportChoice } from "@/core/study/report-choice";
import { counted } from "@/core/units/counted";
import { Button, Trouble } from "../controls/form";
import { send } from "../controls/send";
import { saySaved } from "../controls/toast";
import { ChoiceForm } from "./choice-form";
import { Pieces } from "./pieces";
import { Photos } from "./photos";
import { IssueList, type ShownIssue } from "./issue-list";

/** The report of a study as it stands, what can be chosen of it, and what was issued. */
export function ReportView({
  studyId,
  choice: kept,
  issues,
}: {
  studyId: string;
  choice: ReportChoice;
  issues: ShownIssue[];
}) {
  const router = useRouter();
  const [choice, setChoice] = useState(kept);
  const [trouble, setTrouble] = useState<string | null>(null);
  const [issuing, setIssuing] = useState(false);
  /** Which of the changes is shown: the page is fetched anew with each. */
  const [shown, setShown] = useState(0);
  /** The version of it that has come. */
  const [made, setMade] = useState<number | null>(null);
  const base = `/api/studies/${studyId}/report`;
  // Changes are sent one after another, so that the last one stays.
  const sending = useRef(Promise.resolve());
  const keep = (next: ReportChoice) => {
    setChoice(next);
    sending.current = sending.current.then(async () => {
      const sent = await send("PUT", base, next);
      setTrouble(sent.ok ? null : sent.error.message);
      if (sent.ok) setShown((before) => before + 1);
    });
  };
  const issue = async () => {
    setIssuing(true);
    await sending.current;
    const sent = await send<{ number: number }>("POST", `${base}/issues`, {});
    setIssuing(false);
    setTrouble(sent.ok ? null : sent.error.message);
    if (!sent.ok) return;
    saySaved(`Issue ${sent.data.number} is kept.`);
    router.refresh();
  };
  const [last] = issues;
  return (
    <div className="mt-3 grid grid-cols-[minmax(0,1fr)] gap-6 lg:grid-cols-[minmax(300px,350px)_minmax(0,1fr)]">
      <div className="space-y-5">
        <section className="space-y-2">
          <p>
            {last
              ? `${counted(issues.length, "issue")}, the last on ${last.day}. What is shown here stays live.`
              : "Not issued yet: what is shown here stays live."}
          </p>
          <div className="flex flex-wrap gap-2">
            <Button main onClick={issue} disabled={issuing}>
              {issuing ? "Issuing …" : `Issue it as number ${(last?.number ?? 0) + 1}`}
            </Button>
          </div>
          <p className="text-[13px] text-secondary">
            An issue keeps the report and the data it rests on as they are now; nothing changes it
            later.
          </p>
          {trouble && <Trouble>{trouble}</Trouble>}
          <IssueList issues={issues} />
        </section>
        <section>
          <h2 className="mb-1 font-semibold">Export</h2>
          <ul className="space-y-0.5">
            <li>
              <a
                className="underline"
                href={`${base}?shown=${shown}`}
                target="_blank"
                rel="noreferrer"
              >
                Open the page, to print it or keep it as PDF
              </a>
            </li>
            <li>
              <a className="underline" href={`${base}?shown=${shown}`} download>
                Save the page: one file, no network needed
              </a>
            </li>
            <li>
              <a className="underline" href={`${base}?form=zip&shown=${shown}`} download>
                Download all as ZIP: page, Markdown, pictures, tables, study
              </a>
            </li>
          </ul>
          <div className="mt-2">
            <Pieces key={shown} archive={`${base}?form=zip&shown=${shown}`} />
          </div>
        </section>
        <ChoiceForm choice={choice} onChange={keep} />
        <Photos photos={choice.photos} onChange={(photos) => keep({ ...choice, photos })} />
      </div>
      <div
        aria-busy={made !== shown}
        className="relative h-[calc(100vh-190px)] min-h-[480px] lg:sticky lg:top-3"
      >
        <iframe
          key={shown}
          title="The report as it stands"
          src={`${base}?shown=${shown}`}
          onLoad={() => setMade(shown)}
          className="size-full border border-line bg-sheet"
        />
        {made !== shown && (
          <p role="status" className="absolute top-3 left-4 text-secondary">
            The report is being made …
          </p>
        )}
      </div>
    </div>
  );
}
