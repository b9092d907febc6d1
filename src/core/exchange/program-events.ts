import { movesBytes, type Step } from "../run/program";
import type { EngineEvent } from "../run/protocol";
import { ProgramLine, readingOf, stepResultOf } from "./program-line";
import type { RecordedRun } from "./runs-file";

/**
 * Hears the program that measures without Nerrit as if it were the measuring process: what it counted is worked out
 * here, by the same functions as for a file of it.
 */
export class ProgramEvents {
  /** Of the step that goes on. */
  private samples: RecordedRun["samples"] = [];
  private isAccepted = false;

  /** @param program what it was told to do; null where that is not known any more */
  constructor(private readonly program: readonly Step[] | null) {}

  /** What a line tells; nothing where it is none of the program's. */
  take(document: unknown): EngineEvent[] {
    const { success, data: line } = ProgramLine.safeParse(document);
    if (!success) return [];
    switch (line.event) {
      case "measuring":
        return [];
      case "conditions":
        this.isAccepted = true;
        return [line];
      case "happened":
        return [line];
      case "started":
        this.samples = [];
        return [line, ...this.begins(line.repeat, 0)];
      case "sample": {
        const [from, ms, bytes, written, requests, step] = line.row;
        this.samples.push([...line.row, 0]);
        const counted = { from, ms, bytes, written, requests, step, target: 0 };
        return [{ event: "sample", repeat: line.repeat, ...counted }];
      }
      case "reading":
        return [{ event: "reading", repeat: line.repeat, reading: readingOf(line) }];
      case "rested":
      case "counted":
      case "copied": {
        const { repeat, step } = line;
        const samples = line.event === "rested" ? [] : this.samples;
        if (line.event !== "rested") this.samples = [];
        const result = stepResultOf(line, samples);
        return [{ event: "stepped", repeat, step, result }, ...this.begins(repeat, step + 1)];
      }
      case "finished":
        return [{ event: "finished", repeat: line.repeat, errors: [] }];
      case "ended":
        return [this.end(line)];
    }
  }

  private begins(repeat: number, number: number): EngineEvent[] {
    const step = this.program?.[number];
    if (!step) return [];
    const { label, do: doing } = step;
    const seconds = "seconds" in step ? step.seconds : null;
    const of = this.program!.length;
    return [
      { event: "step", repeat, step: number, of, label, doing, seconds, bytes: movesBytes(step) },
    ];
  }

  private end({ status, reason }: Extract<ProgramLine, { event: "ended" }>): EngineEvent {
    if (status !== "failed") return { event: status };
    const why = reason ?? "The measuring program said no reason.";
    if (this.isAccepted) return { event: "failed", reason: why };
    return { event: "refused", code: "program", reason: why };
  }
}
