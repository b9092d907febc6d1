import { Worker } from "node:worker_threads";
import { createCounters, ENDED, ERROR, PHASE, Phase, READY, type Counters } from "./counters";
import type { LaneTask } from "./lane";

/** What all lanes of one walk over the medium have in common. */
export type Walk = Pick<LaneTask, "fd" | "writing" | "block" | "blocks" | "once" | "run">;

/** Lanes at work: shared counters, and the end of it all. */
export interface Lanes {
  counters: Counters;
  /** Lets the lanes go. */
  release(): void;
  /** From now on request times go into the histograms. */
  count(): void;
  /** Asks the lanes to stop; `ended` follows when the requests in flight are done. */
  stop(): void;
  /** Settles when every lane has come to an end; rejects if a lane crashed. */
  ended: Promise<void>;
}

/**
 * Starts lanes and waits until each has its memory and its transfer.
 *
 * @param depth requests in flight, one lane each
 */
export async function startLanes(depth: number, walk: Walk): Promise<Lanes> {
  const counters = createCounters(depth);
  const { control, totals, histograms } = counters;
  const workers = Array.from({ length: depth }, (_, lane) => {
    const task: LaneTask = {
      ...walk,
      lane,
      control,
      totals: totals[lane]!,
      histogram: histograms[lane]!,
    };
    return new Worker(new URL("./lane.mjs", import.meta.url), { workerData: task });
  });
  const ended = Promise.all(
    workers.map(
      (worker) =>
        new Promise<void>((resolve, reject) => {
          worker.once("error", reject);
          worker.once("exit", () => resolve());
        }),
    ),
  ).then(() => undefined);
  ended.catch(() => undefined);

  const ready = (async () => {
    for (;;) {
      const count = Atomics.load(control, READY);
      if (count === depth) return;
      await Atomics.waitAsync(control, READY, count).value;
    }
  })();
  await Promise.race([ready, ended]);

  const tell = (phase: number) => {
    Atomics.store(control, PHASE, phase);
    Atomics.notify(control, PHASE);
  };
  return {
    counters,
    release: () => tell(Phase.leadIn),
    count: () => tell(Phase.counting),
    stop: () => tell(Phase.stop),
    ended,
  };
}

/** The error number of the first request that failed, or 0. */
export const laneError = ({ counters }: Lanes) => Atomics.load(counters.control, ERROR);

/** Whether every lane has come to an end by itself. */
export const allEnded = ({ counters }: Lanes) =>
  Atomics.load(counters.control, ENDED) === counters.totals.length;
