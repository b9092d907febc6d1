"use client";

import { Link } from "../controls/link";
import { useRouter } from "next/navigation";
import { useState } from "react";
import type { ResultMatrix } from "@/core/answer/result-matrix";
import type { ToldRun } from "@/core/answer/told-run";
import { letterOf } from "@/core/answer/lettered-rig";
import type { Rig } from "@/core/chain/rig";
import type { Circumstances } from "@/core/study/condition-rows";
import type { Listed } from "@/core/study/listed";
import type { Stated } from "@/core/run/stated";
import { drillNamed, USUAL_DRILL } from "@/core/drills/catalogue";
import { asWay } from "@/core/drills/kind";
import type { OwnDrill } from "@/core/drills/drill";
import type { RunStatus } from "@/core/drills/request";
import type { UsualTest } from "@/core/plan/usual-tests";
import { formatMoment } from "@/core/units/day";
import type { Direction } from "@/core/units/rate";
import { LiveMeasurement } from "./live/live-measurement";
import { Fold } from "../controls/fold";
import { send } from "../controls/send";
import { sayFailed, saySaved } from "../controls/toast";
import { useGoOn } from "../frame/go-on";
import { PlanForm } from "../plan/plan-form";
import { PlanProgress } from "../plan/plan-progress";
import { useBenchDrives } from "../hosts/use-host-drives";
import { FromElsewhere } from "../elsewhere/from-elsewhere";
import { MeasureElsewhere } from "../elsewhere/measure-elsewhere";
import { MeasureForm } from "./form/measure-form";
import { ResultMatrixTable } from "./result-matrix";
import { RunResult } from "./run-result";
import { MeasuredTable } from "./measured-table";
import { statedOf, typedStated } from "./form/stated-fields";
import { TakeInRuns } from "./take-in-runs";

