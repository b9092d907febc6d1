"use client";

import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { useState } from "react";
import type { Rig } from "@/core/chain/rig";
import { keptName, type HeldAgainst } from "@/core/simulate/held-against";
import type { Listed } from "@/core/study/listed";
import { Trouble } from "../controls/form";
import { Link } from "../controls/link";
import { orThrow, RefusedError, send } from "../controls/send";
import { WAYS } from "../measure/form/ways";
import { bodyOf, lacksWork, SimulateForm, type Typed } from "./simulate-form";
import { HeldFigures } from "./held-figures";
import { TwoTraces } from "./two-traces";
import { Findings } from "./findings";

/** A drill on the simulated bench beside what was measured, and where the two part. */
export function SimulateView({
  rigs,
  measured,
  first,
  studyId,
}: {
  rigs: readonly Rig[];
  /** Finished runs of any rig of the study, the latest first. */
  measured: readonly Listed[];
  first: Typed;
  studyId: string;
}) {
  const [typed, setTyped] = useState(first);
  const [asked, setAsked] = useState(first);
  const rig = rigs.find(({ id }) => id === typed.rigId) ?? rigs[0]!;
  const waits = lacksWork(asked);
  const { data, error, isFetching, refetch } = useQuery({
    queryKey: ["simulated", asked],
    // What it waits for is not asked before it can be answered.
    enabled: !waits,
    placeholderData: keepPreviousData,
    queryFn: ({ signal }) => {
      const url = `/api/rigs/${asked.rigId}/simulated`;
      return orThrow(send<HeldAgainst>("POST", url, bodyOf(asked), { signal }));
    },
  });
  const held = waits ? null : (data ?? null);
  const trouble = error instanceof RefusedError ? error.refused : null;
  const run = (of: Typed) => (of === asked ? void refetch() : setAsked(of));

  return (
    <>
      <div className="mt-4 mb-3 flex flex-wrap items-baseline gap-3">
        <h1 className="font-serif text-[28px]">On the simulated bench</h1>
        <span className="mr-auto text-secondary">
          the same drill on a simulated bench: nothing of it is measured, and none of it is kept
        </span>
        <Link href={`/studies/${studyId}/rigs`} className="underline">
          Back to the rigs
        </Link>
      </div>
      <div className="grid grid-cols-[minmax(0,1fr)] gap-4 lg:grid-cols-[320px_minmax(0,1fr)]">
        <SimulateForm
          rigs={rigs}
          rig={rig}
          measured={measured}
          typed={typed}
          busy={isFetching}
          trouble={trouble}
          onChange={(next) => {
            setTyped(next);
            const other =
              next.rigId !== typed.rigId ||
              next.drill !== typed.drill ||
              next.direction !== typed.direction ||
              next.recordings !== typed.recordings ||
              next.measurementId !== typed.measurementId;
            if (other) run(next);
          }}
          onRun={() => run(typed)}
        />
        <div className="min-w-0 space-y-3">
          {trouble && trouble.fields.length === 0 && <Trouble>{trouble.message}</Trouble>}
          {waits && (
            <p className="font-serif text-[19px]">
              Choose the recorded work that is to be done again.
            </p>
          )}
          {held && (
            <>
              <section className="border border-line bg-sheet px-4 py-3">
                <Findings held={held} rig={rig.name} />
                <p className="mt-2 text-[13px] text-secondary">
                  {held.drill.title}, {WAYS[held.drill.direction]}: {held.drill.summary}
                </p>
                <TwoTraces
                  label="Throughput over time, simulated and measured; the table below has the values."
                  {...(held.measured && held.measured.samples.length > 0
                    ? {
                        first: {
                          name: keptName(held.measured.origin),
                          samples: held.measured.samples,
                        },
                        second: { name: "simulated now", samples: held.simulated.samples },
                      }
                    : { first: { name: "simulated", samples: held.simulated.samples } })}
                />
              </section>
              <HeldFigures held={held} />
            </>
          )}
        </div>
      </div>
    </>
  );
}
