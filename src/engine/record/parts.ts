import { deflateRawSync } from "node:zlib";
import { MOST_ON_LINE, MOST_REQUESTS, partOf } from "@/core/recording/recording-file";
import { ROW, TICKS, type RequestRows } from "@/core/recording/request";
import type { Source } from "./source";

/** Requests wait for so many of their kind before they are written as a line, and no longer than so long. */
const ENOUGH = 4096;
const LINE_MS = 1000;

/** Gathers requests to lines of the file. */
export class Parts {
  /** How many have come. */
  requests = 0;
  private waiting: RequestRows[] = [];
  private rows = 0;
  private lastTick = 0;
  private since = performance.now();

  constructor(
    private readonly source: Pick<Source, "newPrograms">,
    private readonly write: (line: object) => void,
  ) {}

  /** When the last of them was answered, milliseconds. */
  get lastMs(): number {
    return this.lastTick / TICKS / 1e3;
  }

  /** Whether a recording can hold no more. */
  get isFull(): boolean {
    return this.requests >= MOST_REQUESTS;
  }

  /** Takes requests in; those beyond what a recording holds are left out. */
  add(all: RequestRows): void {
    const rows = all.subarray(0, (MOST_REQUESTS - this.requests) * ROW);
    this.requests += rows.length / ROW;
    for (let i = 0; i < rows.length; i += ROW) {
      const answered = rows[i]! + Math.max(0, rows[i + 1]!);
      if (answered > this.lastTick) this.lastTick = answered;
    }
    this.waiting.push(rows);
    this.rows += rows.length / ROW;
    if (this.rows >= ENOUGH || performance.now() - this.since >= LINE_MS) this.flush();
  }

  flush(): void {
    const all = new Float64Array(this.rows * ROW);
    let at = 0;
    for (const rows of this.waiting) {
      all.set(rows, at);
      at += rows.length;
    }
    for (let from = 0; from < all.length; from += MOST_ON_LINE * ROW)
      this.write(
        partOf(all.subarray(from, from + MOST_ON_LINE * ROW), this.source.newPrograms(), quickly),
      );
    this.waiting = [];
    this.rows = 0;
    this.since = performance.now();
  }
}

const quickly = (bytes: Uint8Array) => deflateRawSync(bytes, { level: 1 });
