import type { StudyAnswer } from "@/core/answer/study";
import { Channel } from "../narrows/channel";
import { lineUp } from "../narrows/geometry";

/** A study's rigs as small channels. */
export function Thumbnail({ answer }: { answer: StudyAnswer }) {
  const rigs = answer.rigs.slice(0, 4);
  const flows = rigs.map(({ observation }) => observation?.repeats.median ?? null);
  const { rows, widest } = lineUp(
    rigs.map(({ rig }) => rig),
    answer.direction,
    flows.filter((flow) => flow !== null),
  );
  return (
    <div className="space-y-1">
      {rigs.map(({ rig, letter }, i) => (
        <Channel
          key={rig.id}
          row={rows[i]!}
          flow={flows[i]!}
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
