import type { Flow } from "@/core/run/program";
import type { StepResult } from "@/core/run/result";
import { isSteady, WINDOW } from "@/core/stats/steady";
import { Curve } from "@/core/trace/curve";
import type { Moved } from "../lanes/counters";

/** Goes on in rounds until five are steady, where the step asks for that; only those five count. */
export class Rounds {
  private readonly means: number[] = [];
  private roundStart = 0;
  private bytes = 0;
  private total = 0;
  private readonly marks: { ms: number; bytes: number }[] = [];
  private start = 0;
  result: StepResult["steady"] = null;

  constructor(private readonly step: Flow) {}

  begin(at: number): void {
    this.start = this.roundStart = at;
    this.bytes = this.total = 0;
  }

  /** Takes a sample in. @returns whether it is time to end */
  isOver(at: number, bytes: number): boolean {
    const { steady } = this.step;
    if (!steady) return false;
    this.bytes += bytes;
    this.total += bytes;
    if (at - this.roundStart < steady.roundSeconds * 1e3) return false;
    this.means.push(this.bytes / (at - this.roundStart));
    this.marks.push({ ms: at - this.start, bytes: this.total });
    this.roundStart = at;
    this.bytes = 0;
    const reached = isSteady(this.means);
    this.result = { rounds: this.means.length, reached };
    return reached || this.means.length >= steady.most;
  }

  /** Leaves of what was counted the last five rounds. */
  cut<T extends { curve: Curve; moved: Moved; ms: number; processorMs: number }>(whole: T): T {
    const mark = this.marks.at(-1 - WINDOW);
    if (!this.result || !mark) return whole;
    const curve = new Curve();
    for (const { ms, bytes } of whole.curve.moments)
      if (ms > mark.ms) curve.add(ms - mark.ms, bytes);
    const share = (this.total - mark.bytes) / Math.max(1, this.total);
    const { read, written, requests } = whole.moved;
    const moved = {
      read: read * share,
      written: written * share,
      requests: Math.round(requests * share),
    };
    return {
      ...whole,
      curve,
      moved,
      ms: whole.ms - mark.ms,
      processorMs: whole.processorMs * share,
    };
  }
}
