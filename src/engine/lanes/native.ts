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

/** A replay, as native/replay.h takes it. */
export interface NativeReplay {
  control: Int32Array;
  totals: Float64Array;
  fds: Int32Array;
  kinds: Uint8Array;
  /** By place in fds, and where in that file, bytes. */
  files: Int32Array;
  offsets: Float64Array;
  lengths: Float64Array;
  answers: Float64Array;
  waitsNs: Float64Array;
  /** Written to: when each request went and was answered, nanoseconds after the beginning. */
  begunNs: Float64Array;
  endedNs: Float64Array;
}

/** What was compiled of the engine. Functions that may fail give an error number, 0 for none. */
export interface Native {
  startLanes(task: NativeTask): unknown;
  joinLanes(handle: unknown): void;
  /** @throws where a request is beyond its bounds, or memory is short */
  startReplay(task: NativeReplay): unknown;
  /** @param task that it was started with: its memory has to stay in place until then */
  joinReplay(handle: unknown, task: NativeReplay): void;
  ringError(): number;
  takesAtOnce(fd: number, bytes: number): boolean;
  allocate(fd: number, bytes: number): number;
  forget(fd: number): number;
  sync(fd: number): number;
  /** A recorder, to hand to the two that follow (native/requests.h). */
  newRecorder(start: EventLayout, done: EventLayout, pipes: number): unknown;
  /**
   * Rows of requests that are whole (core/recording/request.ts), their times counted from `sinceNs`; `all` gives
   * those without an answer too. @throws where a pipe cannot be read
   */
  takeRequests(
    recorder: unknown,
    pipes: Int32Array,
    beforeNs: number,
    all: boolean,
    sinceNs: number,
  ): Float64Array;
  programsOf(recorder: unknown, from: number): string[];
  /** Every event that a raw pipe holds: its time, its length, four spare bytes, and its bytes up to a multiple of eight. */
  eventsIn(pipe: number): Buffer;
  /** Notes the files that are opened on a place's mount; each open waits until it is noted. @throws without rights */
  listenToOpens(place: string): unknown;
  takeOpens(handle: unknown): { opens: NativeOpen[]; lost: number };
  /** Nobody waits any more. */
  endOpens(handle: unknown): void;
}

/** A file as it was opened (native/opened.h). */
export interface NativeOpen {
  /** On the monotonic clock. */
  ns: number;
  /** Its size then. */
  bytes: number;
  thread: number;
  path: string;
}

/** Where an event of a trace point has its fields, bytes from its beginning. */
export interface EventLayout {
  id: number;
  sector: number;
  sectors: number;
  letters: number;
  lettersSize: number;
  program: number;
  /** 0 where no program is named. */
  programSize: number;
}

let loaded: Native | null | undefined;

/** The compiled part of the engine; null where it could not be built (no C compiler). */
export function compiled(): Native | null {
  if (loaded === undefined) {
    try {
      loaded = createRequire(import.meta.url)("./lanes.node") as Native;
    } catch {
      loaded = null;
    }
  }
  return loaded;
}

/**
 * The compiled part for whatever reads or writes; null where it could not be built, or where
 * NERRIT_LANE=portable asks for the runtime's own file calls.
 */
export const native = (): Native | null =>
  process.env.NERRIT_LANE === "portable" ? null : compiled();
