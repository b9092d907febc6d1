"use client";

import { keepPreviousData, useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { BallastState } from "@/core/ballast/shown";
import { orThrow, send } from "../controls/send";
import { useSettled } from "../controls/use-settled";

/** Typing is over when nothing came for so long. */
const PAUSE_MS = 250;
/** How often is asked how far the writing is. */
const ASK_MS = 500;

/** The ballast of a place that is being typed, and what can be done about it. */
export function useBallast(target: string, reserve: number | null) {
  const client = useQueryClient();
  const query = new URLSearchParams({
    target,
    ...(reserve === null ? {} : { reserve: String(reserve) }),
  }).toString();
  const settled = useSettled(query, PAUSE_MS);
  const { data, isPlaceholderData } = useQuery({
    queryKey: ["ballast", settled],
    enabled: settled === query && target.startsWith("/"),
    // Another reserve of the same place changes what may be written, and not how the place stands.
    placeholderData: keepPreviousData,
    queryFn: async ({ signal }) =>
      BallastState.parse(
        await orThrow(send("GET", `/api/ballast?${settled}`, undefined, { signal })),
      ),
    refetchInterval: ({ state }) => (state.data?.all.some(({ doing }) => doing) ? ASK_MS : false),
  });
  const again = () =>
    Promise.all([
      client.invalidateQueries({ queryKey: ["ballast"] }),
      // What a drill may take up follows from what is free.
      client.invalidateQueries({ queryKey: ["facts"] }),
    ]);
  const fill = useMutation({
    mutationFn: (asked: { level: number; besideOwnData?: boolean }) =>
      orThrow(send("POST", "/api/ballast", { target, reserve, ...asked })),
    onSettled: again,
  });
  const remove = useMutation({
    mutationFn: (at: string) =>
      orThrow(send("DELETE", `/api/ballast?${new URLSearchParams({ target: at })}`)),
    onSettled: again,
  });
  const stop = useMutation({
    mutationFn: (at: string) => orThrow(send("POST", "/api/ballast/stop", { target: at })),
    onSettled: again,
  });
  const isOfTarget = new URLSearchParams(settled).get("target") === target;
  const isKnown = isOfTarget && (!isPlaceholderData || data?.place?.target === target);
  return { state: isKnown ? (data ?? null) : null, fill, remove, stop };
}
