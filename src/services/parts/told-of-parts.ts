import { driftsOf, type Drift } from "@/core/drift/drift";
import { seriesOf } from "@/core/drift/series";
import { bestReadings, better, type BestReading } from "@/core/study/best-reading";
import type { Store } from "@/store/database";
import { listStudies } from "@/store/studies";
import { listToldOfParts, putToldOfParts, type ToldOfParts } from "@/store/study-parts";
import { ownVersions } from "@/store/version";
import { openCompared } from "../conclusions/comparison";
import { log } from "../log";
import { keepUp, type EachStudy, type Versioned } from "../studies/each-study";

/** The build of the program: what another one worked out is worked out anew. Without one, nothing is kept. */
const BUILD = process.env.NERRIT_BUILD ?? null;

/** For so long at most a page waits for studies to be read, milliseconds; the others are read after it. */
const PAGE_MS = 60;

/** What all studies tell of parts, as far as they were read. */
export interface ToldOfAll {
  /**
   * How rates changed over time, by the part's id or the machine's key; the tester's own and those of the sample
   * data, which share no part.
   */
  drifts: ReadonlyMap<string, Drift>;
  /** The best run of reading through each part. */
  best: ReadonlyMap<string, BestReading>;
  /** Studies whose runs are still being read. */
  waiting: number;
}

/** What is known of a bench, in memory. */
interface Known extends EachStudy {
  told: Map<string, ToldOfParts>;
  /** Of what all of it was put together last. */
  of: string;
  all: Omit<ToldOfAll, "waiting">;
}
const shared = globalThis as { nerritToldOfParts?: WeakMap<Store, Known> };

/**
 * Returns what all studies tell of parts, on all hosts. What a study tells is worked out when something was
 * written of it, and kept beside it; of many such studies, some are read after the page.
 */
export function toldOfParts(store: Store, pageMs = PAGE_MS, build = BUILD): ToldOfAll {
  const known = knownOf(store, build);
  const waiting = keepUp(
    store,
    known,
    {
      studies: () => studiesOf(store, build),
      work: (study) => {
        try {
          readStudy(store, known, study, build);
        } catch (error) {
          // The shelf is shown without what a damaged study would tell.
          known.told.delete(study.id);
          log.warn({ err: error, study: study.id }, "a study could not be read for its parts");
        }
      },
      forget: (id) => known.told.delete(id),
    },
    pageMs,
  );
  const of = [...known.done].join("|");
  if (known.of !== of) {
    known.all = together([...known.told.values()]);
    known.of = of;
  }
  return { ...known.all, waiting };
}

function together(told: readonly ToldOfParts[]): Omit<ToldOfAll, "waiting"> {
  // Sample data and the tester's own have no part in common, but perhaps the name of a machine.
  const series = told.flatMap((one) => one.series);
  const best = new Map<string, BestReading>();
  for (const one of told)
    for (const [part, own] of Object.entries(one.best)) best.set(part, better(best.get(part), own));
  return {
    drifts: new Map([
      ...driftsOf(series.filter(({ simulated }) => simulated)),
      ...driftsOf(series.filter(({ simulated }) => !simulated)),
    ]),
    best,
  };
}

function knownOf(store: Store, build: string | null): Known {
  const all = (shared.nerritToldOfParts ??= new WeakMap<Store, Known>());
  const known = all.get(store);
  if (known) return known;
  const kept = build === null ? [] : listToldOfParts(store);
  const fresh: Known = {
    done: new Map(kept.map(({ studyId, version }) => [studyId, version])),
    going: null,
    told: new Map(kept.map((one) => [one.studyId, one])),
    of: "",
    all: { drifts: new Map(), best: new Map() },
  };
  all.set(store, fresh);
  return fresh;
}

function studiesOf(store: Store, build: string | null): Versioned[] {
  const versions = ownVersions(store);
  return listStudies(store).map(({ id }) => ({
    id,
    version: `${versions.get(id) ?? 0} ${build}`,
  }));
}

function readStudy(
  store: Store,
  known: Known,
  { id, version }: Versioned,
  build: string | null,
): void {
  const { study, rigs, measurements } = openCompared(store, id);
  const told = {
    series: seriesOf(study, rigs, measurements),
    best: bestReadings(measurements),
  };
  known.told.set(id, told);
  if (build === null) return;
  try {
    putToldOfParts(store, { studyId: id, version, ...told });
  } catch (error) {
    // A store that takes nothing now costs only that it is worked out again.
    log.warn({ err: error }, "what a study tells of its parts could not be kept");
  }
}
