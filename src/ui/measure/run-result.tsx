"use client";

import type { ToldRun } from "@/core/answer/told-run";
import { counted } from "@/core/units/counted";
import { formatDuration, formatNumber, formatPercent } from "@/core/units/number";
import { NextStepBox } from "../answer/step-link";
import { useRates } from "../frame/unit";

/** What a finished run came to: the rate in large figures, what limits it, and the next step. */
export function RunResult({
  told,
  studyId,
  simulated,
}: {
  told: ToldRun;
  studyId: string;
  /** Whether the study is sample data. */
  simulated: boolean;
}) {
  const { rate, unit } = useRates();
  const {
    median,
    work,
    counted: isCounted,
    repeats,
    spread,
    ceiling,
    share,
    cautions,
    cause,
  } = told;
  const [figure, of] = work
    ? workWords(work)
    : isCounted
      ? [formatNumber(median), "requests a second"]
      : [rate(median), unit];
  return (
    <div className="mt-2 flex flex-wrap gap-x-8 gap-y-3" data-result>
      <div className="min-w-0 flex-1">
        {cautions.map((caution) => (
          <p key={caution} className="border-l-[3px] border-ink bg-bank px-3 py-1 font-medium">
            Warning: {caution}.
          </p>
        ))}
        <p className="flex flex-wrap items-baseline gap-x-4">
          <span>
            <span className="figure text-[40px] leading-none font-semibold">{figure}</span>{" "}
            <span className="text-[18px]">{of}</span>
          </span>
          <span className="text-secondary">
            {share !== null && `${formatPercent(share)} of its ceiling, ${rate(ceiling!)}; `}
            {spread === null
              ? "a single run, spread not known"
              : `${counted(repeats, "repeat")}, spread ${formatPercent(spread)}`}
          </span>
        </p>
        {cause && <p className="mt-1 font-serif text-[19px] leading-snug">{cause}</p>}
      </div>
      {told.next && (
        <NextStepBox step={told.next} studyId={studyId} simulated={simulated} drill={told.drill} />
      )}
    </div>
  );
}

/** The time of recorded work: its figure, and the rest of what is said. */
function workWords({ seconds, waitedSeconds }: NonNullable<ToldRun["work"]>): [string, string] {
  const [, figure, unit] = /^(.*\d)\s(\D+)$/.exec(formatDuration(seconds * 1e3)) ?? [];
  const waited = formatDuration(waitedSeconds * 1e3);
  return [
    figure ?? formatDuration(seconds * 1e3),
    `${unit ? `${unit} ` : ""}for the work; it waited ${waited} for the drive`,
  ];
}
