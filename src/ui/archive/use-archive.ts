"use client";

import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import type { Answer } from "@/core/archive/answer";
import type { ArchiveSettings, ArchiveView, Asked } from "@/core/archive/view";
import { orThrow, send } from "../controls/send";

const ARCHIVE = ["archive"];
/** While it is written the page asks each second how far it is. */
const EACH_MS = 1000;

/** The archive as it is now. @param first as far as that is known at once */
export function useArchive(first: ArchiveView) {
  return useQuery({
    queryKey: ARCHIVE,
    queryFn: ({ signal }) =>
      orThrow(send<ArchiveView>("GET", "/api/archive", undefined, { signal })),
    initialData: first,
    // What it holds is not known yet.
    initialDataUpdatedAt: 0,
    refetchInterval: ({ state }) => (state.data?.progress ? EACH_MS : false),
  });
}

/** Writes the archive, stops that, and sets where it is. */
export function useArchiveChanges() {
  const client = useQueryClient();
  const onSuccess = (view: ArchiveView) => {
    client.setQueryData(ARCHIVE, view);
    return client.invalidateQueries({ queryKey: ARCHIVE });
  };
  const start = useMutation({
    mutationFn: () => orThrow(send<ArchiveView>("POST", "/api/archive/writing")),
    onSuccess,
  });
  const stop = useMutation({
    mutationFn: () => orThrow(send<ArchiveView>("DELETE", "/api/archive/writing")),
    onSuccess,
  });
  const set = useMutation({
    mutationFn: (settings: ArchiveSettings) =>
      orThrow(send<ArchiveView>("PUT", "/api/archive", settings)),
    onSuccess,
  });
  return { start, stop, set };
}

/** Asks a question. */
export const useAsk = () =>
  useMutation({
    mutationFn: (asked: Asked) => orThrow(send<Answer>("POST", "/api/archive/ask", asked)),
  });

/** Imports a study out of the archives. */
export const useTakeIn = () =>
  useMutation({
    mutationFn: (studyId: string) =>
      orThrow(send<{ id: string }>("POST", "/api/archive/studies", { studyId })),
  });
