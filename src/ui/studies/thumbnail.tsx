import type { StudyBrief } from "@/core/answer/study-brief";
import { Channel } from "../narrows/channel";
import { lineUp } from "../narrows/geometry";

/** A study's rigs as small channels. */
export function Thumbnail({ rigs, direction }: Pick<StudyBrief, "rigs" | "direction">) {
  const drawn = rigs.map((one) => ({ ...one, machine: null }));
  const { rows, widest } = lineUp(drawn, direction);
  return (
    <div className="space-y-1">
      {rigs.map(({ rig, letter, flow }, i) => (
        <Channel
          key={rig.id}
          row={rows[i]!}
          flow={flow}
          direction={direction}
          widest={widest}
          width={230}
          height={rigs.length > 2 ? 26 : 40}
          label={`Rig ${letter}: ${rig.name}`}
        />
      ))}
    </div>
  );
}
