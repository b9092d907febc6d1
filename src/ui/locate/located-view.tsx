import { Link } from "../controls/link";
import type { ReactNode } from "react";
import type { LocatedStudy } from "@/core/answer/located-study";
import { titleOf } from "@/core/drills/drill";
import type { DrillKind } from "@/core/drills/kind";
import type { learntMinutes } from "@/core/locate/steps/learnt-minutes";
import { counted } from "@/core/units/counted";
import { ratesIn } from "@/core/units/number";
import { DOING, type Direction } from "@/core/units/rate";
import { Fold } from "../controls/fold";
import { ArgumentSteps } from "./argument-steps";
import { BoxGrids } from "./box-grids";
import { Explanations } from "./explanations";
import { linkTo, type LocatedShown } from "./located-link";
import { NotCountedList } from "./not-counted-list";
import { OpinionForm } from "./opinion-form";
import { ReachPicture } from "./reach-picture";
import { ShareStagesTable } from "./share-stages";
import { RigList } from "./rig-list";
import { AsItStood, RigsDrawn, WhatToDo } from "./step-shown";

/** Which part holds a rig back: the sentence, what speaks for it, and what to do next. */
export function LocatedView({
  drills,
  learnt,
  dead,
  ...view
}: LocatedShown & {
  /** What was done in the study. */
  drills: readonly { drill: Pick<DrillKind, "name" | "title">; direction: Direction }[];
  learnt: ReturnType<typeof learntMinutes>;
  /** Rigs that do not work. */
  dead: ReactNode;
}) {
  const { found, shown, at, unit, all } = view;
  const isNow = at === found.argument.length - 1;
  const link = (more: Record<string, string>) => linkTo(view, more);
  return (
    <>
      <AsItStood {...view} />
      {!isNow && <RigsDrawn {...view} />}
      <DrillLinks studyId={view.study.id} found={found} drills={drills} />
      <div className="mt-3 grid grid-cols-[minmax(0,1fr)] gap-6 lg:grid-cols-[minmax(0,1.5fr)_minmax(0,1fr)]">
        <div className="space-y-5">
          {dead}
          <WhySo {...view} />
          <OpinionForm opinion={view.opinion} learnt={learnt} />
          <WhatCounts {...view} />
        </div>
        <div className="space-y-5">
          <WhatToDo {...view} />
          {found.argument.length > 1 && (
            <section>
              <h2 className="mb-1 font-semibold">The argument, step by step</h2>
              <ArgumentSteps
                steps={found.argument}
                at={at}
                hrefOf={(index) => link({ rig: shown.rigId, step: `${index}` })}
                unit={unit}
              />
            </section>
          )}
          <section>
            <h2 className="mb-1 font-semibold">
              {counted(found.rigs.length, "rig")}, {titleOf(found.asDone)}, {DOING[found.direction]}
            </h2>
            <RigList
              rigs={found.rigs}
              shownId={shown.rigId}
              hrefOf={(rigId) => link({ rig: rigId })}
              allHref={all ? null : link({ rig: shown.rigId, rigs: "all" })}
              rate={ratesIn(unit).said}
            />
          </section>
        </div>
      </div>
      {isNow && <RigsDrawn {...view} />}
    </>
  );
}

/** What was done in the study, each a question of its own. */
function DrillLinks({
  studyId,
  found,
  drills,
}: {
  studyId: string;
  found: LocatedStudy;
  drills: readonly { drill: Pick<DrillKind, "name" | "title">; direction: Direction }[];
}) {
  return (
    <nav aria-label="Drill" className="mt-2 flex flex-wrap gap-x-4 text-sm">
      {drills.map(({ drill, direction }) => {
        const here = drill.name === found.drill && direction === found.direction;
        return (
          <Link
            key={`${drill.name} ${direction}`}
            href={`/studies/${studyId}/locate?${new URLSearchParams({ drill: drill.name, direction })}`}
            aria-current={here ? "true" : undefined}
            className={here ? "font-semibold" : "text-secondary underline"}
          >
            {drill.title}, {DOING[direction]}
          </Link>
        );
      })}
    </nav>
  );
}

/** What the parts were shown to carry, what may limit the rig, and what does not count for it. */
function WhySo(view: LocatedShown) {
  const { study, found, shown, unit } = view;
  return (
    <>
      {shown.reaches.length > 0 && (
        <section className="border border-line bg-sheet px-4 py-3">
          <h2 className="mb-2 font-semibold">
            What each part of rig {shown.letter} has been shown to carry
          </h2>
          <ReachPicture
            reaches={shown.reaches}
            slow={shown.observedMBps}
            title={`What the parts of rig ${shown.letter} have been shown to carry`}
            simulated={found.simulated}
            studyId={study.id}
          />
        </section>
      )}
      {found.stages && (
        <ShareStagesTable
          stages={found.stages}
          letter={shown.letter}
          letterOf={(id) => found.rigs.find(({ rigId }) => rigId === id)?.letter ?? null}
          unit={unit}
        />
      )}
      <section>
        <h2 className="mb-2 font-semibold">
          {shown.fromMemory
            ? `Where the rate of rig ${shown.letter} may come from`
            : `What may limit rig ${shown.letter}`}
        </h2>
        <Explanations places={shown.places} studyId={study.id} />
      </section>
      <BoxGrids
        grids={found.boxes}
        drill={found.drill}
        direction={found.direction}
        studyId={study.id}
        simulated={study.simulated}
        then={linkTo(view, { rig: shown.rigId })}
        unit={unit}
      />
      {found.notCounted.length > 0 && (
        <Fold
          summary={
            <span className="font-semibold">
              What does not count, or counts for little ({found.notCounted.length})
            </span>
          }
        >
          <NotCountedList list={found.notCounted} studyId={study.id} />
        </Fold>
      )}
    </>
  );
}

/** Which runs count, and how to let others count too. */
function WhatCounts(view: LocatedShown) {
  const { found, shown, wide } = view;
  const link = (studies: string) => linkTo(view, { studies, rig: shown.rigId });
  return (
    <p className="text-[13px] text-secondary">
      {wide ? (
        <>
          What these parts showed in other studies counts too.{" "}
          <Link className="underline" href={link("this")}>
            Only this study
          </Link>
          .{" "}
        </>
      ) : (
        <>
          Only runs of this study count.{" "}
          <Link className="underline" href={link("all")}>
            Count what these parts showed in other studies too
          </Link>
          .{" "}
        </>
      )}
      {found.simulated
        ? "All of this rests on simulated runs."
        : "Simulated runs are left out of this."}{" "}
      A probability follows from what was measured and from how often each cause occurs.
    </p>
  );
}
