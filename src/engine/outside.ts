import type { RunEvent } from "@/core/run/result";
import type { EngineEvent, SampleEvent } from "@/core/run/protocol";

/** What a measurement needs from outside: where to tell, and whether to stop. */
export interface Outside {
  tell(event: EngineEvent): void;
  stop: AbortSignal;
  /** Waits until a repeat may begin, or is to stop; left out where nobody has to be waited for. */
  mayBegin?(repeat: number): Promise<void>;
}

/** One repeat under way: its clock, and where what happens is told. */
export class Telling {
  private begun: number | null = null;
  private early: RunEvent[] = [];

  constructor(
    readonly outside: Outside,
    readonly repeat: number,
  ) {}

  /** Milliseconds since the first counted moment; 0 before it. */
  now(): number {
    return this.begun === null ? 0 : performance.now() - this.begun;
  }

  /** The first counted moment; the clock starts here. Later calls change nothing. */
  start(): void {
    if (this.begun !== null) return;
    this.begun = performance.now();
    this.outside.tell({ event: "started", repeat: this.repeat, at: new Date().toISOString() });
    for (const what of this.early) {
      this.outside.tell({ event: "happened", repeat: this.repeat, what });
    }
  }

  sample(sample: Omit<SampleEvent, "event" | "repeat">): void {
    this.outside.tell({ event: "sample", repeat: this.repeat, ...sample });
  }

  /** Something happened; what happens before the first counted moment is told with it. */
  happened(
    kind: RunEvent["kind"],
    text: string,
    from: string | null = null,
    ms = this.now(),
  ): void {
    const what: RunEvent = { ms, kind, text, from };
    if (this.begun === null) this.early.push(what);
    else this.outside.tell({ event: "happened", repeat: this.repeat, what });
  }

  get stopped(): boolean {
    return this.outside.stop.aborted;
  }
}
