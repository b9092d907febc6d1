import { linkProblems } from "@/core/chain/bottleneck";
import { PartDraft } from "@/core/chain/part";
import { BARE_RIG, rigProblems, type Layout, type Rig } from "@/core/chain/rig";
import type { FilledPlace } from "@/core/system/fill";
import { NarrowsDrawing } from "../narrows/narrows-drawing";
import { useUnit } from "../frame/unit";

/** What was detected, drawn as the rig that it makes, before anything is made. */
export function DetectedDrawing({
  chain,
  layout,
}: {
  chain: readonly FilledPlace[];
  layout: Layout;
}) {
  const unit = useUnit();
  const parts = chain.map(({ part, draft }, i) =>
    part ? part : { ...PartDraft.parse(draft), id: `detected-${i}` },
  );
  const rig: Rig = { ...BARE_RIG, id: "detected", name: "as detected", parts, layout };
  if (rigProblems(rig).length > 0 || linkProblems(rig).length > 0) return null;
  return (
    <NarrowsDrawing
      rigs={[{ letter: "", rig, observation: null, finding: null, standing: null, machine: null }]}
      direction="read"
      unit={unit}
      planned
    />
  );
}
