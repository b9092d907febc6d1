"use client";

import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useRouter } from "next/navigation";
import { REMOVED_DAYS, type Removed, type RemovedKind } from "@/core/study/removed";
import { formatDayHere, formatMoment } from "@/core/units/day";
import { Button } from "../controls/form";
import { Link } from "../controls/link";
import { orThrow, send } from "../controls/send";
import { CELL, HEAD } from "../controls/table";
import { sayFailed, saySaved } from "../controls/toast";

const REMOVED = ["removed"];

const KINDS: Record<RemovedKind, string> = {
  study: "study",
  measurement: "runs",
  rig: "rig",
  part: "part",
  demand: "demand",
  reference: "rate to compare with",
  suite: "suite",
  correction: "correction of a trace",
  drill: "drill of your own",
  mode: "link mode of your own",
  host: "host",
};

/** Everything that was removed lately, each with what it was and a way back. */
export function RemovedView({ first }: { first: Removed[] }) {
  const { data: all } = useQuery({
    queryKey: REMOVED,
    queryFn: ({ signal }) => orThrow(send<Removed[]>("GET", "/api/removed", undefined, { signal })),
    initialData: first,
  });
  return (
    <>
      <h1 className="mt-4 mb-1 font-serif text-[28px]">Removed</h1>
      <p className="mb-3 text-secondary">
        {all.length === 0
          ? `Nothing was removed in the last ${REMOVED_DAYS} days. What you remove is kept here for so long.`
          : `Kept for ${REMOVED_DAYS} days, then gone for good. Put back, each is as it was.`}
      </p>
      {all.length > 0 && (
        <div className="overflow-x-auto">
          <table className="w-full">
            <thead>
              <tr>
                <th className={HEAD}>what</th>
                <th className={HEAD}>
                  <span className="sr-only">what can be done</span>
                </th>
                <th className={HEAD}>removed from</th>
                <th className={HEAD}>removed</th>
                <th className={HEAD}>kept until</th>
              </tr>
            </thead>
            <tbody>
              {all.map((one) => (
                <Row key={one.id} one={one} />
              ))}
            </tbody>
          </table>
        </div>
      )}
    </>
  );
}

function Row({ one: { id, kind, title, details, study, at, until } }: { one: Removed }) {
  const client = useQueryClient();
  const router = useRouter();
  const back = useMutation({
    mutationFn: () => orThrow(send("PUT", `/api/removed/${id}`)),
    onSuccess: () => saySaved(`${title} is back.`),
    onError: ({ message }) => sayFailed(message),
    onSettled: () => {
      // Other pages show it again, too.
      router.refresh();
      return client.invalidateQueries();
    },
  });
  return (
    <tr data-removed={kind}>
      <td className={`${CELL} min-w-44`}>
        <span className="font-semibold [overflow-wrap:anywhere]">{title}</span>
        <span className="block text-[13px] text-secondary [overflow-wrap:anywhere]">
          {[KINDS[kind], details].filter(Boolean).join(": ")}
        </span>
      </td>
      <td className={`${CELL}`}>
        {study?.isRemoved ? (
          <span className="text-[13px] text-secondary">put its study back first</span>
        ) : (
          <Button
            className="text-sm whitespace-nowrap"
            disabled={back.isPending}
            onClick={() => back.mutate()}
          >
            Put back<span className="sr-only"> {title}</span>
          </Button>
        )}
      </td>
      <td className={`${CELL} min-w-32 [overflow-wrap:anywhere]`}>
        {study === null ? (
          PLACES[kind]
        ) : study.isRemoved ? (
          study.title
        ) : (
          <Link href={`/studies/${study.id}`} className="underline">
            {study.title}
          </Link>
        )}
      </td>
      <td className={`${CELL} figure whitespace-nowrap`}>{formatMoment(at)}</td>
      <td className={`${CELL} figure whitespace-nowrap`}>{formatDayHere(until)}</td>
    </tr>
  );
}

/** Where what stands in no study was. */
const PLACES: Partial<Record<RemovedKind, string>> = {
  study: "the studies",
  part: "the shelf",
  drill: "the drills",
  mode: "the link modes",
  host: "the hosts",
};
