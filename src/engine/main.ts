import { createInterface } from "node:readline";
import * as z from "zod";
import { readFileSync, writeSync } from "node:fs";
import { patiently } from "./patience";
import { Question } from "@/core/host/question";
import { BallastJob, Job, RecordJob, Sweep, type EngineEvent } from "@/core/run/protocol";
import { follow } from "./away/follow";
import { Keeper } from "./away/keep";
import { NetworkJob, type NetworkEvent } from "@/core/network/protocol";
import { answer as answerEnd } from "./network/answer";
import { ask as askEnd } from "./network/ask";
import { answerTo } from "./questions";
import { FOUND, GO, JOB } from "./away/run-folder";
import { keepBallast } from "./ballast/keep";
import { Gate } from "./gate";
import { recordJob } from "./record/record-job";
import { Refusal, RunFailure } from "./refusal";
import { run } from "./run";
import { sweepTargets } from "./target/sweep";

/**
 * The measuring process. It stands apart from server and command so that nothing but the drill runs
 * in it, and so that its death takes nothing else along.
 */

const halt = new AbortController();
const gate = new Gate(halt.signal);

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

const Asked = z.union([Job, Sweep, BallastJob, RecordJob]);

/** Does what is asked of the measuring process. */
function worked(job: z.infer<typeof Asked>, tellIt = tell): Promise<EngineEvent> {
  const mayBegin = (repeat: number) => gate.mayBegin(repeat);
  const outside = { tell: tellIt, stop: halt.signal, mayBegin };
  const done = () => {
    if ("sweep" in job) return sweepTargets(job.sweep, tellIt);
    if ("record" in job) return recordJob(job, outside);
    if (!("ballast" in job)) return patiently(job.targets, outside, (watched) => run(job, watched));
    const { target } = job.ballast;
    return patiently([target], outside, (watched) => keepBallast(job, watched));
  };
  return done().catch(ending);
}

/** @returns what was asked; null where that makes no sense, which is told */
function asked(line: string): z.infer<typeof Asked> | null {
  try {
    return Asked.parse(JSON.parse(line));
  } catch (error) {
    tell({ event: "failed", reason: `The job could not be read: ${String(error)}` });
    return null;
  }
}

/** A job comes in, what happens goes out; the end of the input ends it. */
function beside(): void {
  const input = createInterface({ input: process.stdin });
  let started = false;
  input.on("line", (line) => {
    if (started) {
      const repeat = GO.exec(line.trim())?.[1];
      if (repeat !== undefined) gate.open(Number(repeat));
      if (line.trim() === "stop") halt.abort();
      return;
    }
    started = true;
    const job = asked(line);
    if (!job) process.exit(1);
    void worked(job).then((event) => {
      tell(event);
      process.exit(0);
    });
  });
  input.on("close", () => {
    halt.abort();
    if (!started) process.exit(1);
  });
}

/** On another host: the run of a folder goes on whether or not anybody listens. */
async function kept(folder: string): Promise<void> {
  process.chdir(folder);
  const keeper = await Keeper.begin(
    () => halt.abort(),
    (repeat) => gate.open(repeat),
  );
  const job = asked(readFileSync(JOB, "utf8"));
  const end = job
    ? await worked(job, (event) => keeper.tell(event))
    : ({ event: "failed", reason: "The job could not be read." } as const);
  keeper.end(end);
  await keeper.done;
  process.exit(0);
}

/** One end of a network: a job comes in, what it carried goes out; the end of the input ends it. */
async function networked(): Promise<void> {
  const tellIt = (event: NetworkEvent) => process.stdout.write(`${JSON.stringify(event)}\n`);
  const input = createInterface({ input: process.stdin });
  input.on("close", () => halt.abort());
  input.once("line", (line) => {
    const work = async () => {
      const job = NetworkJob.parse(JSON.parse(line));
      if (job.role === "ask") await askEnd(job, tellIt, halt.signal);
      else await answerEnd(job.token, tellIt, halt.signal);
    };
    work()
      .catch((error: Error) => tellIt({ event: "failed", reason: error.message.slice(0, 1000) }))
      .finally(() => process.exit(0));
  });
}

/** On another host: a question comes in, the answer goes out. */
async function answered(): Promise<void> {
  for await (const line of createInterface({ input: process.stdin })) {
    const answer = await answerTo(Question.parse(JSON.parse(line)));
    process.stdout.write(`${JSON.stringify(answer)}\n`, () => process.exit(0));
    return;
  }
}

for (const signal of ["SIGTERM", "SIGHUP"] as const) process.on(signal, () => halt.abort());
// Ctrl-C in a terminal reaches parent and child; the parent decides, and says so on the input.
process.on("SIGINT", () => undefined);

const [what, folder = "", from, how] = process.argv.slice(2);
if (what === "keep") void kept(folder);
else if (what === "follow") void follow(process.argv[1]!, folder, Number(from), how === FOUND);
else if (what === "ask") void answered();
else if (what === "network") void networked();
else beside();
