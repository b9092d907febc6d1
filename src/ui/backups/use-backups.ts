"use client";

import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import type { Backup, BackupSettings, BackupsView, Replacement } from "@/core/backup/backup";
import { orThrow, send } from "../controls/send";

const BACKUPS = ["backups"];
/** While one is made the page asks each second whether it is done; else each minute. */
const EACH_MS = 1000;
const IDLE_MS = 60_000;

/** The backups, as they are now. */
export function useBackups(first: BackupsView): BackupsView {
  const { data } = useQuery({
    queryKey: BACKUPS,
    queryFn: ({ signal }) =>
      orThrow(send<BackupsView>("GET", "/api/backups", undefined, { signal })),
    initialData: first,
    staleTime: 30_000,
    refetchInterval: ({ state }) => (state.data?.isMaking ? EACH_MS : IDLE_MS),
  });
  return data;
}

/** Makes, removes and restores backups, and sets how they are made. */
export function useBackupChanges() {
  const client = useQueryClient();
  const onSettled = () => client.invalidateQueries({ queryKey: BACKUPS });
  const make = useMutation({
    mutationFn: () => orThrow(send<Backup>("POST", "/api/backups")),
    onSettled,
  });
  const remove = useMutation({
    mutationFn: (name: string) => orThrow(send("DELETE", `/api/backups/${name}`)),
    onSettled,
  });
  const restore = useMutation({
    mutationFn: (name: string) =>
      orThrow(send<Replacement>("POST", `/api/backups/${name}/restore`)),
    // Whatever a page has asked for may be otherwise now.
    onSettled: () => client.invalidateQueries(),
  });
  const set = useMutation({
    mutationFn: (settings: BackupSettings) => orThrow(send("PUT", "/api/backups", settings)),
    onSettled,
  });
  return { make, remove, restore, set };
}

/** What a backup would replace; all of it is read for that. @param name null: nothing is asked */
export function useReplacement(name: string | null) {
  return useQuery({
    queryKey: ["backup", name],
    queryFn: ({ signal }) =>
      orThrow(send<Replacement>("GET", `/api/backups/${name}`, undefined, { signal })),
    enabled: name !== null,
    retry: false,
    gcTime: 0,
  });
}
