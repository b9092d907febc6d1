"use client";

import { Link } from "../controls/link";
import { useRouter } from "next/navigation";
import { useState } from "react";
import { letterOf } from "@/core/answer/lettered-rig";
import type { Rig } from "@/core/chain/rig";
import { titleOf } from "@/core/drills/drill";
import { fillingWords, levelWords } from "@/core/plan/fill-levels";
import { atOnceWords } from "@/core/plan/hands";
import { isOver, type PlanState, type PlanStep } from "@/core/plan/plan";
import type { PlanView } from "@/core/plan/view";
import { counted } from "@/core/units/counted";
import { formatAbout } from "@/core/units/number";
import { Checkbox } from "../controls/checkbox";
import { Fold } from "../controls/fold";
import { Button, Trouble } from "../controls/form";
import { Progress } from "../controls/progress";
import { send } from "../controls/send";
import { sayFailed } from "../controls/toast";
import { useKey } from "../controls/use-key";
import { LiveMeasurement } from "../measure/live/live-measurement";
import { WAYS } from "../measure/form/ways";
import { PlanNotes } from "./plan-notes";
import { PlanTable } from "./plan-table";
import { StepTable } from "./step-table";
import { useCall } from "./use-call";
import { usePlan } from "./use-plan";

/** A plan that is worked through: what it does now, what it waits for, what is left. */
export function PlanProgress({
  id,
  rigs,
  studyId,
}: {
  id: string;
  rigs: readonly Rig[];
  studyId: string;
}) {
  const router = useRouter();
  const [sound, setSound] = useCall();
  const [shown, setShown] = useState<string | null>(null);
  const view = usePlan(id, (state) => {
    if (state.kind === "hands" && state.differs.length === 0) sound.ring();
    if (state.kind === "running") setShown(state.measurementId);
    else if (isOver(state) || state.kind === "paused") router.refresh();
  });
  const steer = async (asked: object) => {
    const sent = await send("POST", `/api/plans/${id}`, asked);
    if (!sent.ok) sayFailed(sent.error.message);
  };
  useKey(" ", () => {
    if (view && WAITS.includes(view.state.kind)) void steer({ do: "go" });
  });
  if (!view) return <div className="h-32 border border-line bg-sheet" aria-busy />;
  const { steps, state, words, secondsLeft } = view;
  const over = steps.filter((step) => step.state !== "waiting" && step.state !== "running").length;
  const ended = isOver(state);

  return (
    <section className="border border-line bg-sheet p-4" data-plan={state.kind}>
      <div className="flex flex-wrap items-baseline gap-3">
        <h2 className="text-lg font-semibold">{view.plan.title || "Plan"}</h2>
        <span role="status" className="font-semibold">
          {stateWords(state)}
        </span>
        <span className="mr-auto text-secondary">
          {over} of {counted(steps.length, "run")}
          {!ended && secondsLeft > 0 && `, about ${formatAbout(secondsLeft)} left`}
        </span>
        {state.kind === "paused" && (
          <Button main onClick={() => void steer({ do: "go" })}>
            {over === 0 ? "Begin" : "Go on"}
          </Button>
        )}
        {!ended && state.kind !== "paused" && (
          <Button onClick={() => void steer({ do: "pause" })}>Pause</Button>
        )}
        {!ended && <Button onClick={() => void steer({ do: "abort" })}>End the plan</Button>}
      </div>
      <div className="my-2">
        <Progress label="Runs of the plan" value={over} most={steps.length} />
      </div>
      <Waiting state={state} rigs={rigs} onGo={() => void steer({ do: "go" })} />
      <Now view={view} rigs={rigs} />
      <PlanTable view={view} rigs={rigs} />
      {ended && over > 0 && (
        <p className="mt-2">
          <Link className="font-semibold underline" href={`/studies/${studyId}`}>
            Read the answer
          </Link>
        </p>
      )}
      <div className="mt-2 space-y-1">
        <PlanNotes notes={view.table.notes} rigs={rigs} />
        <Fold
          summary={<span className="text-secondary">Every run in its order. {words}</span>}
          open={state.kind === "paused"}
        >
          <StepTable view={view} rigs={rigs} onSteer={(asked) => void steer(asked)} />
          {!ended && (
            <Checkbox className="mt-2" checked={sound.on} onChange={setSound}>
              A sound when hands are needed
            </Checkbox>
          )}
        </Fold>
      </div>
      {"left" in state && state.left && (
        <div className="mt-3">
          <Trouble>{state.left}</Trouble>
        </div>
      )}
      {shown && !ended && state.kind === "running" && (
        <div className="mt-3">
          <LiveMeasurement
            key={shown}
            id={shown}
            before={null}
            letter={letterFor(
              rigs,
              steps.find(({ measurementId }) => measurementId === shown),
            )}
            studyId={studyId}
            onStatus={() => undefined}
          />
        </div>
      )}
    </section>
  );
}

