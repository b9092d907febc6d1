"use client";

import { Link } from "../controls/link";
import { useId, useState } from "react";
import type { Evidence } from "@/core/locate/findings/for-and-against";
import type { NextStep } from "@/core/answer/next-step";
import type { Why } from "@/core/answer/why";
import type { Direction } from "@/core/units/rate";
import { LeaveOutRuns } from "./leave-out-runs";
import { StepLink } from "./step-link";

/** One finding over the rigs that it explains: the cause, how sure it is, its own next step, and why. */
export function FindingHeading({
  title,
  certainty,
  next,
  why,
  impossible,
  studyId,
  simulated,
  drill,
  direction,
}: {
  title: string;
  certainty: string | null;
  next: NextStep | null;
  why: Why | null;
  /** Runs that cannot be true, by their ids. */
  impossible: readonly string[];
  studyId: string;
  simulated: boolean;
  drill: string;
  direction: Direction;
}) {
  const [open, setOpen] = useState(false);
  const id = useId();
  return (
    <div className="sticky top-0 z-10 col-span-3 bg-sheet pt-1">
      <div className="flex flex-wrap items-baseline gap-x-5 gap-y-0.5">
        <h2 className="font-serif text-[19px] leading-6 [overflow-wrap:anywhere]">{title}</h2>
        {certainty && <span className="text-[14px] text-secondary">{certainty}</span>}
        {why && (
          <button
            type="button"
            aria-expanded={open}
            aria-controls={id}
            className="text-[14px] underline"
            onClick={() => setOpen(!open)}
          >
            Why
          </button>
        )}
        {impossible.length > 0 && <LeaveOutRuns runIds={impossible} reason={title} />}
        {next && (
          <span className="ml-auto">
            <StepLink step={next} studyId={studyId} simulated={simulated} drill={drill} />
          </span>
        )}
      </div>
      {why && (
        <div
          id={id}
          hidden={!open}
          className="mb-2 max-w-3xl border-l-2 border-line pl-3 text-[15px]"
        >
          <p>{why.sentence}</p>
          <EvidenceList words="For it" evidence={why.for} />
          <EvidenceList words="Against it" evidence={why.against} />
          <Link
            href={`/studies/${studyId}/locate?${new URLSearchParams({ rig: why.rigId, drill, direction })}`}
            className="underline"
          >
            All causes and what argues for each
          </Link>
        </div>
      )}
    </div>
  );
}

function EvidenceList({ words, evidence }: { words: string; evidence: readonly Evidence[] }) {
  if (evidence.length === 0) return null;
  return (
    <div className="mt-1">
      <p className="font-semibold">{words}</p>
      <ul className="list-disc pl-5">
        {evidence.map(({ text }) => (
          <li key={text}>{text}</li>
        ))}
      </ul>
    </div>
  );
}
