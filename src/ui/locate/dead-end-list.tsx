import { Link } from "../controls/link";
import type { DeadEnd } from "@/core/locate/dead-ends";
import { outcomeWords } from "@/core/study/outcome";
import { formatChance } from "@/core/units/number";
import { formatDayHere } from "@/core/units/day";
import { MakeStep } from "../plan/make-step";

/** Rigs that do not work: what is left as the cause, and what tells most. */
export function DeadEndList({
  ends,
  letter,
  studyId,
  simulated,
  then,
}: {
  ends: readonly DeadEnd[];
  letter: (rigId: string) => string;
  studyId: string;
  simulated: boolean;
  then: string;
}) {
  if (ends.length === 0) return null;
  return (
    <section className="border border-line bg-sheet px-4 py-3" id="does-not-work">
      <h2 className="font-semibold">Does not work</h2>
      <ul className="mt-1 space-y-3">
        {ends.map(({ outcome, suspects, next }) => (
          <li key={outcome.measurementId}>
            <p>
              <span className="font-serif italic">{letter(outcome.rig.id)}</span>{" "}
              <Link
                className="underline"
                href={`/studies/${studyId}/measure?m=${outcome.measurementId}`}
              >
                {outcome.rig.name}
              </Link>{" "}
              {outcomeWords(outcome)} ({formatDayHere(outcome.at)}).
            </p>
            {suspects.length === 0 ? (
              <p className="text-secondary">
                Every part of it works in another rig, and so does every pair: measure it again.
              </p>
            ) : (
              <ol className="mt-1 list-decimal pl-6">
                {suspects.slice(0, 4).map(({ key, text, probability }) => (
                  <li key={key}>
                    {text}: <span className="figure">{formatChance(probability)}</span>
                  </li>
                ))}
                {suspects.length > 4 && (
                  <li className="list-none text-secondary">and {suspects.length - 4} more</li>
                )}
              </ol>
            )}
            {next && (
              <div className="mt-1 flex flex-wrap items-center gap-3">
                <p className="min-w-0 grow basis-60">{next.text}</p>
                <MakeStep
                  studyId={studyId}
                  ask={{
                    rig: { like: next.like.id, parts: next.parts },
                    drill: "haul",
                    direction: "read",
                  }}
                  simulated={simulated}
                  then={then}
                  look="plain"
                />
              </div>
            )}
          </li>
        ))}
      </ul>
    </section>
  );
}
