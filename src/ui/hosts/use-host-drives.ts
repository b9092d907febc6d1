"use client";

import { useQueries } from "@tanstack/react-query";
import type { SeenDrive } from "@/core/system/drive";
import { orThrow, send } from "../controls/send";
import { useDrives } from "../plugged/use-drives";
import { useHosts } from "./use-hosts";

/** What is plugged in at a host, as far as it was asked. */
export interface HostDrives {
  /** Null until the host has answered. */
  drives: SeenDrive[] | null;
  /** Why the host did not answer. */
  trouble: string | null;
}

/** A host that did not answer is asked again while the page is looked at. */
const AGAIN_MS = 15_000;

const ask = (id: string) => ({
  queryKey: ["host-drives", id],
  queryFn: ({ signal }: { signal: AbortSignal }) =>
    orThrow(send<{ drives: SeenDrive[] }>("GET", `/api/hosts/${id}/drives`, undefined, { signal })),
  // Each time somebody logs in there, perhaps beside a run.
  staleTime: 300_000,
  refetchInterval: ({ state }: { state: { status: string } }) =>
    state.status === "error" && AGAIN_MS,
});

/** What is plugged in at hosts, by their ids. */
export function useHostDrives(ids: readonly string[]): Map<string, HostDrives> {
  const asked = useQueries({ queries: ids.map(ask) });
  return new Map(
    asked.map(({ data, error }, i) => [
      ids[i]!,
      { drives: data?.drives ?? null, trouble: error?.message ?? null },
    ]),
  );
}

/** What is plugged in here, as that changes, and at the hosts; null until this machine has answered. */
export function useBenchDrives(): SeenDrive[] | null {
  const here = useDrives();
  const { hosts } = useHosts();
  const there = useHostDrives(
    hosts.flatMap(({ id, measuredBy }) => (measuredBy === "engine" ? [id] : [])),
  );
  return here && [...here, ...[...there.values()].flatMap(({ drives }) => drives ?? [])];
}
