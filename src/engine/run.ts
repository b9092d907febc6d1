import { setTimeout as sleep } from "node:timers/promises";
import { laidOutBytes, movesBytes, spanOf, writes, type Step } from "@/core/run/program";
import type { StepResult } from "@/core/run/result";
import { blankStep } from "@/core/run/step";
import { mixBytes } from "@/core/drills/kinds/ferry";
import { readConditions } from "./conditions";
import { lockDevices } from "./target/lock";
import { Observers } from "./observe/observers";
import { Telling, type Outside } from "./outside";
import type { EngineEvent, Job } from "@/core/run/protocol";
import { busiestCoreNow } from "./processor";
import { openMedium, type Medium } from "./target/scratch";
import { check } from "./steps/check";
import { copy } from "./steps/copy";
import { flow } from "./steps/flow";
import { layOut } from "./steps/lay-out";
import { recordingsOf, type Recordings } from "./steps/recordings";
import { replay } from "./steps/replay";
import { inspectTarget, type Target, type Use } from "./target/target";

/** Does a job. @throws Refusal before anything was written; RunFailure once it had begun */
export async function run(job: Job, outside: Outside): Promise<EngineEvent> {
  // Before anything is asked of the target: a network share that stands still in between begins slowly.
  const busyBefore = await busiestCoreNow();
  const recordings = await recordingsOf(job);
  const targets = await Promise.all(job.targets.map((_, i) => inspectTarget(useOf(job, i))));
  const unlock = await lockDevices(targets);
  const media: Medium[] = [];
  try {
    for (const [i, target] of targets.entries()) {
      const bytes = bytesOn(job.program, i);
      if (bytes > 0) media[i] = await openMedium(target, job.io, spanWithin(target, bytes));
    }
    const stamp = (Math.random() * 2 ** 32) >>> 0;
    const notes = [...notesOn(targets), ...media.flatMap((medium) => medium?.notes ?? [])];
    const fd = media[0]?.fds[0] ?? null;
    outside.tell({
      event: "conditions",
      conditions: await readConditions(job, targets[0]!, notes, fd, busyBefore),
    });
    for (const [i, medium] of media.entries()) {
      if (!medium || medium.target.kind === "device") continue;
      const steps = job.program.filter((step) => stepOn(step, i));
      const bytes = laidOutBytes(steps);
      const compressible = Math.max(0, ...steps.map((s) => (s.do === "flow" ? s.compressible : 0)));
      const as = { run: stamp, compressible, doing: "preparing the scratch file" };
      if (bytes > 0) await layOut(medium, bytes, as, outside);
    }
    const observers = await Observers.open(targets);
    try {
      for (let repeat = 0; repeat < job.repeats; repeat++) {
        if (outside.stop.aborted) return { event: "stopped" };
        const laid = { job, targets, media, stamp, recordings };
        const done = await once(laid, new Telling(outside, repeat), observers);
        if (!done) return { event: "stopped" };
      }
    } finally {
      observers.close();
    }
    return { event: "done" };
  } finally {
    await Promise.all(media.map((medium) => medium?.close()));
    unlock();
  }
}

/** A job whose targets are laid out. */
interface LaidOut {
  job: Job;
  targets: readonly Target[];
  media: readonly Medium[];
  stamp: number;
  recordings: Recordings;
}

/** One repeat. @returns false when it was stopped */
async function once(laid: LaidOut, telling: Telling, observers: Observers): Promise<boolean> {
  const { job } = laid;
  if (job.gated && !(await begins(telling))) return false;
  const watch = await observers.watch(telling);
  try {
    for (const [number, step] of job.program.entries()) {
      telling.outside.tell({
        event: "step",
        repeat: telling.repeat,
        step: number,
        of: job.program.length,
        label: step.label,
        doing: step.do,
        seconds: "seconds" in step ? step.seconds : null,
        bytes: movesBytes(step),
      });
      const result = await perform(step, number, laid, telling);
      if (!result) return false;
      telling.outside.tell({ event: "stepped", repeat: telling.repeat, step: number, result });
    }
    const errors = await watch.end();
    telling.outside.tell({ event: "finished", repeat: telling.repeat, errors });
    return true;
  } finally {
    await watch.end();
  }
}

/** Waits with all that is laid out until the repeat is told to begin. @returns false when it was stopped */
async function begins({ outside, repeat }: Telling): Promise<boolean> {
  outside.tell({ event: "waiting", repeat });
  await outside.mayBegin?.(repeat);
  return !outside.stop.aborted;
}

async function perform(
  step: Step,
  number: number,
  { job, targets, media, stamp, recordings }: LaidOut,
  telling: Telling,
): Promise<StepResult | null> {
  switch (step.do) {
    case "flow": {
      const within = { ...step, span: Math.min(step.span, spanWithin(targets[0]!, step.span)) };
      return flow(within, media, stamp, number, telling);
    }
    case "check":
      return check(step, media[0]!, stamp, number, telling);
    case "copy":
      return copy(step, number, job, targets, telling);
    case "replay":
      return replay(step, media[0]!, recordings, number, telling);
    case "rest":
      return rest(step, telling);
  }
}

async function rest(
  { label, seconds }: Extract<Step, { do: "rest" }>,
  telling: Telling,
): Promise<StepResult | null> {
  telling.start();
  await sleep(seconds * 1e3, undefined, { signal: telling.outside.stop }).catch(() => undefined);
  if (telling.stopped) return null;
  return { ...blankStep("rest", label), ms: seconds * 1e3 };
}

/** Whether a step walks over a target's medium. */
const stepOn = (step: Step, target: number): boolean =>
  step.do === "flow"
    ? step.targets.includes(target)
    : (step.do === "check" || step.do === "replay") && target === 0;

/** How much of a target's scratch file a program walks over. */
const bytesOn = (program: readonly Step[], target: number): number =>
  spanOf(program.filter((step) => stepOn(step, target)));

/** A device may be smaller than the span that was asked for. */
const spanWithin = ({ kind, deviceBytes }: Target, bytes: number): number =>
  kind === "device" ? Math.min(bytes, deviceBytes!) : bytes;

/** What is to be done on one of a job's targets. */
function useOf({ targets, program, io, reserve, keepOff }: Job, index: number): Use {
  const copies = program.filter((step) => step.do === "copy");
  const source = copies.some(({ from, mix }) => from === index && mix === null);
  const files = copies.some(({ from, to }) => from === index || to === index);
  const scratch = bytesOn(program, index);
  const made = Math.max(
    0,
    ...copies
      .filter(({ from, to }) => from === index || to === index)
      .map(({ mix }) => (mix ? mixBytes(mix) : 0)),
  );
  return {
    path: targets[index]!,
    as: source ? "source" : files && scratch === 0 ? "files" : "scratch",
    io,
    reserve,
    room: scratch + made,
    block: Math.max(512, ...program.map((step) => ("block" in step ? step.block : 0))),
    writes: writes(program.filter((step) => stepOn(step, index) || step.do === "copy")),
    keepOff,
  };
}

/** What a reader of a run has to know of its further targets. */
const notesOn = ([, ...others]: readonly Target[]): string[] =>
  others.map(
    ({ path, deviceName, mount }) =>
      `Also on ${path}${deviceName ? ` (${deviceName}${mount ? `, ${mount.type}` : ""})` : ""}.`,
  );
