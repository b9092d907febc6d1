import { setImmediate } from "node:timers/promises";
import type { Store } from "@/store/database";
import { log } from "../log";

/** A study and the version of what something is worked out of. */
export interface Versioned {
  id: string;
  version: string;
}

/** Something that is worked out of each study by itself, and kept until something was written of that study. */
export interface EachStudy {
  /** The version that each study was worked out of. */
  done: Map<string, string>;
  /** What goes on after a page was answered. */
  going: Promise<void> | null;
}

/** How something is worked out of studies. */
export interface Work {
  /** All studies that it is wanted of, as they are now. */
  studies(): Versioned[];
  work(study: Versioned): void;
  /** Forgets a study that is no longer wanted; left out where all are kept. */
  forget?(id: string): void;
}

/**
 * Works out what is missing: for so long at once as a page can wait, then one study after another, with a turn
 * for others in between.
 *
 * @param pageMs for so long at most, milliseconds
 * @returns studies that are still missing
 */
export function keepUp(store: Store, kept: EachStudy, work: Work, pageMs: number): number {
  const until = performance.now() + pageMs;
  const left = missing(kept, work);
  while (left.length > 0 && performance.now() < until) doOne(kept, work, left.shift()!);
  if (left.length > 0) kept.going ??= later(store, kept, work);
  return left.length;
}

function missing({ done }: EachStudy, { studies, forget }: Work): Versioned[] {
  const all = studies();
  const there = new Set(all.map(({ id }) => id));
  for (const id of forget ? done.keys() : [])
    if (!there.has(id)) {
      done.delete(id);
      forget?.(id);
    }
  return all.filter(({ id, version }) => done.get(id) !== version);
}

function doOne({ done }: EachStudy, { work }: Work, study: Versioned): void {
  work(study);
  done.set(study.id, study.version);
}

async function later(store: Store, kept: EachStudy, work: Work): Promise<void> {
  try {
    for (;;) {
      await setImmediate();
      // The server ends, and has closed it.
      if (!store.$client.open) return;
      const [next] = missing(kept, work);
      if (!next) return;
      doOne(kept, work, next);
    }
  } catch (error) {
    log.warn({ err: error }, "studies could not be read to their end");
  } finally {
    kept.going = null;
  }
}
