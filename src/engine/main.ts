import { createInterface } from "node:readline";
import * as z from "zod";
import { writeSync } from "node:fs";
import { patiently } from "./patience";
import { BallastJob, Job, Sweep, type EngineEvent } from "@/core/run/protocol";
import { keepBallast } from "./ballast/keep";
import { Refusal, RunFailure } from "./refusal";
import { run } from "./run";
import { sweepTargets } from "./target/sweep";

/**
 * The measuring process. It stands apart from server and command so that nothing but the drill runs
 * in it, and so that its death takes nothing else along.
 */

const halt = new AbortController();

/** Written synchronously: a line that was told is told even if the next instant kills the process. */
function tell(event: EngineEvent): void {
  const line = Buffer.from(`${JSON.stringify(event)}\n`);
  for (let at = 0; at < line.length;) {
    try {
      at += writeSync(1, line, at);
    } catch (error) {
      if ((error as NodeJS.ErrnoException).code === "EAGAIN") continue;
      halt.abort(); // the reader is gone
      return;
    }
  }
}

function ending(error: unknown): EngineEvent {
  if (error instanceof Refusal) {
    return { event: "refused", code: error.code, reason: error.message };
  }
  if (error instanceof RunFailure) return { event: "failed", reason: error.message };
  const text = error instanceof Error ? error.message : String(error);
  return { event: "failed", reason: `The measuring process failed: ${text}` };
}

/** Does what is asked of the measuring process. */
function worked(job: Job | Sweep | BallastJob): Promise<EngineEvent> {
  const outside = { tell, stop: halt.signal };
  if ("sweep" in job) return sweepTargets(job.sweep, tell);
  if ("ballast" in job) {
    const { target } = job.ballast;
    return patiently([target], outside, (watched) => keepBallast(job, watched));
  }
  return patiently(job.targets, outside, (watched) => run(job, watched));
}

const input = createInterface({ input: process.stdin });
let started = false;
input.on("line", (line) => {
  if (started) {
    if (line.trim() === "stop") halt.abort();
    return;
  }
  started = true;
  let job: Job | Sweep | BallastJob;
  try {
    job = z.union([Job, Sweep, BallastJob]).parse(JSON.parse(line));
  } catch (error) {
    tell({ event: "failed", reason: `The job could not be read: ${String(error)}` });
    process.exit(1);
  }
  void worked(job)
    .catch(ending)
    .then((event) => {
      tell(event);
      process.exit(0);
    });
});
input.on("close", () => {
  halt.abort();
  if (!started) process.exit(1);
});
for (const signal of ["SIGTERM", "SIGHUP"] as const) process.on(signal, () => halt.abort());
// Ctrl-C in a terminal reaches parent and child; the parent decides, and says so on the input.
process.on("SIGINT", () => undefined);
