import { setTimeout as sleep } from "node:timers/promises";
import type { Schedule } from "@/core/replay/schedule";
import { Refusal } from "../refusal";
import type { Medium } from "../target/scratch";
import {
  createCounters,
  ENDED,
  IN_FLIGHT,
  PHASE,
  Phase,
  READ_BYTES,
  READ_REQUESTS,
  WRITTEN_BYTES,
  type Counters,
} from "./counters";
import type { Lanes } from "./lanes";
import { compiled, native } from "./native";

/** A recording that is done again just now. */
export interface ReplayLane extends Pick<Lanes, "counters" | "ended"> {
  /** Lets it begin. */
  begin(): void;
  stop(): void;
  /** Bytes and requests so far. */
  moved(): { bytes: number; written: number; requests: number };
  inFlight(): number;
  /** When each request went and was answered, milliseconds after the beginning; NaN where it did not. */
  times(): { from: Float64Array; to: Float64Array };
}

/**
 * Starts the thread that does a recording again; it waits to be let go.
 *
 * @throws Refusal where this system cannot do it
 */
export function startReplay(schedule: Schedule, medium: Medium): ReplayLane {
  const lanes = nativeOrRefuse();
  const { count, files, offsets } = inFiles(schedule, medium);
  const counters: Counters = createCounters(1, false);
  const { control, totals } = counters;
  const begunNs = new Float64Array(count).fill(NaN);
  const endedNs = new Float64Array(count).fill(NaN);
  const task = {
    control,
    totals,
    fds: Int32Array.from(medium.fds),
    kinds: schedule.kinds,
    files,
    offsets,
    lengths: schedule.lengths,
    answers: schedule.answers,
    waitsNs: schedule.waitsNs,
    begunNs,
    endedNs,
  };
  const handle = lanes.startReplay(task);
  const milliseconds = (ns: Float64Array) => ns.map((one) => one / 1e6);
  return {
    counters,
    ended: joined(counters, () => lanes.joinReplay(handle, task)),
    begin: () => Atomics.store(control, PHASE, Phase.counting),
    stop: () => Atomics.store(control, PHASE, Phase.stop),
    moved: () => ({
      bytes: totals[READ_BYTES]! + totals[WRITTEN_BYTES]!,
      written: totals[WRITTEN_BYTES]!,
      requests: totals[READ_REQUESTS]! + totals[READ_REQUESTS + 1]!,
    }),
    inFlight: () => Atomics.load(control, IN_FLIGHT),
    times: () => ({ from: milliseconds(begunNs), to: milliseconds(endedNs) }),
  };
}

/** Joined only once it has ended, so that nobody waits for a drive that does not answer. */
async function joined({ control }: Counters, join: () => void): Promise<void> {
  while (Atomics.load(control, ENDED) < 1) await sleep(3);
  join();
}

/** @throws Refusal where requests cannot be held in flight without waiting for each */
function nativeOrRefuse() {
  const lanes = native();
  const why = !compiled()
    ? "the compiled lanes, and they could not be built here (no C compiler)"
    : !lanes
      ? "the compiled lanes, and NERRIT_LANE=portable keeps them out"
      : lanes.ringError() !== 0
        ? "the kernel’s ring interface (io_uring), and this system does not allow it"
        : null;
  if (lanes && why === null) return lanes;
  throw new Refusal("unsupported", `Doing a recording again needs ${why}.`);
}

/** Places by file, where a file system’s files are short; no request goes over the end of one. */
function inFiles({ places, lengths }: Schedule, { fileBytes }: Medium) {
  const count = places.length;
  const files = new Int32Array(count);
  const offsets = new Float64Array(count);
  for (let i = 0; i < count; i++) {
    const file = Math.floor(places[i]! / fileBytes);
    files[i] = file;
    offsets[i] = Math.min(places[i]! - file * fileBytes, fileBytes - lengths[i]!);
  }
  return { count, files, offsets };
}
