"use client";

import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import type { NetworkState } from "@/core/network/network-state";
import { orThrow, send } from "../controls/send";

/** While something is measured the page asks each second how far it is. */
const EACH_MS = 1000;

/** What the networks to a host carry by themselves, and measuring that. */
export function useNetwork(hostId: string) {
  const client = useQueryClient();
  const route = `/api/hosts/${hostId}/network`;
  const { data } = useQuery({
    queryKey: ["network", hostId],
    queryFn: ({ signal }) => orThrow(send<NetworkState>("GET", route, undefined, { signal })),
    staleTime: 60_000,
    refetchInterval: ({ state }) => Boolean(state.data?.going) && EACH_MS,
  });
  // What goes on to one host is said at all of them.
  const onSettled = () => client.invalidateQueries({ queryKey: ["network"] });
  const start = useMutation({
    mutationFn: (from: string | null) => orThrow(send("POST", route, { from })),
    onSettled,
  });
  const stop = useMutation({ mutationFn: () => orThrow(send("DELETE", route)), onSettled });
  return { state: data ?? null, start, stop };
}
