import os from "node:os";
import { setTimeout as sleep } from "node:timers/promises";
import { Worker } from "node:worker_threads";
import { BUCKETS } from "@/core/stats/histogram";
import { formatSize } from "@/core/units/size";
import { createCounters, ENDED, ERROR, PHASE, Phase, READY, type Counters } from "./counters";
import { native } from "./native";
import { Refusal } from "../refusal";
import type { Mark } from "./stamp";

/** What all lanes of one walk over a medium have in common. Bytes. */
export interface Walk {
  fds: readonly number[];
  /** Bytes of each of the files but the last. */
  fileBytes: number;
  /** 0 reads, 1 writes; between, that share of the requests writes. */
  writeShare: number;
  order: "sequential" | "random";
  block: number;
  /** The stretch that is walked over: where it begins, and how many blocks it has. */
  first: number;
  blocks: number;
  /** Stop after the stretch has been walked once, instead of starting over. */
  once: boolean;
  depth: number;
  mark: Mark;
  /** Whether all that is written follows from its stamp, and whether what is read is held against that. */
  generated: boolean;
  checked: boolean;
  compressible: number;
  seed: number;
}

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

export type LaneKind = "native" | "ring" | "portable";

/**
 * From how many requests in flight on the kernel's ring carries them better than a thread for each:
 * docs/measured.md has the figures.
 */
const DEEP = 32;
/** A worker of the runtime for each request takes some 10 MB and 30 ms. */
const MOST_PORTABLE = 64;
/** Data in flight, of all lanes together; the pools of what is written may double it. */
const MOST_MEMORY = 2 ** 30;

/**
 * How requests are kept in flight: by the kernel's ring where they are many and the target takes them
 * without waiting, else by threads. NERRIT_LANE forces one: native, ring, portable.
 *
 * @param depth requests in flight
 * @param block bytes of one
 * @param fd what they go to; null where there is nothing yet
 */
export function laneKind(depth: number, block: number, fd: number | null): LaneKind {
  const compiled = native();
  if (!compiled) return "portable";
  const asked = process.env.NERRIT_LANE;
  if (asked === "native") return "native";
  const deep = depth > DEEP && fd !== null && compiled.takesAtOnce(fd, block);
  return (asked === "ring" || deep) && compiled.ringError() === 0 ? "ring" : "native";
}

/**
 * Starts lanes and waits until each has its memory.
 *
 * @throws Refusal where so many requests cannot be kept in flight on this machine
 */
export async function startLanes(walk: Walk): Promise<Lanes> {
  const kind = laneKind(walk.depth, walk.block, walk.fds[0] ?? null);
  if (walk.depth * walk.block > MOST_MEMORY) {
    throw new Refusal(
      "too-deep",
      `${walk.depth} requests of ${formatSize(walk.block)} in flight need more than ${formatSize(MOST_MEMORY)} of memory. Use fewer, or smaller ones.`,
    );
  }
  const many =
    kind === "ring"
      ? Math.min(os.availableParallelism(), Math.ceil(walk.depth / DEEP))
      : walk.depth;
  const counters = createCounters(many, walk.checked);
  const { control } = counters;
  const ended =
    kind === "portable" ? startWorkers(walk, counters) : startNative(walk, counters, kind);
  ended.catch(() => undefined);
  while (Atomics.load(control, READY) < many && Atomics.load(control, ERROR) === 0) {
    await Promise.race([sleep(1), ended]);
  }
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

/**
 * Memory for what is written: enough that neighbouring blocks differ, and small enough that it stays
 * in the processor's own memory, so that the drive and not the host is measured.
 */
const poolOf = ({ block, depth }: Walk) =>
  Math.max(block + Math.min(block, 2 ** 18), Math.min(2 ** 20, Math.floor(2 ** 26 / depth)));

async function startNative(walk: Walk, counters: Counters, kind: LaneKind): Promise<void> {
  const compiled = native()!;
  let handle: unknown;
  try {
    handle = compiled.startLanes({
      ...counters,
      fds: Int32Array.from(walk.fds),
      buckets: BUCKETS,
      fileBytes: walk.fileBytes,
      block: walk.block,
      first: walk.first,
      blocks: walk.blocks,
      random: walk.order === "random" ? 1 : 0,
      once: walk.once ? 1 : 0,
      ring: kind === "ring" ? 1 : 0,
      writeShare: walk.writeShare,
      run: walk.mark.run,
      generation: walk.mark.generation,
      generated: walk.generated ? 1 : 0,
      checked: walk.checked ? 1 : 0,
      compressible: walk.compressible,
      pool: Math.floor(poolOf(walk) / 4096) * 4096,
      depth: walk.depth,
      seed: walk.seed,
    });
  } catch (error) {
    throw new Refusal(
      "too-deep",
      `${walk.depth} requests in flight: ${(error as Error).message}. Use fewer.`,
    );
  }
  // Joined only once all have ended, so that nobody waits for a drive that does not answer.
  while (Atomics.load(counters.control, ENDED) < counters.lanes) await sleep(3);
  compiled.joinLanes(handle);
}

async function startWorkers(walk: Walk, counters: Counters): Promise<void> {
  if (walk.depth > MOST_PORTABLE) {
    throw new Refusal(
      "too-deep",
      `${walk.depth} requests in flight need the compiled lanes, and they could not be built here (no C compiler). Use at most ${MOST_PORTABLE}.`,
    );
  }
  const workers = Array.from({ length: walk.depth }, (_, lane) => {
    const workerData = { walk, lane, counters };
    return new Worker(new URL("./portable-lane.mjs", import.meta.url), { workerData });
  });
  await Promise.all(
    workers.map(
      (worker) =>
        new Promise<void>((resolve, reject) => {
          worker.once("error", reject);
          worker.once("exit", () => resolve());
        }),
    ),
  );
}

/** The error number of the first request that failed, or 0. */
export const laneError = ({ counters }: Pick<Lanes, "counters">) =>
  Atomics.load(counters.control, ERROR);

/** Whether every lane has come to an end. */
export const allEnded = ({ counters }: Pick<Lanes, "counters">) =>
  Atomics.load(counters.control, ENDED) === counters.lanes;
