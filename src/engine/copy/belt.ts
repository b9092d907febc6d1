/**
 * The belt between the two sides of a copy: blocks that the reader puts on and the writer takes off,
 * in shared memory. Who finds it full, or empty, waits for the other, and how long is counted.
 */

/** Blocks on the belt. */
const PLACES = 16;
const WASM_PAGE = 65536;

/** Places in the control words. */
const PUT = 0;
const TAKEN = 1;
const STOP = 2;
const ERROR = 3;
/** Which side failed: 1 the reader, 2 the writer. */
const SIDE = 4;
const ENDED = 5;

/** Places in the totals. */
export const READ = 0;
export const WRITTEN = 1;
export const FILES = 2;
/** Milliseconds that the writer waited for the reader, and the other way round. */
export const WAITED_FOR_READER = 3;
export const WAITED_FOR_WRITER = 4;
/** Sums of `fileTerms` (core/drills/copy-figures.ts) over the files. */
export const FIT = 5;
export const FIT_TERMS = 5;
const TOTALS = 16;

export interface BeltMemory {
  data: SharedArrayBuffer;
  block: number;
  control: Int32Array<SharedArrayBuffer>;
  totals: Float64Array<SharedArrayBuffer>;
  /** Of each place: which file, bytes, whether it is the file's last. */
  heads: Float64Array<SharedArrayBuffer>;
}

/** Memory for a belt; page-aligned, as direct I/O needs it. */
export function makeBelt(block: number): BeltMemory {
  const pages = Math.ceil((PLACES * block) / WASM_PAGE);
  const memory = new WebAssembly.Memory({ initial: pages, maximum: pages, shared: true });
  return {
    data: memory.buffer as unknown as SharedArrayBuffer,
    block,
    control: new Int32Array(new SharedArrayBuffer(4 * 8)),
    totals: new Float64Array(new SharedArrayBuffer(8 * TOTALS)),
    heads: new Float64Array(new SharedArrayBuffer(8 * 3 * PLACES)),
  };
}

/** A block's place on the belt. */
export interface Place {
  file: number;
  bytes: number;
  last: boolean;
  data: Uint8Array;
}

/** One side's hold of the belt. */
export class Belt {
  private mine = 0;

  constructor(readonly memory: BeltMemory) {}

  get stopped(): boolean {
    return Atomics.load(this.memory.control, STOP) !== 0;
  }

  /** The next free place, once there is one; null when the copy was stopped. */
  free(): Uint8Array | null {
    const { control, totals } = this.memory;
    const begun = performance.now();
    let waited = false;
    while (this.mine - Atomics.load(control, TAKEN) >= PLACES) {
      if (this.stopped) return null;
      waited = true;
      Atomics.wait(control, TAKEN, this.mine - PLACES, 100);
    }
    if (waited) totals[WAITED_FOR_WRITER]! += performance.now() - begun;
    return this.stopped ? null : this.at(this.mine);
  }

  /** Puts the place that `free` gave on the belt. */
  put(file: number, bytes: number, last: boolean): void {
    const { control, heads } = this.memory;
    heads.set([file, bytes, last ? 1 : 0], 3 * (this.mine % PLACES));
    this.mine += 1;
    Atomics.store(control, PUT, this.mine);
    Atomics.notify(control, PUT);
  }

  /** The next block, once there is one; null when the reader has come to its end or was stopped. */
  take(): Place | null {
    const { control, totals, heads } = this.memory;
    const begun = performance.now();
    let waited = false;
    while (Atomics.load(control, PUT) <= this.mine) {
      if (this.stopped) return null;
      if (Atomics.load(control, ENDED) && Atomics.load(control, PUT) <= this.mine) return null;
      waited = true;
      Atomics.wait(control, PUT, this.mine, 100);
    }
    if (waited) totals[WAITED_FOR_READER]! += performance.now() - begun;
    const [file, bytes, last] = heads.subarray(3 * (this.mine % PLACES));
    return { file: file!, bytes: bytes!, last: last === 1, data: this.at(this.mine) };
  }

  /** Hands the place that `take` gave back. */
  done(): void {
    this.mine += 1;
    Atomics.store(this.memory.control, TAKEN, this.mine);
    Atomics.notify(this.memory.control, TAKEN);
  }

  private at(place: number): Uint8Array {
    const { data, block } = this.memory;
    return new Uint8Array(data, (place % PLACES) * block, block);
  }

  /** No more will be put on. */
  end(): void {
    Atomics.store(this.memory.control, ENDED, 1);
    Atomics.notify(this.memory.control, PUT);
  }

  stop(): void {
    const { control } = this.memory;
    Atomics.store(control, STOP, 1);
    Atomics.notify(control, PUT);
    Atomics.notify(control, TAKEN);
  }

  /** One side failed; the copy comes to its end. @param number of the system's error */
  fail(side: "reader" | "writer", number: number): void {
    const { control } = this.memory;
    if (Atomics.compareExchange(control, ERROR, 0, number || 5) === 0) {
      Atomics.store(control, SIDE, side === "reader" ? 1 : 2);
    }
    this.stop();
  }

  get failure(): { side: "reader" | "writer"; number: number } | null {
    const number = Atomics.load(this.memory.control, ERROR);
    if (number === 0) return null;
    return { side: Atomics.load(this.memory.control, SIDE) === 1 ? "reader" : "writer", number };
  }
}
