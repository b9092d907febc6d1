"use client";

import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import type { KeptRecording } from "@/core/recording/kept";
import { counted } from "@/core/units/counted";
import { formatMoment } from "@/core/units/day";
import { Button, Trouble } from "../controls/form";
import { Fold } from "../controls/fold";
import { orThrow, send } from "../controls/send";
import type { StudyTitle } from "../demands/make-demand";
import { RecordedWork } from "./recorded-work";

/** How often is asked how a recording gets on, milliseconds. */
const ASK_MS = 1000;

/** Records every request that reaches a drive, and shows what the recorded work asks of the drive. */
export function RecordWork({ name, studies }: { name: string; studies: readonly StudyTitle[] }) {
  const client = useQueryClient();
  const queryKey = ["recordings", name];
  const { data, error } = useQuery({
    queryKey,
    queryFn: ({ signal }) => {
      const url = `/api/recordings?${new URLSearchParams({ name })}`;
      return orThrow(send<KeptRecording[]>("GET", url, undefined, { signal }));
    },
    refetchInterval: ({ state }) => (state.data?.some(({ running }) => running) ? ASK_MS : false),
  });
  const change = useMutation({
    mutationFn: ([method, url, body]: ["POST" | "DELETE", string, object?]) =>
      orThrow(send(method, url, body)),
    onSettled: () => client.invalidateQueries({ queryKey }),
  });
  const all = data ?? [];
  const running = all.find((one) => one.running);
  // While one is made the others are earlier ones.
  const [latest, ...earlier] = running
    ? [null, ...all.filter((one) => one !== running)]
    : [all[0] ?? null, ...all.slice(1)];
  const remove = (id: string) => change.mutate(["DELETE", `/api/recordings/${id}`]);
  const trouble = change.error ?? error;
  return (
    <>
      {running ? (
        <Button
          main
          disabled={change.isPending}
          onClick={() => change.mutate(["POST", `/api/recordings/${running.id}/stop`])}
        >
          Stop recording<span className="sr-only"> {name}</span>
        </Button>
      ) : (
        <Button
          disabled={!data || change.isPending}
          onClick={() => change.mutate(["POST", "/api/recordings", { name }])}
        >
          Record requests<span className="sr-only"> to {name}</span>
        </Button>
      )}
      <div className="basis-full space-y-2" data-recordings={name}>
        {trouble && <Trouble>{trouble.message}</Trouble>}
        {running && (
          <p role="status">
            Recording: {counted(running.requests, "request")} so far. Do the work now, then stop.
            Places, sizes, times and programs are kept, no content and no file names.
          </p>
        )}
        {latest && (
          <RecordedWork recording={latest} studies={studies} onRemove={() => remove(latest.id)} />
        )}
        {earlier.length > 0 && (
          <Fold summary={`${counted(earlier.length, "earlier recording")} of ${name}`}>
            <ul className="mt-1 space-y-2">
              {earlier.map((one) => (
                <li key={one.id}>
                  <Fold summary={formatMoment(one.startedAt)}>
                    <RecordedWork
                      recording={one}
                      studies={studies}
                      onRemove={() => remove(one.id)}
                    />
                  </Fold>
                </li>
              ))}
            </ul>
          </Fold>
        )}
      </div>
    </>
  );
}
