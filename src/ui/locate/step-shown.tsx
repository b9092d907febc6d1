import { Link } from "../controls/link";
import { degreeOf } from "@/core/locate/findings/certainty";
import type { ShownPlace } from "@/core/locate/findings/shown";
import { ratesIn } from "@/core/units/number";
import { Legend } from "../narrows/legend";
import { NarrowsDrawing } from "../narrows/narrows-drawing";
import { hasChanged, stepWords } from "./argument-steps";
import { linkTo, type LocatedShown } from "./located-link";
import { NextSwaps } from "./next-swaps";

/** Whether the likeliest of all causes is shown to be what limits the rig. */
const isShown = (place: ShownPlace | undefined): boolean =>
  place !== undefined && !place.together && degreeOf(place.probability) === "shown";

/** The sentence, and what the step that is shown has changed. */
export function AsItStood(view: LocatedShown) {
  const { found, shown, at, unit } = view;
  const { argument } = found;
  const last = argument.length - 1;
  const isNow = at === last;
  const link = (more: Record<string, string>) => linkTo(view, more);
  return (
    <>
      {!isNow && (
        <p className="mt-3 border-l-[3px] border-dashed border-ink pl-3" role="status">
          <b className="font-semibold">
            As it stood after step {at + 1} of {argument.length}.
          </b>{" "}
          <Link className="underline" href={link({ rig: shown.rigId })}>
            How it stands now
          </Link>
        </p>
      )}
      <p
        data-conclusion
        className="mt-3 font-serif text-[20px] leading-[1.28] text-pretty [overflow-wrap:anywhere] md:text-[25px]"
      >
        {shown.sentence}
      </p>
      {last > 0 && (!isNow || hasChanged(argument[at]!)) && (
        <p className="mt-1 text-[15px]">
          <span className="font-semibold">
            {isNow ? "What the last run changed" : "What this run changed"} ({argument[at]!.letter},{" "}
            {ratesIn(unit).said(argument[at]!.observedMBps)}):
          </span>{" "}
          {stepWords(argument[at]!)}.
        </p>
      )}
    </>
  );
}

/** The rig beside the one that the step measured. */
export function RigsDrawn({ found, shown, at, unit }: LocatedShown) {
  const step = found.argument[at];
  if (!step) return null;
  return (
    <section className="mt-4 border border-line bg-sheet px-4 py-3">
      <h2 className="mb-2 font-semibold">
        {step.drawn.length > 1
          ? `Rig ${shown.letter} beside rig ${step.letter}`
          : `Rig ${shown.letter}`}
      </h2>
      <NarrowsDrawing rigs={step.drawn} direction={found.direction} unit={unit} />
      <div className="mt-1.5">
        <Legend
          direction={found.direction}
          states
          host={step.drawn.some(({ machine }) => machine)}
        />
      </div>
    </section>
  );
}

/** What to do next, or how the argument went on. */
export function WhatToDo(view: LocatedShown) {
  const { study, found, shown, at, unit, opinion } = view;
  const { argument } = found;
  const isNow = at === argument.length - 1;
  const link = (more: Record<string, string>) => linkTo(view, more);
  return (
    <section className="border-l-[3px] border-ink bg-bank px-4 py-3">
      <h2 className="sr-only">What to do next</h2>
      {isNow ? (
        <NextSwaps
          next={shown.next}
          borrow={shown.borrow}
          settled={shown.settled}
          isGroup={!isShown(shown.places[0])}
          studyId={study.id}
          simulated={study.simulated}
          then={link({ rig: shown.rigId })}
          opinion={opinion}
        />
      ) : (
        <p>
          <Link
            className="underline"
            href={link({ rig: shown.rigId, step: `${at + 1}` })}
            scroll={false}
          >
            On to step {at + 2}
          </Link>
          : {argument[at + 1]!.name} gave {ratesIn(unit).said(argument[at + 1]!.observedMBps)}.
        </p>
      )}
    </section>
  );
}
