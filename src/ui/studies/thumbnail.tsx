import type { StudyAnswer } from "@/core/answer/study";
import { marksOf } from "@/core/locate/findings/finding";
import { Channel } from "../narrows/channel";
import { lineUp } from "../narrows/geometry";

/** A study's rigs as small channels. */
export function Thumbnail({ answer }: { answer: StudyAnswer }) {
  // The worst first, as the answer draws them.
  const rigs = answer.groups.flatMap((group) => group.rigs).slice(0, 4);
  const drawn = rigs.map((one) => ({
    rig: one.rig,
    flow: one.observation?.repeats.median ?? null,
    machine: null,
    marks: marksOf(one, answer.direction),
  }));
  const { rows, widest } = lineUp(drawn, answer.direction);
  return (
    <div className="space-y-1">
      {rigs.map(({ rig, letter }, i) => (
        <Channel
          key={rig.id}
          row={rows[i]!}
          flow={drawn[i]!.flow}
          direction={answer.direction}
          widest={widest}
          width={230}
          height={rigs.length > 2 ? 26 : 40}
          label={`Rig ${letter}: ${rig.name}`}
        />
      ))}
    </div>
  );
}
