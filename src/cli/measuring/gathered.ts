import { resultFrom } from "@/core/drills/summary";
import type { FarReading } from "@/core/run/far-host";
import type { EngineEvent } from "@/core/run/protocol";
import type { Conditions, RunEvent, Sample, StepResult } from "@/core/run/result";
import type { Drill } from "@/core/drills/drill";
import type { Repeat } from "./measured-document";

/** What the engine told, gathered. */
export class Gathered {
  readonly repeats: (Repeat & { startedAt: string })[] = [];
  conditions: Conditions | null = null;
  /** When the last sample was told of; null before a repeat's first. */
  private heard: number | null = null;

  constructor(private readonly drill: Drill) {}

  hear(event: EngineEvent): void {
    const current = this.repeats.at(-1);
    switch (event.event) {
      case "conditions":
        this.conditions = event.conditions;
        break;
      case "started":
        this.repeats.push({
          samples: [],
          steps: [],
          events: [],
          readings: [],
          errors: [],
          result: null,
          startedAt: event.at,
        });
        this.heard = null;
        break;
      case "sample": {
        const { event: _, repeat: _repeat, ...sample } = event;
        current!.samples.push(sample satisfies Sample);
        this.heard = performance.now();
        break;
      }
      case "happened":
        current?.events.push(event.what satisfies RunEvent);
        break;
      case "reading":
        current?.readings.push(event.reading);
        break;
      case "stepped":
        current!.steps.push(event.result satisfies StepResult);
        break;
      case "finished":
        current!.errors.push(...event.errors);
        current!.result = resultFrom(this.drill, current!.steps);
        break;
    }
  }

  /** Takes what the far host did in the last second; before the first counted moment it says nothing of the run. */
  hearFar(far: FarReading, agoMs: number): void {
    const moment = this.now();
    if (moment === null || moment.ms < agoMs) return;
    const { repeat, ms } = moment;
    repeat.readings.push({ ms: ms - agoMs, engine: null, machine: null, celsius: {}, far });
  }

  /** Takes that the far host cannot be looked at, or can again. */
  sayOfFar(text: string): void {
    const moment = this.now();
    moment?.repeat.events.push({ ms: moment.ms, kind: "note", text, from: null });
  }

  /** The repeat that goes on and its time, milliseconds after its first counted moment. */
  private now(): { repeat: Repeat; ms: number } | null {
    const repeat = this.repeats.at(-1);
    const last = repeat?.samples.at(-1);
    if (!repeat || !last || this.heard === null || repeat.result) return null;
    return { repeat, ms: last.from + last.ms + performance.now() - this.heard };
  }

  /** Gives the repeat that was cut short what its steps so far give. */
  settle(): void {
    for (const repeat of this.repeats) {
      if (repeat.result || repeat.steps.length === 0) continue;
      repeat.result = resultFrom(this.drill, repeat.steps);
    }
  }
}
