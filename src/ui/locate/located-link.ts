import type { LocatedStudy } from "@/core/answer/located-study";
import type { ShownLocated } from "@/core/locate/findings/shown";
import type { Opinion } from "@/core/locate/hypotheses/opinion";
import type { Study } from "@/core/study/study";
import type { RateUnit } from "@/core/units/rate";

/** What Locate shows of one rig, as it stands now or stood after a step of the argument. */
export interface LocatedShown {
  study: Study;
  found: LocatedStudy;
  shown: ShownLocated;
  /** The step of the argument, from 0. */
  at: number;
  /** Whether other studies count too. */
  wide: boolean;
  /** Whether every rig is listed. */
  all: boolean;
  unit: RateUnit;
  opinion: Opinion;
}

/** The address of the same question, but for what is said otherwise. */
export const linkTo = (
  { study, found, wide, all }: Pick<LocatedShown, "study" | "found" | "wide" | "all">,
  more: Record<string, string>,
): string =>
  `/studies/${study.id}/locate?${new URLSearchParams({
    drill: found.drill,
    direction: found.direction,
    ...(wide ? { studies: "all" } : {}),
    ...(all ? { rigs: "all" } : {}),
    ...more,
  })}`;
