import * as z from "zod";
import { conclude } from "@/core/conclude/conclusions";
import { copiesIn, type Copies } from "@/core/judge/copies";
import { ownCeilings, sideBySide, type OwnCeiling, type SideBySide } from "@/core/judge/enclosures";
import { turnsOf, type Turn } from "@/core/judge/history";
import type { Judged } from "@/core/judge/judged";
import { ratesIn } from "@/core/units/number";
import type { RateUnit } from "@/core/units/rate";
import type { Store } from "@/store/database";
import type { Compared } from "./comparison";
import { conclusionsOf } from "./conclusions";
import { remembered } from "./remembered";

/** How a verdict is questioned; all of it left out, it is the study's own. */
export interface WhatIf {
  /** In place of the study's, a share. */
  tolerance: number | null;
  /** Runs that count for nothing. */
  without: readonly string[];
  /** The only rig that verdicts are taken on. */
  on: string | null;
}

export const AS_IT_IS: WhatIf = { tolerance: null, without: [], on: null };

const Tolerance = z.coerce.number().min(0).max(0.5);

/** What an address asks; what makes no sense there is as if left out. */
export function whatIfOf(
  { tolerance, without, on }: Readonly<Record<string, string | string[] | undefined>>,
  { rigs, runs }: Compared,
): WhatIf {
  const all = new Set([...runs.values()].flat().map(({ id }) => id));
  return {
    tolerance:
      typeof tolerance === "string" && tolerance.trim()
        ? (Tolerance.safeParse(tolerance).data ?? null)
        : null,
    without: [without].flat().flatMap((id) => (id && all.has(id) ? [id] : [])),
    on: rigs.find(({ id }) => id === on)?.id ?? null,
  };
}

/** Whether anything is asked otherwise than it is. */
export const isAsked = ({ tolerance, without, on }: WhatIf): boolean =>
  tolerance !== null || without.length > 0 || on !== null;

/** All verdicts of a study, and what they come to for models and enclosures. */
export interface JudgedStudy {
  judged: readonly Judged[];
  copies: Copies[];
  ceilings: OwnCeiling[];
  alongside: SideBySide[];
}

/** Every claim of every part that stands in a study's rigs, judged once for each question. */
export function judgedOf(
  store: Store,
  kept: Compared,
  unit: RateUnit,
  asked: WhatIf = AS_IT_IS,
): JudgedStudy {
  const conclusions = conclusionsOf(store, kept, isAsked(asked) ? asked : {});
  return remembered(conclusions, `judged ${unit}`, (): JudgedStudy => {
    const { rigs, counting, dropIn } = conclusions;
    const judged = conclusions.judged(ratesIn(unit));
    return {
      judged,
      copies: copiesIn(judged),
      ceilings: ownCeilings(rigs, counting),
      alongside: sideBySide(rigs, counting, dropIn),
    };
  });
}

/** Which runs changed the verdict on a claim, the latest first. */
export function turnsIn(
  store: Store,
  kept: Compared,
  unit: RateUnit,
  { key, part, claim }: Judged,
): Turn[] {
  const { basis } = conclusionsOf(store, kept);
  // The same part with no other claim: nothing else is judged again and again.
  const alone = { ...part, claims: [claim] };
  return remembered(kept, `turns ${unit} ${key}`, () =>
    turnsOf(
      { claim },
      kept.measurements,
      (measurements) => conclude({ ...basis, measurements }).judge([alone], ratesIn(unit))[0]!,
    ),
  );
}
