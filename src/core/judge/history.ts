import { kindOf } from "../drills/drill";
import type { BriefMeasurement } from "../study/measurement";
import type { Judged } from "./judged";
import type { VerdictKind } from "./verdict";

/** A run that changed a verdict. */
export interface Turn {
  measurementId: string;
  at: string;
  rigName: string;
  from: VerdictKind | null;
  to: VerdictKind;
  shortBy: number | null;
}

/**
 * Measurements that are gone back over at most; what lies before them counts as one. Of very many, fewer:
 * each time all of them are weighed.
 */
const mostOf = (count: number) => (count > 200 ? 8 : 40);

/**
 * Which runs changed a verdict, the latest first: the claim is judged again after each measurement that
 * could bear on it.
 *
 * @param measurements of the study, the latest first
 * @param judge the claim by some of them
 */
export function turnsOf(
  { claim }: Pick<Judged, "claim">,
  measurements: readonly BriefMeasurement[],
  judge: (known: readonly BriefMeasurement[]) => Pick<Judged, "kind" | "shortBy">,
): Turn[] {
  const bears = measurements.filter(({ drill, warmUp }) => {
    if (warmUp) return false;
    const { shows } = kindOf(drill);
    return claim.kind === "link" || (shows.length > 0 && drill.direction === claim.direction);
  });
  const turns: Turn[] = [];
  let before: VerdictKind | null = null;
  for (let i = Math.min(bears.length, mostOf(bears.length)) - 1; i >= 0; i--) {
    const { id, createdAt, rig } = bears[i]!;
    const { kind, shortBy } = judge(bears.slice(i));
    if (kind !== before && (before !== null || kind !== "Can't tell yet"))
      turns.push({
        measurementId: id,
        at: createdAt,
        rigName: rig.name,
        from: before,
        to: kind,
        shortBy,
      });
    before = kind;
  }
  return turns.reverse();
}
