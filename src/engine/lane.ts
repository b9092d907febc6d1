import { parentPort, workerData } from "node:worker_threads";
import { BYTES, CURSOR, ENDED, ERROR, MAX_NS, PHASE, Phase, READY } from "./counters";
import { bucketOf } from "./histogram";
import { fillIncompressible, stampBlock } from "./stamp";
import { MOVED, NANOSECONDS, OFFSET, openTransfer } from "./transfer";

/** What a lane is started with. Numbers of bytes, and its parts of the shared memory. */
export interface LaneTask {
  fd: number;
  writing: boolean;
  block: number;
  /** Blocks in the span; the lanes walk over them in order, together. */
  blocks: number;
  /** Stop after the span has been walked once, instead of starting over. */
  once: boolean;
  /** Tells this run's data from others'. */
  run: number;
  lane: number;
  control: Int32Array;
  totals: Float64Array;
  histogram: Int32Array;
}

/** A short transfer or an unknown error is reported as an input/output error. */
const EIO = 5;
const WASM_PAGE = 65536;

/**
 * One request in flight: takes the next block, moves it, counts it, until told to stop. Memory of
 * WebAssembly is page-aligned, which direct I/O needs.
 */
function walk(task: LaneTask): void {
  const { control, totals, histogram, block, blocks, once, writing, run } = task;
  const memory = new WebAssembly.Memory({ initial: Math.ceil(block / WASM_PAGE) });
  const data = new Uint8Array(memory.buffer, 0, block);
  const view = new DataView(memory.buffer, 0, block);
  const slot = new Float64Array(3);
  const transfer = openTransfer(task.fd, writing, data, slot);
  if (writing) fillIncompressible(data, run + task.lane);

  Atomics.add(control, READY, 1);
  Atomics.notify(control, READY);
  Atomics.wait(control, PHASE, Phase.wait);

  let bytes = 0;
  let longest = 0;
  for (;;) {
    const phase = Atomics.load(control, PHASE);
    if (phase === Phase.stop) break;
    const next = Atomics.add(control, CURSOR, 1) >>> 0;
    if (once && next >= blocks) break;
    const offset = (next % blocks) * block;
    if (writing) stampBlock(view, offset, run);
    slot[OFFSET] = offset;
    transfer();
    const moved = slot[MOVED]!;
    if (moved !== block) {
      Atomics.compareExchange(control, ERROR, 0, moved < 0 ? -moved : EIO);
      break;
    }
    totals[BYTES] = bytes += block;
    if (phase === Phase.counting) {
      const ns = slot[NANOSECONDS]!;
      histogram[bucketOf(ns)]! += 1;
      if (ns > longest) totals[MAX_NS] = longest = ns;
    }
  }
  Atomics.add(control, ENDED, 1);
}

if (parentPort) walk(workerData as LaneTask);
