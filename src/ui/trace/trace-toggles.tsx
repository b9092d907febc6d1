import type { OpenTrace } from "@/core/study/open-trace";
import { Toggle } from "../controls/toggle";
import { ALIGNMENTS, AXES, type Alignment, type Axis } from "./axis";

/** What of some traces is drawn, and where they are laid over each other. */
export function TraceToggles({
  traces,
  axis,
  alignment,
  onAxis,
  onAlignment,
}: {
  traces: readonly OpenTrace[];
  axis: Axis;
  alignment: Alignment;
  onAxis: (axis: Axis) => void;
  onAlignment: (alignment: Alignment) => void;
}) {
  const small = traces.every(({ smallBlock }) => smallBlock !== null);
  const edged = traces.some(({ reading }) => reading?.cacheEdge);
  return (
    <>
      <Toggle
        label="What is drawn"
        value={axis}
        options={Object.entries(AXES)
          .filter(([value]) => value !== "ops" || small)
          .map(([value, text]) => ({ value: value as Axis, text }))}
        onChange={onAxis}
      />
      {traces.length > 1 && edged && (
        <Toggle
          label="Where the runs are laid over each other"
          value={alignment}
          options={Object.entries(ALIGNMENTS).map(([value, text]) => ({
            value: value as Alignment,
            text,
          }))}
          onChange={onAlignment}
        />
      )}
    </>
  );
}
