import fs from "node:fs";
import { parentPort, workerData } from "node:worker_threads";
import { BUCKETS, bucketOf } from "@/core/stats/histogram";
import { seeded } from "@/core/simulate/noise";
import {
  CURSOR,
  ENDED,
  ERROR,
  FAULTS,
  MAX_READ_NS,
  MOST_FAULTS,
  PHASE,
  Phase,
  READ_BYTES,
  READ_REQUESTS,
  READY,
  TOTALS,
  type Counters,
} from "./counters";
import type { Walk } from "./lanes";
import {
  checkPage,
  fillIncompressible,
  generateBlock,
  PAGE,
  PAGE_STATES,
  stampBlock,
} from "./stamp";

/** What a lane is started with. */
export interface LaneTask {
  walk: Walk;
  lane: number;
  counters: Counters;
}

/** A short transfer or an unknown error is reported as an input/output error. */
const EIO = 5;
const WASM_PAGE = 65536;

/**
 * One request in flight by the runtime's own file calls: native/walk.c does the same where there is
 * a C compiler. Memory of WebAssembly is page-aligned, which direct I/O needs.
 */
function run({ walk, lane, counters }: LaneTask): void {
  const { block, first, blocks, order, once, writeShare, mark, generated, checked } = walk;
  const { control, totals, histograms, faults } = counters;
  const memory = new WebAssembly.Memory({ initial: Math.ceil(block / WASM_PAGE) });
  const data = new Uint8Array(memory.buffer, 0, block);
  const view = new DataView(memory.buffer, 0, block);
  const random = seeded(walk.seed + 7919 * (lane + 1));
  if (writeShare > 0 && !generated) fillIncompressible(data, walk.seed + lane, walk.compressible);

  Atomics.add(control, READY, 1);
  Atomics.wait(control, PHASE, Phase.wait);

  for (;;) {
    const phase = Atomics.load(control, PHASE);
    if (phase === Phase.stop) break;
    const next = Atomics.add(control, CURSOR, 1) >>> 0;
    if (once && next >= blocks) break;
    const place = order === "random" ? Math.floor(random() * blocks) : next % blocks;
    const offset = first + place * block;
    const writing = writeShare >= 1 || (writeShare > 0 && random() < writeShare);
    if (writing) {
      stampBlock(view, offset, mark);
      if (generated) generateBlock(view);
    }
    const begun = performance.now();
    const error = move(walk, data, offset, writing);
    if (error !== 0) {
      Atomics.compareExchange(control, ERROR, 0, error);
      break;
    }
    const ns = (performance.now() - begun) * 1e6;
    const way = writing ? 1 : 0;
    const at = lane * TOTALS + way;
    totals[at + READ_BYTES]! += block;
    totals[at + READ_REQUESTS]! += 1;
    if (phase === Phase.counting) {
      histograms[(2 * lane + way) * BUCKETS + bucketOf(ns)]! += 1;
      if (ns > totals[at + MAX_READ_NS]!) totals[at + MAX_READ_NS] = ns;
    }
    if (checked) check(view, offset);
  }
  Atomics.add(control, ENDED, 1);

  function check(read: DataView, offset: number): void {
    for (let at = 0; at < block; at += PAGE) {
      const page = new DataView(read.buffer, read.byteOffset + at, Math.min(PAGE, block - at));
      const state = checkPage(page, offset + at, mark);
      if (state === "intact") continue;
      const slot = Atomics.add(control, FAULTS, 1);
      if (slot >= MOST_FAULTS) continue;
      faults.set([PAGE_STATES.indexOf(state), offset + at, page.byteLength], 3 * slot);
    }
  }
}

/** Moves a block; a transfer that falls short goes on. @returns an error number, 0 for none */
function move(
  { fds, fileBytes }: Walk,
  data: Uint8Array,
  offset: number,
  writing: boolean,
): number {
  for (let done = 0; done < data.byteLength;) {
    const place = offset + done;
    const fd = fds[Math.floor(place / fileBytes)]!;
    const at = place % fileBytes;
    const left = data.byteLength - done;
    try {
      const moved = writing
        ? fs.writeSync(fd, data, done, left, at)
        : fs.readSync(fd, data, done, left, at);
      if (moved === 0) return EIO;
      done += moved;
    } catch (error) {
      return -((error as NodeJS.ErrnoException).errno ?? -EIO);
    }
  }
  return 0;
}

if (parentPort) run(workerData as LaneTask);
