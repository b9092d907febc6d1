import { conclude, type Conclusions } from "@/core/conclude/conclusions";
import type { Drop, DropIn } from "@/core/judge/bursts";
import { dropOf } from "@/core/judge/drop";
import { kindOf } from "@/core/drills/drill";
import type { Origin } from "@/core/study/measurement";
import type { Store } from "@/store/database";
import { hostNames } from "@/store/hosts";
import { listMachineChecks } from "@/store/machine-checks";
import { listNetworks } from "@/store/networks";
import { versionOf } from "@/store/version";
import { shelfFor } from "../shelf/shelf";
import { openTrace } from "../studies/trace";
import { seenElsewhere, type Compared } from "./comparison";
import { opinionOf } from "./opinion";
import { remembered } from "./remembered";

/** How conclusions are asked for; all of it left out, they are the study's own. */
export interface Asked {
  /** By how much a part may stay below a claim, in place of the study's tolerance, a share. */
  tolerance?: number | null;
  /** Runs that count for nothing. */
  without?: readonly string[];
  /** The only rig that verdicts are taken on. */
  on?: string | null;
  /** Runs of this origin alone. */
  origin?: Origin | null;
  /** Whether what was seen in other studies counts too. */
  elsewhere?: boolean;
}

/**
 * What follows from the runs of a study that is kept: worked out once for each question, until something is
 * written that it rests on.
 */
export function conclusionsOf(store: Store, kept: Compared, asked: Asked = {}): Conclusions {
  // Other studies change without this one.
  const others = asked.elsewhere ? versionOf(store) : "";
  return remembered(kept, `conclusions ${JSON.stringify(asked)} ${others}`, () =>
    concluded(store, kept, asked),
  );
}

function concluded(
  store: Store,
  kept: Compared,
  { tolerance, without = [], on = null, origin, elsewhere = false }: Asked,
): Conclusions {
  const { study, rigs, measurements } = kept;
  return conclude({
    rigs,
    measurements: origin ? measurements.filter((one) => one.origin === origin) : measurements,
    tolerance: tolerance ?? study.tolerance,
    shelf: shelfFor(store, study.id),
    opinion: opinionOf(store),
    hosts: hostNames(store),
    networks: listNetworks(store),
    checks: listMachineChecks(store),
    dropIn: dropsOf(store, kept),
    elsewhere: elsewhere ? seenElsewhere(store, kept) : [],
    without,
    on,
  });
}

const drops = new WeakMap<Compared, Map<string, Drop | null>>();

/** What slowed a study's long runs down, as far as verdicts asked for it: kept as long as the verdicts are. */
function knownDrops(kept: Compared): Map<string, Drop | null> {
  const all = drops.get(kept) ?? new Map<string, Drop | null>();
  drops.set(kept, all);
  return all;
}

/** Reads the traces of a study's long runs, each once. */
function dropsOf(store: Store, kept: Compared): DropIn {
  const all = knownDrops(kept);
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

/**
 * What slowed down the long runs that a study's verdicts rest on, by their measurements: for whoever draws
 * the same conclusions without the traces.
 */
export function dropsAsked(store: Store, kept: Compared): Record<string, Drop | null> {
  const isLong = kept.measurements.some(({ drill }) => kindOf(drill).shows.includes("sustained"));
  if (isLong) conclusionsOf(store, kept).judged();
  return Object.fromEntries(knownDrops(kept));
}
