"use client";

import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import type { ShownHost } from "@/core/host/known-host";
import { orThrow, send } from "../controls/send";

/** The hosts of the bench, and those that the SSH configuration names beside them. */
export interface HostList {
  hosts: ShownHost[];
  offered: string[];
}

const HOSTS = ["hosts"];

/** The hosts of the bench; empty until the server has answered. */
export function useHosts(first?: HostList): HostList {
  const { data } = useQuery({
    queryKey: HOSTS,
    queryFn: ({ signal }) => orThrow(send<HostList>("GET", "/api/hosts", undefined, { signal })),
    initialData: first,
    // What is found about a host comes with a press, or with a run.
    staleTime: 60_000,
  });
  return data ?? NONE;
}

const NONE: HostList = { hosts: [], offered: [] };

/** Adds, looks at and removes hosts. */
export function useHostChanges() {
  const client = useQueryClient();
  const onSettled = () =>
    Promise.all([
      client.invalidateQueries({ queryKey: HOSTS }),
      client.invalidateQueries({ queryKey: ["host-drives"] }),
    ]);
  const add = useMutation({
    mutationFn: (name: string) => orThrow(send<ShownHost>("POST", "/api/hosts", { name })),
    onSettled,
  });
  const look = useMutation({
    mutationFn: (id: string) => orThrow(send<ShownHost>("POST", `/api/hosts/${id}`)),
    onSettled,
  });
  const remove = useMutation({
    mutationFn: (id: string) => orThrow(send("DELETE", `/api/hosts/${id}`)),
    onSettled,
  });
  return { add, look, remove };
}
