import type { Telling } from "../outside";
import { SAMPLE_MS } from "./sampling";

/** Silence that is worth telling. */
const STALL_MS = 1000;

/** Tells when nothing came for more than a second, and for how long. */
export class Silence {
  private since = performance.now();

  constructor(private readonly telling: Telling) {}

  /** Nothing can have come until now. */
  begin(at: number): void {
    this.since = at;
  }

  heard(bytes: number, at: number): void {
    if (bytes === 0) return;
    this.end(at - SAMPLE_MS);
    this.since = at;
  }

  end(at: number): void {
    const quiet = at - this.since;
    if (quiet <= STALL_MS) return;
    const ms = this.telling.now() - (performance.now() - this.since);
    this.telling.happened(
      "stalled",
      `No request ended for ${(quiet / 1e3).toFixed(1)} s.`,
      null,
      Math.max(0, ms),
    );
    this.since = at;
  }
}
