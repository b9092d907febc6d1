"use client";

import { useEffect, useState } from "react";
import type { Fix, PreflightFinding } from "@/core/preflight/preflight";
import { Button } from "../../controls/form";
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
  const [known, setKnown] = useState<{ body: string; findings: PreflightFinding[] } | null>(null);
  useEffect(() => {
    if (!target.startsWith("/") || !rigId) return;
    const asked = new AbortController();
    const timer = setTimeout(async () => {
      try {
        const response = await fetch(`/api/rigs/${rigId}/preflight`, {
          method: "POST",
          body,
          signal: asked.signal,
          headers: { "Content-Type": "application/json" },
        });
        // What makes no sense is said at its field once the form is sent.
        const { findings = [] } = response.ok
          ? ((await response.json()) as { findings?: PreflightFinding[] })
          : {};
        setKnown({ body, findings });
      } catch {
        // The form goes on without it; the measuring process looks again anyway.
      }
    }, PAUSE_MS);
    return () => {
      clearTimeout(timer);
      asked.abort();
    };
  }, [rigId, body, target]);
  if (!known || known.findings.length === 0 || !target.startsWith("/")) return null;
  return (
    <ul
      data-preflight
      className={`space-y-1.5 border-l-[3px] border-secondary bg-paper px-3 py-2 ${known.body === body ? "" : "opacity-60"}`}
    >
      {known.findings.map(({ level, text, from, fix }) => (
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
