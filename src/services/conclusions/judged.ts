import * as z from "zod";
import type { DropIn, Drop } from "@/core/judge/bursts";
import { copiesIn, type Copies } from "@/core/judge/copies";
import { ownCeilings, sideBySide, type OwnCeiling, type SideBySide } from "@/core/judge/enclosures";
import { turnsOf, type Turn } from "@/core/judge/history";
import { dropOf } from "@/core/judge/drop";
import { judgeAll, partsOfRigs, type Judged } from "@/core/judge/judged";
import type { Opinion } from "@/core/locate/hypotheses/opinion";
import type { Part } from "@/core/chain/part";
import { observationsOf, isOf, type Measurement, type Observation } from "@/core/study/measurement";
import { ratesIn } from "@/core/units/number";
import type { RateUnit } from "@/core/units/rate";
import type { Store } from "@/store/database";
import type { Compared } from "./comparison";
import { openTrace } from "../studies/trace";

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
  judged: Judged[];
  copies: Copies[];
  ceilings: OwnCeiling[];
  alongside: SideBySide[];
}

/** What judging a study takes beside its runs. */
interface Means {
  store: Store;
  shelf: readonly Part[];
  opinion: Opinion;
  unit: RateUnit;
}

const known = new WeakMap<Compared, Map<string, JudgedStudy>>();

/** Every claim of every part that stands in a study's rigs, judged once. */
export function judgedOf(kept: Compared, means: Means, asked: WhatIf): JudgedStudy {
  const all = known.get(kept) ?? new Map<string, JudgedStudy>();
  known.set(kept, all);
  const key = JSON.stringify([asked, means.unit]);
  const found = all.get(key) ?? judgedAnew(kept, means, asked);
  all.set(key, found);
  return found;
}

function judgedAnew(kept: Compared, means: Means, asked: WhatIf): JudgedStudy {
  const { rigs } = kept;
  const observations = observedIn(kept, kept.measurements, asked.without);
  const dropIn = dropsOf(kept, means.store);
  const judged = judge(kept, means, asked, observations);
  return {
    judged,
    copies: copiesIn(judged),
    ceilings: ownCeilings(rigs, observations),
    alongside: sideBySide(rigs, observations, dropIn),
  };
}

function judge(
  kept: Compared,
  { store, shelf, opinion, unit }: Means,
  { tolerance, on }: WhatIf,
  observations: readonly Observation[],
  parts = partsOfRigs(kept.rigs),
): Judged[] {
  const { study, rigs } = kept;
  return judgeAll(parts, {
    rigs: on ? rigs.filter(({ id }) => id === on) : rigs,
    observations,
    tolerance: tolerance ?? study.tolerance,
    shelf,
    opinion,
    rates: ratesIn(unit),
    dropIn: dropsOf(kept, store),
  });
}

/** What was seen of the rigs as they stand: of real parts where there is any, else simulated. */
function observedIn(
  { rigs }: Compared,
  measurements: readonly Measurement[],
  without: readonly string[] = [],
): Observation[] {
  const out = new Set(without);
  const counting =
    out.size === 0
      ? measurements
      : measurements.map((one) => ({
          ...one,
          runs: one.runs.map((run) => (out.has(run.id) ? { ...run, leftOut: "asked" } : run)),
        }));
  const byId = new Map(rigs.map((rig) => [rig.id, rig]));
  const all = observationsOf(counting).filter((seen) => {
    const rig = byId.get(seen.rig.id);
    return rig !== undefined && isOf(seen, rig);
  });
  const real = all.filter(({ origin }) => origin !== "simulated");
  return real.length > 0 ? real : all;
}

const turns = new WeakMap<Compared, Map<string, Turn[]>>();

/** Which runs changed the verdict on a claim, the latest first. */
export function turnsIn(kept: Compared, means: Means, { key, part, claim }: Judged): Turn[] {
  const all = turns.get(kept) ?? new Map<string, Turn[]>();
  turns.set(kept, all);
  // The same part with no other claim: nothing else is judged again and again.
  const alone = { ...part, claims: [claim] };
  const found =
    all.get(key) ??
    turnsOf(
      { claim },
      kept.measurements,
      (some) => judge(kept, means, AS_IT_IS, observedIn(kept, some), [alone])[0]!,
    );
  all.set(key, found);
  return found;
}

const drops = new WeakMap<Compared, Map<string, Drop | null>>();

/** Reads the traces of a study's long runs, each once. */
function dropsOf(kept: Compared, store: Store): DropIn {
  const all = drops.get(kept) ?? new Map<string, Drop | null>();
  drops.set(kept, all);
  return ([id]) => {
    if (id === undefined) return null;
    const found = all.has(id) ? all.get(id)! : dropIn(store, kept, id);
    all.set(id, found);
    return found;
  };
}

function dropIn(
  store: Store,
  { runs, measurements }: Compared,
  measurementId: string,
): Drop | null {
  // What was typed has no trace.
  const of = measurements.find(({ id }) => id === measurementId);
  const run =
    of?.origin === "typed"
      ? undefined
      : runs.get(measurementId)?.find(({ leftOut }) => leftOut === null);
  return run ? dropOf(openTrace(store, run.id)) : null;
}
