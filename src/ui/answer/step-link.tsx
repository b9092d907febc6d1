"use client";

import { Link } from "../controls/link";
import type { NextStep } from "@/core/answer/next-step";
import { formatNumber } from "@/core/units/number";
import { MakeStep } from "../plan/make-step";

/** Where a step that is no swap leads, and what its button says. */
const GO = {
  rigs: "Go to the rigs",
  judge: "See what would settle it",
  measure: "Go to Measure",
  locate: "Go to Locate",
} as const;

/** The address of the page on which a step is taken. */
function hrefOf({ go }: NextStep, studyId: string, drill: string): string {
  const base = `/studies/${studyId}/${go.kind}`;
  return "rigId" in go
    ? `${base}?${new URLSearchParams({ rig: go.rigId, direction: go.direction, drill })}`
    : base;
}

/** The minutes of a step by hand, as its button says them: " · 2 min"; nothing where no hand is needed. */
const minutesOf = ({ minutes }: NextStep) =>
  minutes && minutes > 0 ? ` · ${formatNumber(minutes)} min` : "";

/** A step as a line that does it when it is pressed. */
export function StepLink({
  step,
  studyId,
  simulated,
  drill,
}: {
  step: NextStep;
  studyId: string;
  simulated: boolean;
  drill: string;
}) {
  const words = `${step.text}${minutesOf(step)}`;
  if (step.go.kind === "swap") {
    return (
      <MakeStep studyId={studyId} ask={step.go.ask} simulated={simulated} then={null} look="line">
        {words}
      </MakeStep>
    );
  }
  return (
    <Link href={hrefOf(step, studyId, drill)} className="font-semibold underline">
      {words}
    </Link>
  );
}

/** The one next step of an answer: what to do, what for, and the button that does it. */
export function NextStepBox({
  step,
  studyId,
  simulated,
  drill,
}: {
  step: NextStep;
  studyId: string;
  simulated: boolean;
  drill: string;
}) {
  return (
    <aside
      aria-label="Next step"
      className="w-full shrink-0 self-start border-l-2 border-ink pl-4 md:ml-auto md:w-[280px]"
    >
      <p className="mb-1.5 leading-snug">
        <b className="font-semibold">{step.text}</b>
        {step.why && <span className="text-secondary"> {step.why}</span>}
      </p>
      {step.go.kind === "swap" ? (
        <MakeStep studyId={studyId} ask={step.go.ask} simulated={simulated} then={null}>
          {simulated ? "Simulate this step" : "Plan this step"}
          {minutesOf(step)}
        </MakeStep>
      ) : (
        <Link
          href={hrefOf(step, studyId, drill)}
          className="inline-block rounded-sm bg-ink px-3 py-1 font-semibold text-paper"
        >
          {GO[step.go.kind]}
        </Link>
      )}
    </aside>
  );
}
