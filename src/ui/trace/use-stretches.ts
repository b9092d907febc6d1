"use client";

import { useQueries } from "@tanstack/react-query";
import type { OpenTrace } from "@/core/study/open-trace";
import type { Place } from "@/core/reading/reduce";
import { send } from "../controls/send";
import { useSettled } from "../controls/use-settled";

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
  const keys = traces.map(({ runId }, i) => {
    const stretch = stretches[i];
    return stretch ? `${runId} ${stretch.map(Math.round).join(" ")}` : null;
  });
  const wanted = keys.join("|");
  const settled = useSettled(wanted, SETTLED_MS) === wanted;
  const close = useQueries({
    queries: traces.map(({ runId, samples }, i) => ({
      queryKey: ["stretch", runId, keys[i]],
      enabled: settled && keys[i] !== null && samples > PLACES,
      // A run that ended does not change.
      staleTime: Infinity,
      queryFn: async ({ signal }: { signal: AbortSignal }) => {
        const url = `/api/runs/${runId}/trace?${queryOf(stretches[i]!)}`;
        const sent = await send<Place[]>("GET", url, undefined, { signal });
        // Where the server is gone, what is there stays.
        return sent.ok ? sent.data : [];
      },
    })),
  });
  return traces.map(({ places }, i) => {
    const fine = close[i]?.data ?? [];
    if (fine.length === 0) return places;
    // Beside what is seen closely the rest stands as it was.
    const [from, to] = [fine[0]!.fromMs, fine.at(-1)!.toMs];
    return [
      ...places.filter(({ toMs }) => toMs <= from),
      ...fine,
      ...places.filter(({ fromMs }) => fromMs >= to),
    ];
  });
}

/** A little beyond both ends, so that a small pan finds something there. */
function queryOf([from, to]: readonly [number, number]): URLSearchParams {
  const width = to - from;
  return new URLSearchParams({
    from: String(from - width / 4),
    to: String(to + width / 4),
    places: String(PLACES),
  });
}