/** Measure a rig; look at what was measured. */
export function MeasureView({
  studyId,
  rigs,
  measurements,
  before,
  said,
  rigId,
  target,
  direction,
  drill,
  own,
  plan,
  shownId,
  matrix,
  told,
  simulated,
  test,
}: {
  studyId: string;
  rigs: Rig[];
  /** The latest first. */
  measurements: Listed[];
  /** The run before the one that is shown. */
  before: (Circumstances & { of: Listed }) | null;
  /** What was said of the bench at the latest run. */
  said: Stated;
  rigId: string | null;
  /** Where to measure, if that has been said. */
  target: string | null;
  direction: Direction;
  /** The drill that is asked for, by name. */
  drill: string;
  /** The tester's own drills. */
  own: OwnDrill[];
  /** The plan that the study is at, or its last one. */
  plan: { id: string; over: boolean } | null;
  /** The measurement to show in full. */
  shownId: string | null;
  /** Everything that was measured, rigs by drills. */
  matrix: ResultMatrix;
  /** What the measurement that is shown came to; null until it has a result. */
  told: ToldRun | null;
  /** Whether the study is sample data. */
  simulated: boolean;
  /** The usual test whose plan is to be begun; null for none. */
  test: UsualTest | null;
}) {
  const router = useRouter();
  const goOn = useGoOn();
  // The table is as old as the page; what is followed live stands as it does now.
  const [live, setLive] = useState<{ id: string; status: RunStatus } | null>(null);
  const show = (id: string) => goOn(`/studies/${studyId}/measure?m=${id}`, { scroll: false });
  const letter = (id: string) => {
    const index = rigs.findIndex((rig) => rig.id === id);
    return index < 0 ? "–" : letterOf(index);
  };
  const nameOf = ({ rigId: of, drill: done, createdAt }: Listed) =>
    `${letter(of)}, ${done}, ${formatMoment(createdAt)}`;
  const real = measurements.filter(({ origin }) => origin === "measured");
  const last = real.find((m) => m.rigId === rigId) ?? real[0];
  const targets = Object.fromEntries(real.toReversed().map((one) => [one.rigId, one.targets[0]!]));
  const drives = useBenchDrives();
  // Asked once: what was said of the latest run holds for the next.
  const [stated, setStated] = useState(() => typedStated(said));
  const planned = () => {
    goOn(`/studies/${studyId}/measure`);
    router.refresh();
  };
  const shown = measurements.find(({ id }) => id === shownId);
  // What is not here cannot be noted as done again.
  const noted = drillNamed(drill).recorded ? USUAL_DRILL : drillNamed(drill);

  return (
    <>
      <div className="mt-4 mb-3 flex flex-wrap items-center gap-3">
        <h1 className="mr-auto font-serif text-[28px]">Measure</h1>
        <FromElsewhere
          studyId={studyId}
          rigs={rigs}
          first={{
            rigId: rigId ?? rigs[0]?.id ?? "",
            drill: noted.name,
            direction: asWay(noted, direction),
          }}
          onTaken={({ measurementIds: [id] }) => {
            if (id) show(id);
            router.refresh();
          }}
        />
        <MeasureElsewhere rigs={rigs} />
        <TakeInRuns
          studyId={studyId}
          rigs={rigs}
          measured={measurements.map(({ rigId }) => rigId)}
          onTaken={(id) => {
            show(id);
            router.refresh();
          }}
        />
      </div>
      <div className="space-y-4">
        {plan && (!plan.over || !shownId) && (
          <PlanProgress key={plan.id} id={plan.id} rigs={rigs} studyId={studyId} />
        )}
        {shownId && (
          <LiveMeasurement
            key={shownId}
            id={shownId}
            letter={shown ? letter(shown.rigId) : ""}
            before={before && { ...before, name: nameOf(before.of) }}
            studyId={studyId}
            onStatus={(status) => setLive({ id: shownId, status })}
            result={told && <RunResult told={told} studyId={studyId} simulated={simulated} />}
          />
        )}
        <MeasureForm
          studyId={studyId}
          rigs={rigs}
          rigId={rigId}
          direction={direction}
          target={target ?? last?.targets[0] ?? ""}
          targets={targets}
          drill={drill}
          own={own}
          drives={drives}
          stated={stated}
          onStated={setStated}
          onKept={() => router.refresh()}
          onPlanned={planned}
          onRigAsSeen={async (id, path) => {
            const sent = await send("POST", `/api/rigs/${id}/as-seen`, { path });
            if (!sent.ok) return sayFailed(sent.error.message);
            saySaved("The rig is as the system says now.");
            router.refresh();
          }}
          onStarted={(id) => {
            show(id);
            router.refresh();
          }}
        />
        {rigs.length > 0 && (
          <section className="border border-line bg-sheet px-4 py-3">
            <Fold
              open={test !== null}
              summary={
                <span className="font-semibold">
                  Plan several runs: rigs, drills, repeats, in an order
                </span>
              }
            >
              <PlanForm
                test={test}
                studyId={studyId}
                rigs={rigs}
                targets={targets}
                drives={drives}
                stated={statedOf(stated)}
                onMade={planned}
              />
            </Fold>
          </section>
        )}
        {measurements.length > 0 && (
          <section className="border border-line bg-sheet p-4">
            {matrix.columns.length > 0 && (
              <>
                <div className="mb-1 flex flex-wrap items-baseline gap-3">
                  <h2 className="mr-auto font-semibold">Results</h2>
                  <Link className="underline" href={`/studies/${studyId}`}>
                    Read the answer of all results
                  </Link>
                </div>
                <ResultMatrixTable matrix={matrix} studyId={studyId} />
              </>
            )}
            <h2 className="mt-4 mb-1 font-semibold first:mt-0">Runs</h2>
            <MeasuredTable
              measurements={measurements.map((one) =>
                live?.id === one.id ? { ...one, status: live.status } : one,
              )}
              shownId={shownId}
              letter={letter}
              onShow={show}
            />
          </section>
        )}
      </div>
    </>
  );
}
