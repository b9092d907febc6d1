import { EngineEvent } from "@/core/run/protocol";
import type { Touch } from "@/core/run/touch";
import type { HostRun } from "../hosts/engine-on";
import type { EngineEnd, EngineProcess } from "../measuring/engine-process";

/** A host whose runs tell what a test says, for tests only. */
export class StandInHost {
  /** What was started or looked for there, the latest last. */
  readonly runs: (HostRun & { host: string; isStopped: boolean })[] = [];
  private tellEvent: (event: EngineEvent) => void = () => undefined;
  /** Says how the line to the latest run stands. */
  touched: (touch: Touch) => void = () => undefined;
  /** Ends the latest run. */
  end: (end: EngineEnd) => void = () => undefined;

  readonly start = (
    host: string,
    run: HostRun,
    tell: (event: EngineEvent) => void,
    touched: (touch: Touch) => void,
  ): EngineProcess => {
    const kept = { ...run, host, isStopped: false };
    this.runs.push(kept);
    this.tellEvent = tell;
    this.touched = touched;
    const ended = new Promise<EngineEnd>((resolve) => (this.end = resolve));
    const stop = () => {
      kept.isStopped = true;
      this.end({ kind: "stopped" });
    };
    return { ended, stop, go: () => undefined };
  };

  /** Tells events of the latest run. */
  tell(...events: object[]): void {
    for (const event of events) this.tellEvent(EngineEvent.parse(event));
  }
}
