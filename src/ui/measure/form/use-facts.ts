"use client";

import { useQuery } from "@tanstack/react-query";
import type { TargetFacts } from "@/core/drills/parameter";
import { isPlace } from "@/core/units/place";
import { send } from "../../controls/send";
import { useSettled } from "../../controls/use-settled";

/** Typing is over when nothing came for so long. */
const PAUSE_MS = 250;

/** What is known of a place that is being typed, with a rig's drive; null where there is nothing. */
export function useFacts(
  target: string,
  rigId: string,
  reserve: number | null,
): TargetFacts | null {
  const query = new URLSearchParams({
    path: target,
    ...(rigId ? { rig: rigId } : {}),
    ...(reserve === null ? {} : { reserve: String(reserve) }),
  }).toString();
  const settled = useSettled(query, PAUSE_MS);
  const { data = null } = useQuery({
    queryKey: ["facts", settled],
    enabled: settled === query && isPlace(target),
    queryFn: async ({ signal }) => {
      const sent = await send<TargetFacts | { ok: true }>(
        "GET",
        `/api/targets?${settled}`,
        undefined,
        {
          signal,
        },
      );
      // Without facts the settings stay as they are usual anywhere.
      return sent.ok && "kind" in sent.data ? sent.data : null;
    },
  });
  return settled === query ? data : null;
}
