"use client";

import { keepPreviousData, useQuery } from "@tanstack/react-query";
import type { Fix, PreflightFinding } from "@/core/preflight/preflight";
import { isPlace } from "@/core/units/place";
import { Button } from "../../controls/form";
import { send } from "../../controls/send";
import { useSettled } from "../../controls/use-settled";
import { Sources } from "../../system/sources";

/** Typing is over when nothing came for so long. */
const PAUSE_MS = 600;

const MARKS: Record<PreflightFinding["level"], string> = {
  stop: "✕ Cannot start:",
  beware: "Warning:",
  note: "",
};

/** What a run that is being asked for would meet, each with a button that puts it right where one can. */
export function Preflight({
  rigId,
  request,
  target,
  onFix,
}: {
  rigId: string;
  /** As it would be sent to begin the run. */
  request: object;
  target: string;
  onFix: (fix: Fix) => void;
}) {
  const body = JSON.stringify(request);
  const settled = useSettled(body, PAUSE_MS);
  const isAsked = isPlace(target) && rigId !== "";
  const { data: findings = [], isPlaceholderData } = useQuery({
    queryKey: ["preflight", rigId, settled],
    enabled: isAsked && settled === body,
    placeholderData: keepPreviousData,
    queryFn: async ({ signal }) => {
      const url = `/api/rigs/${rigId}/preflight`;
      const sent = await send<{ findings?: PreflightFinding[] }>("POST", url, request, { signal });
      // What makes no sense is said at its field once the form is sent; the measuring process looks again anyway.
      return sent.ok ? (sent.data.findings ?? []) : [];
    },
  });
  // Of what was asked before: it stays readable until the answer is there.
  const isOld = settled !== body || isPlaceholderData;
  if (findings.length === 0 || !isAsked) return null;
  return (
    <ul
      data-preflight
      aria-busy={isOld}
      className={`space-y-1.5 border-l-[3px] border-secondary bg-paper px-3 py-2 ${isOld ? "border-dashed" : ""}`}
    >
      {findings.map(({ level, text, from, fix }) => (
        <li key={text} className="flex flex-wrap items-baseline gap-x-3 gap-y-1">
          <span className="min-w-0 grow basis-96 [overflow-wrap:anywhere]">
            {MARKS[level] && <span className="font-semibold">{MARKS[level]} </span>}
            {text} {from.length > 0 && <Sources from={from} />}
          </span>
          {fix && (
            <Button className="shrink-0" onClick={() => onFix(fix)}>
              {fix.label}
            </Button>
          )}
        </li>
      ))}
    </ul>
  );
}
