import { createRequire } from "node:module";

/** A walk over a medium, as the compiled lanes take it (native/addon.c). */
export interface NativeTask {
  control: Int32Array;
  totals: Float64Array;
  histograms: Int32Array;
  faults: Float64Array;
  fds: Int32Array;
  buckets: number;
  fileBytes: number;
  block: number;
  first: number;
  blocks: number;
  random: number;
  once: number;
  ring: number;
  writeShare: number;
  run: number;
  generation: number;
  generated: number;
  checked: number;
  compressible: number;
  pool: number;
  depth: number;
  lanes: number;
  seed: number;
}

/** What was compiled of the engine. Functions that may fail give an error number, 0 for none. */
export interface Native {
  startLanes(task: NativeTask): unknown;
  joinLanes(handle: unknown): void;
  ringError(): number;
  takesAtOnce(fd: number, bytes: number): boolean;
  allocate(fd: number, bytes: number): number;
  forget(fd: number): number;
  sync(fd: number): number;
}

let loaded: Native | null | undefined;

/**
 * The compiled part of the engine; null where it could not be built (no C compiler), or where
 * NERRIT_LANE=portable asks for the runtime's own file calls.
 */
export function native(): Native | null {
  if (loaded === undefined) {
    try {
      const load = createRequire(import.meta.url);
      loaded = process.env.NERRIT_LANE === "portable" ? null : (load("./lanes.node") as Native);
    } catch {
      loaded = null;
    }
  }
  return loaded;
}
