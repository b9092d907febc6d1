"use client";

import { useEffect, useState } from "react";
import type { TargetFacts } from "@/core/drills/parameter";

/** Typing is over when nothing came for so long. */
const PAUSE_MS = 250;

/** What is known of a place that is being typed; null where there is nothing. */
export function useFacts(target: string): TargetFacts | null {
  const [known, setKnown] = useState<{ target: string; facts: TargetFacts | null } | null>(null);
  useEffect(() => {
    if (!target.startsWith("/")) return;
    const asked = new AbortController();
    const timer = setTimeout(async () => {
      try {
        const response = await fetch(`/api/targets?${new URLSearchParams({ path: target })}`, {
          signal: asked.signal,
        });
        const facts = response.ok ? ((await response.json()) as TargetFacts | { ok: true }) : null;
        setKnown({ target, facts: facts && "kind" in facts ? facts : null });
      } catch {
        // The settings stay as they are usual anywhere.
      }
    }, PAUSE_MS);
    return () => {
      clearTimeout(timer);
      asked.abort();
    };
  }, [target]);
  return known?.target === target ? known.facts : null;
}
