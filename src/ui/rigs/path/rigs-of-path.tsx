import { letterOf } from "@/core/answer/lettered-rig";
import { bottleneckOf, linkProblems } from "@/core/chain/bottleneck";
import { isEqualRig } from "@/core/chain/combine";
import { rigProblems, type Rig } from "@/core/chain/rig";
import { nameBottleneck } from "@/core/chain/wording";
import { NarrowsDrawing } from "../../narrows/narrows-drawing";
import { CELL, FIGURE, HEAD, HEAD_RIGHT } from "../../controls/table";
import { useRates } from "../../frame/unit";
import { draftOf } from "../rig-draft";

/** A rig that a path makes, and what keeps it from being added. */
export interface PathRig {
  rig: Rig;
  /** Why it cannot be added; null where it can. */
  why: string | null;
}

/** What keeps a rig from being added to a study; null where nothing does. */
export function whyNotAdded(rig: Rig, there: readonly Rig[]): string | null {
  const problems = [...rigProblems(rig), ...linkProblems(rig)];
  if (problems.length > 0) return problems.join(" ");
  const draft = draftOf(rig);
  const same = there.findIndex((one) => isEqualRig(draft, draftOf(one)));
  return same < 0 ? null : `the same as rig ${letterOf(same)}, ${there[same]!.name}`;
}

/** Rigs that are drawn as channels; of more only the figures. */
const MOST_DRAWN = 4;

/** The rigs that a path makes, each with what it can carry and what limits it, before any is added. */
export function RigsOfPath({ made, from }: { made: readonly PathRig[]; from: number }) {
  const { unit, rate } = useRates();
  const sound = made.filter(({ why }) => why === null);
  const drawn = sound.map(({ rig }, i) => ({
    letter: letterOf(from + i),
    rig,
    observation: null,
    finding: null,
    standing: null,
    machine: null,
  }));
  const isDrawn = drawn.length > 0 && drawn.length <= MOST_DRAWN;
  // What is drawn shows its ceilings there.
  const listed = isDrawn ? made.filter(({ why }) => why !== null) : made;
  return (
    <section
      aria-live="polite"
      className="space-y-3"
      data-rigs={made.filter(({ why }) => why === null).length}
    >
      {isDrawn && <NarrowsDrawing rigs={drawn} direction="read" unit={unit} planned />}
      <div className={`overflow-x-auto ${listed.length === 0 ? "hidden" : ""}`}>
        <table className="w-full text-sm">
          <thead>
            <tr>
              <th className={HEAD}>rig</th>
              <th className={`${HEAD_RIGHT} whitespace-nowrap`}>ceiling read / write, {unit}</th>
              <th className={HEAD}>bottleneck, reading</th>
            </tr>
          </thead>
          <tbody>
            {listed.map(({ rig, why }) => {
              const read = bottleneckOf(rig, "read");
              const write = bottleneckOf(rig, "write");
              return (
                <tr key={rig.id}>
                  <td className={CELL}>{rig.name}</td>
                  {why !== null ? (
                    <td className={CELL} colSpan={2}>
                      ✕ {why}
                    </td>
                  ) : (
                    <>
                      <td className={FIGURE}>
                        {read && write && `${rate(read.ceiling)} / ${rate(write.ceiling)}`}
                      </td>
                      <td className={CELL}>
                        {read &&
                          nameBottleneck(read)
                            .map(({ text }) => text)
                            .join("")}
                      </td>
                    </>
                  )}
                </tr>
              );
            })}
          </tbody>
        </table>
      </div>
    </section>
  );
}
