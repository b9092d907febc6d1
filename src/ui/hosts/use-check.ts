"use client";

import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import type { CheckState } from "@/core/machine/check-state";
import { orThrow, send } from "../controls/send";

/** While a check goes on the page asks each second how far it is. */
const EACH_MS = 1000;

/** What a machine carries without any drive, and checking that. @param id a host's, or "here" */
export function useCheck(id: string) {
  const client = useQueryClient();
  const route = `/api/hosts/${id}/check`;
  const { data } = useQuery({
    queryKey: ["check", id],
    queryFn: ({ signal }) => orThrow(send<CheckState>("GET", route, undefined, { signal })),
    staleTime: 60_000,
    refetchInterval: ({ state }) => Boolean(state.data?.going) && EACH_MS,
  });
  // The check of one machine is said at all of them.
  const onSettled = () => client.invalidateQueries({ queryKey: ["check"] });
  const start = useMutation({ mutationFn: () => orThrow(send("POST", route)), onSettled });
  const stop = useMutation({ mutationFn: () => orThrow(send("DELETE", route)), onSettled });
  return { state: data ?? null, start, stop };
}
