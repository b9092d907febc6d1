import type { RequestRows } from "@/core/recording/request";
import type { EventLayout, Native } from "../lanes/native";
import { fieldOf, type EventFormat } from "./event-format";

/** Puts what the kernel tells together to requests, in the order in which they reached the device. */
export class Recorder {
  private readonly recorder: unknown;
  private readonly pipes: Int32Array;
  private named = 0;

  /** @param beganNs when the recording began, on the monotonic clock */
  constructor(
    private readonly native: Pick<Native, "newRecorder" | "takeRequests" | "programsOf">,
    { start, done, pipes }: { start: EventFormat; done: EventFormat; pipes: readonly number[] },
    private readonly beganNs: number,
  ) {
    this.pipes = Int32Array.from(pipes);
    this.recorder = native.newRecorder(layoutOf(start), layoutOf(done), pipes.length);
  }

  /**
   * Takes in what the kernel has told since, and gives the requests that are whole.
   *
   * Each processor has a buffer of its own, so what came before now is all there once every buffer was
   * emptied; what came later waits for the next time.
   */
  drain(nowNs = Number(process.hrtime.bigint())): RequestRows {
    return this.taken(nowNs, false);
  }

  /** What is left at the end, requests without an answer among it. */
  end(nowNs = Number(process.hrtime.bigint())): RequestRows {
    return this.taken(nowNs, true);
  }

  /** Names of programs that were not given out before, in the order of their numbers. */
  newPrograms(): string[] {
    const names = this.native.programsOf(this.recorder, this.named);
    this.named += names.length;
    return names;
  }

  private taken(nowNs: number, all: boolean): RequestRows {
    return this.native.takeRequests(this.recorder, this.pipes, nowNs, all, this.beganNs);
  }
}

/** Where an event of a trace point has what is needed of it. @throws RangeError where the kernel does not tell it */
function layoutOf(format: EventFormat): EventLayout {
  const sector = fieldOf(format, "sector");
  const sectors = fieldOf(format, "nr_sector", "nr_sectors");
  const letters = fieldOf(format, "rwbs");
  const program = format.fields.get("comm");
  return {
    id: format.id,
    sector: sector.offset,
    sectors: sectors.offset,
    letters: letters.offset,
    lettersSize: letters.size,
    program: program?.offset ?? 0,
    programSize: program?.size ?? 0,
  };
}
