"use client";

import { useQueries } from "@tanstack/react-query";
import type { CountedName } from "@/core/host/counted";
import { orThrow, send } from "../controls/send";
import { useHosts } from "./use-hosts";

/** What can be watched on a host. */
export interface HostCounted {
  host: string;
  /** Null until the host has answered. */
  counted: CountedName[] | null;
  /** Why the host did not answer. */
  trouble: string | null;
}

/** What can be watched on every host of the bench. */
export function useCounted(): HostCounted[] {
  const { hosts } = useHosts();
  const asked = useQueries({
    queries: hosts.map(({ id }) => ({
      queryKey: ["host-counted", id],
      queryFn: ({ signal }: { signal: AbortSignal }) =>
        orThrow(
          send<{ counted: CountedName[] }>("GET", `/api/hosts/${id}/counted`, undefined, {
            signal,
          }),
        ),
      // Each time somebody logs in there.
      staleTime: 300_000,
    })),
  });
  return asked.map(({ data, error }, i) => ({
    host: hosts[i]!.name,
    counted: data?.counted ?? null,
    trouble: error?.message ?? null,
  }));
}
