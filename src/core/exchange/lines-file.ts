import * as z from "zod";
import type { Conditions, Reading } from "../run/result";
import { checkedLine, jsonOf } from "../units/json-lines";
import { ProgramLine, readingOf, stepResultOf } from "./program-line";
import type { RecordedRun } from "./runs-file";

/**
 * The run file of the program that measures without Nerrit (src/engine/native/elsewhere/): one line of
 * JSON for everything that happened, in order. It tells what was counted; figures are worked out here, by
 * the same functions as for what Nerrit measures itself (docs/formats.md).
 */

const Head = z.object({
  format: z.literal("nerrit-lines"),
  version: z.literal(1, { error: "is a version that this Nerrit does not know" }),
  rig: z.string(),
});

/** Whether a text is such a file, by its first line. */
export const isLinesFile = (text: string): boolean =>
  /^\uFEFF?\s*\{\s*"format"\s*:\s*"nerrit-lines"/.test(text);

/**
 * The same runs as a file of runs holds them (runs-file.ts), to be checked as one.
 *
 * A file that was cut off, as by a machine that lost its power, is read to its last whole line.
 *
 * @throws RangeError that names the line that makes no sense
 */
export function runsOfLines(text: string): object {
  const [head, ...rest] = text.replace(/^\uFEFF/, "").split("\n");
  const { rig } = checkedLine(Head, jsonOf(head ?? ""), 1);
  const measurements: Measuring[] = [];
  const last = rest.findLastIndex((line) => line.trim() !== "");
  for (const [i, written] of rest.entries()) {
    if (written.trim() === "") continue;
    const json = jsonOf(written);
    if (json === undefined && i === last) break;
    const line = checkedLine(ProgramLine, json, i + 2);
    if (line.event === "measuring") measurements.push(new Measuring(rig, line));
    else if (measurements.length > 0) measurements.at(-1)!.hear(line, i + 2);
    else throw new RangeError(`line ${i + 2} stands before any measurement`);
  }
  return {
    format: "nerrit-runs",
    version: 1,
    measurements: measurements.map((one) => one.recorded()),
  };
}

type Row = RecordedRun["samples"][number];

/** A measurement, put together from its lines. */
class Measuring {
  private readonly runs: (Omit<RecordedRun, "readings"> & { readings: Reading[] })[] = [];
  private conditions: Conditions | null = null;
  /** Samples of steps that were counted before, in the run that is being heard. */
  private counted = 0;
  private end: { status: "done" | "stopped" | "failed" | "interrupted"; reason: string | null } = {
    status: "interrupted",
    reason: "The file ends before the measurement does: the machine or the program was stopped.",
  };

  constructor(
    private readonly rig: string,
    private readonly head: Extract<ProgramLine, { event: "measuring" }>,
  ) {}

  hear(line: ProgramLine, number: number): void {
    if (line.event === "conditions") this.conditions = line.conditions;
    if (line.event === "ended") this.end = { status: line.status, reason: line.reason };
    if (!("repeat" in line)) return;
    if (line.event === "started") {
      if (line.repeat !== this.runs.length)
        throw new RangeError(`line ${number}: repeat ${line.repeat + 1} is out of turn`);
      const nothing = { steps: [], samples: [], events: [], readings: [], errors: [] };
      this.counted = 0;
      this.runs.push({ status: "interrupted", startedAt: line.at, ...nothing });
      return;
    }
    const run = this.runs[line.repeat];
    if (!run) throw new RangeError(`line ${number}: repeat ${line.repeat + 1} has not begun`);
    switch (line.event) {
      case "sample":
        run.samples.push([...line.row, 0] as Row);
        break;
      case "happened":
        run.events.push(line.what);
        break;
      case "reading":
        run.readings.push(readingOf(line));
        break;
      case "rested":
      case "counted":
      case "copied":
        run.steps.push(stepResultOf(line, line.event === "rested" ? [] : this.samplesOf(run)));
        break;
      case "finished":
        run.status = "done";
    }
  }

  /** Samples since the step before. */
  private samplesOf({ samples }: Pick<RecordedRun, "samples">): RecordedRun["samples"] {
    const since = samples.slice(this.counted);
    this.counted = samples.length;
    return since;
  }

  /** As a file of runs holds it. */
  recorded(): object {
    const { id, createdAt, drill, target, other } = this.head;
    const { status, reason } = this.end;
    const cut = status === "done" ? "interrupted" : status;
    const runs = this.runs.map((run) => (run.status === "done" ? run : { ...run, status: cut }));
    const none = { status: cut, startedAt: createdAt, steps: [], samples: [] };
    return {
      id,
      rig: this.rig,
      origin: "measured",
      drill,
      targets: other === null ? [target] : [target, other],
      status,
      reason,
      createdAt,
      conditions: this.conditions,
      runs: runs.length > 0 ? runs : [none],
    };
  }
}
