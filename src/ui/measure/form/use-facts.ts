"use client";

import { useEffect, useState } from "react";
import type { TargetFacts } from "@/core/drills/parameter";

/** Typing is over when nothing came for so long. */
const PAUSE_MS = 250;

/** What is known of a place that is being typed, with a rig's drive; null where there is nothing. */
export function useFacts(
  target: string,
  rigId: string,
  reserve: number | null,
): TargetFacts | null {
  const [known, setKnown] = useState<{ asked: string; facts: TargetFacts | null } | null>(null);
  const query = new URLSearchParams({
    path: target,
    ...(rigId ? { rig: rigId } : {}),
    ...(reserve === null ? {} : { reserve: String(reserve) }),
  }).toString();
  useEffect(() => {
    if (!target.startsWith("/")) return;
    const asked = new AbortController();
    const timer = setTimeout(async () => {
      try {
        const response = await fetch(`/api/targets?${query}`, {
          signal: asked.signal,
        });
        const facts = response.ok ? ((await response.json()) as TargetFacts | { ok: true }) : null;
        setKnown({ asked: query, facts: facts && "kind" in facts ? facts : null });
      } catch {
        // The settings stay as they are usual anywhere.
      }
    }, PAUSE_MS);
    return () => {
      clearTimeout(timer);
      asked.abort();
    };
  }, [target, query]);
  return known?.asked === query ? known.facts : null;
}
