import type { RecordedRequest } from "../recording/request";

/** Places keep their distance within a page; a file system hands out space by it. */
export const PAGE = 4096;

/**
 * Where the places that a recording touched lie in a scratch file: in the same order and without what lies
 * untouched between them, so that the file is no larger than the working set.
 */
export class Places {
  /** Pages at which touched stretches begin, and how many touched pages lie before each. */
  private readonly starts: Float64Array;
  private readonly before: Float64Array;
  /** How much was touched, in whole pages, bytes. */
  readonly bytes: number;

  constructor(requests: readonly RecordedRequest[]) {
    const moving = requests.filter(({ kind }) => kind === "read" || kind === "write");
    const from = Float64Array.from(moving, ({ offset }) => Math.floor(offset / PAGE)).sort();
    const to = Float64Array.from(moving, ({ offset, bytes }) =>
      Math.ceil((offset + bytes) / PAGE),
    ).sort();
    const starts: number[] = [];
    const before: number[] = [];
    let [pages, begins, next] = [0, 0, 0];
    // A touched stretch ends where as many requests have ended as have begun, and none goes on from there.
    for (let ended = 0; ended < to.length; ended++) {
      while (next < from.length && from[next]! <= to[ended]!) {
        if (next === ended) {
          begins = from[next]!;
          starts.push(begins);
          before.push(pages);
        }
        next++;
      }
      if (next === ended + 1) pages += to[ended]! - begins;
    }
    this.starts = Float64Array.from(starts);
    this.before = Float64Array.from(before);
    this.bytes = pages * PAGE;
  }

  /** Where a place of the recording lies, bytes. @throws RangeError for one that no request touched */
  at(offset: number): number {
    const page = Math.floor(offset / PAGE);
    let [low, high] = [0, this.starts.length - 1];
    while (low < high) {
      const middle = Math.ceil((low + high) / 2);
      if (this.starts[middle]! <= page) low = middle;
      else high = middle - 1;
    }
    const start = this.starts[low];
    if (start === undefined || start > page) throw new RangeError("no request touched this place");
    return (this.before[low]! + page - start) * PAGE + (offset % PAGE);
  }
}
