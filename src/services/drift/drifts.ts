import { setImmediate } from "node:timers/promises";
import { driftsOf, type Drift } from "@/core/drift/drift";
import { seriesOf, type Series } from "@/core/drift/series";
import type { Store } from "@/store/database";
import { listStudies } from "@/store/studies";
import { listStudySeries, putStudySeries } from "@/store/study-series";
import { ownVersions } from "@/store/version";
import { openCompared } from "../conclusions/comparison";
import { log } from "../log";

/** The build of the program: what another one worked out is worked out anew. Without one, nothing is kept. */
const BUILD = process.env.NERRIT_BUILD ?? null;

/** For so long at most a page waits for studies to be read, milliseconds; the others are read after it. */
const PAGE_MS = 60;

/** How the rates of all parts changed over time, as far as the studies were read. */
export interface Drifts {
  /** By the part's id or the machine's key; the tester's own and those of the sample data, which share no part. */
  of: ReadonlyMap<string, Drift>;
  /** Studies whose runs are still being read. */
  waiting: number;
}

/** What is known of a bench, in memory. */
interface Known {
  studies: Map<string, { version: string; series: Series[] }>;
  /** Of what the drifts were worked out last. */
  of: string;
  drifts: ReadonlyMap<string, Drift>;
  /** The reading that goes on after a page was answered. */
  reading: Promise<void> | null;
}
const shared = globalThis as { nerritDrifts?: WeakMap<Store, Known> };

/**
 * Returns how the rates of all parts changed, over all studies and hosts. What a study tells is worked out
 * when something was written of it, and kept beside it; of many such studies, some are read after the page.
 */
export function driftsKnown(store: Store, pageMs = PAGE_MS): Drifts {
  const known = knownOf(store);
  const until = performance.now() + pageMs;
  const left = unread(store, known);
  while (left.length > 0 && performance.now() < until) readStudy(store, known, left.shift()!);
  if (left.length > 0) known.reading ??= readLater(store, known);
  const all = [...known.studies].map(([id, { version }]) => `${id} ${version}`).join("|");
  if (known.of !== all) {
    // Sample data and the tester's own have no part in common, but perhaps the name of a machine.
    const series = [...known.studies.values()].flatMap((one) => one.series);
    known.drifts = new Map([
      ...driftsOf(series.filter(({ simulated }) => simulated)),
      ...driftsOf(series.filter(({ simulated }) => !simulated)),
    ]);
    known.of = all;
  }
  return { of: known.drifts, waiting: left.length };
}

function knownOf(store: Store): Known {
  const all = (shared.nerritDrifts ??= new WeakMap<Store, Known>());
  const known = all.get(store);
  if (known) return known;
  const kept = BUILD === null ? [] : listStudySeries(store);
  const fresh: Known = {
    studies: new Map(kept.map(({ studyId, version, series }) => [studyId, { version, series }])),
    of: "",
    drifts: new Map(),
    reading: null,
  };
  all.set(store, fresh);
  return fresh;
}

interface Unread {
  id: string;
  simulated: boolean;
  version: string;
}

/** Studies of which something was written since they were read; those that are gone are forgotten. */
function unread(store: Store, known: Known): Unread[] {
  const versions = ownVersions(store);
  const studies = listStudies(store).map(({ id, simulated }) => ({
    id,
    simulated,
    version: `${versions.get(id) ?? 0} ${BUILD}`,
  }));
  const there = new Set(studies.map(({ id }) => id));
  for (const id of known.studies.keys()) if (!there.has(id)) known.studies.delete(id);
  return studies.filter(({ id, version }) => known.studies.get(id)?.version !== version);
}

function readStudy(store: Store, known: Known, { id, simulated, version }: Unread): void {
  const { rigs, measurements } = openCompared(store, id);
  const series = seriesOf({ id, simulated }, rigs, measurements);
  known.studies.set(id, { version, series });
  if (BUILD === null) return;
  try {
    putStudySeries(store, { studyId: id, version, series });
  } catch (error) {
    // A store that takes nothing now costs only that it is worked out again.
    log.warn({ err: error }, "what a study tells of drift could not be kept");
  }
}

/** Reads the studies that are left, one after another, with a turn for others in between. */
async function readLater(store: Store, known: Known): Promise<void> {
  try {
    for (;;) {
      await setImmediate();
      // The server ends, and has closed it.
      if (!store.$client.open) return;
      const [next] = unread(store, known);
      if (!next) return;
      readStudy(store, known, next);
    }
  } catch (error) {
    log.warn({ err: error }, "what studies tell of drift could not be read");
  } finally {
    known.reading = null;
  }
}