/** States that a tester can cut short, by button or space bar. */
const WAITS: PlanState["kind"][] = ["hands", "resting", "cooling"];

function stateWords(state: PlanState): string {
  switch (state.kind) {
    case "running":
      return "measuring";
    case "resting":
      return `resting ${state.why}`;
    case "cooling":
      return `cooling: ${state.celsius} °C, waits for less than ${state.below} °C`;
    case "hands":
      return "hands needed";
    case "filling":
      return fillingWords(state);
    case "looking":
      return "looking at the drive";
    case "paused":
      return state.why ? "waits for you" : "paused";
    case "done":
      return "done";
    case "aborted":
      return "ended by you";
  }
}

const letterFor = (rigs: readonly Rig[], step: PlanStep | undefined): string => {
  const at = rigs.findIndex(({ id }) => id === step?.rigId);
  return at < 0 ? "" : letterOf(at);
};

/** What the tester has to do, in words large enough to be read from the bench. */
function Waiting({
  state,
  rigs,
  onGo,
}: {
  state: PlanState;
  rigs: readonly Rig[];
  onGo: () => void;
}) {
  if (state.kind === "paused" && state.why) return <Trouble>{state.why}</Trouble>;
  if (state.kind === "resting" || state.kind === "cooling") {
    return (
      <Button onClick={onGo} className="my-1">
        Go on at once (space bar)
      </Button>
    );
  }
  if (state.kind !== "hands") return null;
  const rig = rigs.findIndex(({ id }) => id === state.rigId);
  return (
    <div className="my-2 border-l-[3px] border-ink bg-bank px-4 py-3">
      <p className="font-serif text-[26px] leading-tight [overflow-wrap:anywhere]">
        {state.words.split("\n").map((line) => (
          <span key={line} className="block">
            {capital(line)}.
          </span>
        ))}
      </p>
      {state.differs.length > 0 ? (
        <div role="alert" className="mt-1">
          <p className="font-semibold">
            Something is plugged in, but it is not rig {rig < 0 ? "" : letterOf(rig)}:
          </p>
          <ul className="list-disc pl-5">
            {state.differs.map((text) => (
              <li key={text}>{text}</li>
            ))}
          </ul>
          <p>Plug in what the rig names; if the rig is described wrongly, correct it on Rigs.</p>
        </div>
      ) : (
        <p className="text-secondary">
          The plan goes on by itself as soon as the system sees it there.
        </p>
      )}
      {state.atOnce && (
        <p className="mt-1 text-secondary" data-at-once={state.atOnce.length}>
          {atOnceWords(state.atOnce)}
        </p>
      )}
      <Button onClick={onGo} className="mt-2">
        {state.differs.length > 0 ? "Measure it all the same" : "It is done, go on"} (space bar)
      </Button>
    </div>
  );
}

const capital = (text: string) => text.charAt(0).toUpperCase() + text.slice(1);

/** The run that goes on, or the next one. */
function Now({ view: { steps, state, plan }, rigs }: { view: PlanView; rigs: readonly Rig[] }) {
  if (isOver(state)) return null;
  const running = steps.find((step) => step.state === "running");
  const step = running ?? steps.find((one) => one.state === "waiting");
  if (!step) return null;
  const drill = plan.drills[step.drill]!;
  return (
    <p className="mb-1">
      {running ? "Now" : "Next"}: rig{" "}
      <span className="font-serif italic">{letterFor(rigs, step)}</span>, {titleOf(drill)},{" "}
      {WAYS[drill.direction]}
      {levelWords(plan, step.drill)},{" "}
      {step.warmUp ? "to warm up" : `repeat ${step.repeat + 1} of ${plan.repeats}`}
    </p>
  );
}
