import { setImmediate } from "node:timers/promises";
import type { Store } from "@/store/database";

/** For so long at most the store is written without a pause, milliseconds: pages answer in between. */
const SLICE_MS = 25;

/**
 * Does the steps of a long write in slices, each a transaction of its own.
 *
 * @param undo takes back what was written, where it fails or is stopped
 * @returns what the steps come to
 */
export async function inSlices<T>(
  store: Store,
  steps: Generator<void, T>,
  { signal, undo }: { signal: AbortSignal; undo: () => void },
): Promise<T> {
  try {
    for (;;) {
      signal.throwIfAborted();
      const until = performance.now() + SLICE_MS;
      const last = store.transaction(() => {
        let next = steps.next();
        while (!next.done && performance.now() < until) next = steps.next();
        return next;
      });
      if (last.done) return last.value;
      await setImmediate();
    }
  } catch (error) {
    undo();
    throw error;
  }
}
