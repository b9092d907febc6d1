import { createInterface } from "node:readline";
import { writeSync } from "node:fs";
import { readConditions } from "./conditions";
import { lockDevice } from "./lock";
import { layOut, measureOnce, type Outside } from "./measure";
import { Job, type EngineEvent } from "./protocol";
import { Refusal, RunFailure } from "./refusal";
import { openMedium } from "./scratch";
import { inspectTarget } from "./target";

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

async function run(job: Job, outside: Outside): Promise<EngineEvent> {
  const target = await inspectTarget(job);
  const unlock = await lockDevice(target);
  try {
    const medium = await openMedium(target, job.io);
    try {
      const span =
        target.kind === "device" ? Math.min(job.drill.span, target.deviceBytes!) : job.drill.span;
      const drill = { ...job.drill, span };
      const stamp = (Math.random() * 2 ** 32) >>> 0;
      tell({ event: "conditions", conditions: await readConditions(job, target) });
      if (target.kind === "directory") await layOut(medium, target, span, stamp, outside);
      for (let repeat = 0; repeat < drill.repeats; repeat++) {
        if (outside.stop.aborted) return { event: "stopped" };
        const result = await measureOnce(medium, target, drill, repeat, stamp, outside);
        if (!result) return { event: "stopped" };
        tell({ event: "finished", repeat, result });
      }
      return { event: "done" };
    } finally {
      await medium.close();
    }
  } finally {
    unlock();
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

const input = createInterface({ input: process.stdin });
let started = false;
input.on("line", (line) => {
  if (started) {
    if (line.trim() === "stop") halt.abort();
    return;
  }
  started = true;
  let job: Job;
  try {
    job = Job.parse(JSON.parse(line));
  } catch (error) {
    tell({ event: "failed", reason: `The job could not be read: ${String(error)}` });
    process.exit(1);
  }
  run(job, { tell, stop: halt.signal })
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
