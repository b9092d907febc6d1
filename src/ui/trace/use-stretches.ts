"use client";

import { useEffect, useState } from "react";
import type { OpenTrace } from "@/core/study/open-trace";
import type { Place } from "@/core/reading/reduce";

/** Places asked for when a stretch is looked at closer. */
const PLACES = 1500;
/** Long enough that a wheel turned quickly asks once. */
const SETTLED_MS = 180;

/**
 * The places of traces for the stretch that is looked at: what is there already at first, and in full
 * detail as soon as the server has it.
 *
 * @param stretches for each trace the stretch in its own milliseconds; null: all of it
 */
export function useStretches(
  traces: readonly OpenTrace[],
  stretches: readonly (readonly [number, number] | null)[],
): Place[][] {
  const [close, setClose] = useState<Record<string, Place[]>>({});
  const keys = traces.map(({ runId }, i) => {
    const stretch = stretches[i];
    return stretch ? `${runId} ${stretch.map(Math.round).join(" ")}` : null;
  });
  const wanted = keys.join("|");
  useEffect(() => {
    if (keys.every((key) => key === null)) return;
    const leaving = new AbortController();
    const timer = setTimeout(async () => {
      const found = await Promise.all(
        traces.map(async ({ runId, samples }, i): Promise<[string, Place[]][]> => {
          const [key, stretch] = [keys[i], stretches[i]];
          if (!key || !stretch || samples <= PLACES) return [];
          const width = stretch[1] - stretch[0];
          // A little beyond both ends, so that a small pan finds something there.
          const query = new URLSearchParams({
            from: String(stretch[0] - width / 4),
            to: String(stretch[1] + width / 4),
            places: String(PLACES),
          });
          try {
            const response = await fetch(`/api/runs/${runId}/trace?${query}`, {
              signal: leaving.signal,
            });
            return response.ok ? [[key, (await response.json()) as Place[]]] : [];
          } catch {
            // Another stretch was asked for meanwhile, or the server is gone: what is there stays.
            return [];
          }
        }),
      );
      if (!leaving.signal.aborted) setClose(Object.fromEntries(found.flat()));
    }, SETTLED_MS);
    return () => {
      clearTimeout(timer);
      leaving.abort();
    };
    // The keys say all of what is wanted.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [wanted]);
  return traces.map(({ places }, i) => {
    const fine = keys[i] ? close[keys[i]] : undefined;
    if (!fine || fine.length === 0) return places;
    // Beside what is seen closely the rest stands as it was.
    const [from, to] = [fine[0]!.fromMs, fine.at(-1)!.toMs];
    return [
      ...places.filter(({ toMs }) => toMs <= from),
      ...fine,
      ...places.filter(({ fromMs }) => fromMs >= to),
    ];
  });
}
