import fs from "node:fs/promises";
import path from "node:path";
import { setTimeout as sleep } from "node:timers/promises";
import { Worker } from "node:worker_threads";
import type { Copy } from "@/core/run/program";
import type { Job } from "@/core/run/protocol";
import type { StepResult } from "@/core/run/result";
import { copyFigures, type CopyCounts } from "@/core/drills/copy-figures";
import { Curve } from "@/core/trace/curve";
import { counted } from "@/core/units/counted";
import { formatSize } from "@/core/units/size";
import {
  Belt,
  FILES,
  FIT,
  FIT_TERMS,
  makeBelt,
  READ,
  WAITED_FOR_READER,
  WAITED_FOR_WRITER,
  WRITTEN,
  type BeltMemory,
} from "../copy/belt";
import { compare, readySource } from "../copy/contents";
import { filesBelow, filesOfMix, type CopyFile } from "../copy/files";
import type { SideTask } from "../copy/side";
import { within } from "../copy/tree";
import { bytesMoved } from "../target/device";
import type { Telling } from "../outside";
import { failureOf, Presence } from "../target/presence";
import { Refusal, RunFailure } from "../refusal";
import { holdFolder, makeFolder, type Held } from "../target/scratch";
import { MARKER } from "../target/sweep";
import { reserveOf, type Target } from "../target/target";
import { SAMPLE_MS } from "./sampling";

/** What is passed over in a tester's folder: what Nerrit itself made there. */
const OURS = /^\.nerrit-scratch-/;

/**
 * Copies a folder. Reading and writing go on side by side, with a few blocks between them, so that
 * whichever side the other waits for shows.
 *
 * The tester's own folder is only ever read. The copy lands in a folder of the run's own, which is
 * removed at the end unless the tester keeps it.
 *
 * @returns null when it was stopped
 * @throws RunFailure when a file cannot be read or written
 */
export async function copy(
  step: Copy,
  number: number,
  { io, reserve }: Pick<Job, "io" | "reserve">,
  targets: readonly Target[],
  telling: Telling,
): Promise<StepResult | null> {
  const from = step.from === null ? null : targets[step.from]!;
  const to = step.to === null ? null : targets[step.to]!;
  const held: Held[] = [];
  let kept: string | null = null;
  try {
    const own = step.mix === null;
    const folder = from && own ? hold(from.path) : null;
    const { files, passedOver } = own
      ? await filesBelow(within(folder!.fd), (name) => OURS.test(name) || name === MARKER)
      : { files: filesOfMix(step.mix!, step.seed), passedOver: 0 };
    if (files.length === 0)
      throw new Refusal("not-a-target", `There is no file in ${from!.path} to copy.`);
    if (passedOver > 0) {
      telling.happened(
        "note",
        `${counted(passedOver, "link or special file", "links and special files")} not copied.`,
      );
    }
    const source = folder ?? (from ? await make(from) : null);
    if (from && !own && !(await makeUp(step, files, source!, telling))) return null;
    if (to) await checkRoom(to, files, reserve);
    const destination = to ? await make(to) : null;
    if (source) await readySource(step.source, source, files);
    const result = await carry({ step, io, from, to, source, destination, files, number, telling });
    if (!result) return null;
    const differing =
      step.verify && source && destination
        ? await compare(files, source, destination, telling)
        : [];
    if (differing === null) return null;
    if (destination && !destination.isInPlace()) {
      throw new RunFailure(
        `The folder ${destination.path} was moved or exchanged during the copy: what was measured is not trusted.`,
      );
    }
    if (step.keep && destination) {
      kept = await keep(destination);
      held.splice(held.indexOf(destination), 1);
      destination.leave();
    }
    return {
      ...result,
      copy: {
        ...result.copy,
        verified: step.verify ? files.length : 0,
        differing: differing.slice(0, 1000),
        kept,
      },
    };
  } finally {
    for (const folder of held) await folder.close().catch(() => undefined);
  }

  function hold(name: string): Held {
    const folder = holdFolder(name);
    held.push(folder);
    return folder;
  }

  async function make(target: Target): Promise<Held> {
    const folder = await makeFolder(target);
    held.push(folder);
    return folder;
  }
}

async function checkRoom(
  to: Target,
  files: readonly CopyFile[],
  asked: number | null,
): Promise<void> {
  const space = await fs.statfs(to.path);
  const free = space.bavail * space.bsize;
  const bytes = files.reduce((sum, file) => sum + file.bytes, 0);
  const reserve = reserveOf(asked, space.blocks * space.bsize);
  if (bytes + reserve <= free) return;
  throw new Refusal(
    "no-space",
    `The folder holds ${formatSize(bytes)}, and ${to.path} has ${formatSize(free)} free, of which ${formatSize(reserve)} stay as a reserve. Copy a smaller folder, free some space, or set a smaller reserve.`,
  );
}

/** Makes the files of a mix in a folder, before anything is timed. @returns false when it was stopped */
async function makeUp(
  { seed, block, compressible }: Copy,
  files: readonly CopyFile[],
  folder: Held,
  telling: Telling,
): Promise<boolean> {
  const total = files.reduce((sum, { bytes }) => sum + bytes, 0);
  const belt = makeBelt(block);
  const sides = startSides(belt, {
    reader: { files, folder: null, direct: false, seed, compressible },
    writer: { files, folder: folder.fd, direct: false, seed, compressible },
  });
  while (!sides.ended()) {
    await sleep(SAMPLE_MS);
    telling.outside.tell({ event: "preparing", bytes: belt.totals[WRITTEN]!, total });
    if (telling.stopped) sides.belt.stop();
  }
  if (sides.belt.failure)
    throw new RunFailure(`The files to copy could not be made in ${folder.path}.`);
  return !telling.stopped;
}

interface Carrying {
  step: Copy;
  io: "direct" | "buffered";
  from: Target | null;
  to: Target | null;
  source: Held | null;
  destination: Held | null;
  files: readonly CopyFile[];
  number: number;
  telling: Telling;
}

async function carry(task: Carrying): Promise<ReturnType<typeof carriedOf> | null> {
  const { step, io, from, to, source, destination, files, number, telling } = task;
  const memory = makeBelt(step.block);
  const { totals } = memory;
  const presences = [from, to].flatMap((target) => (target ? [new Presence(target)] : []));
  const counts = async () =>
    Promise.all([from, to].map((target) => (target?.device ? bytesMoved(target.device) : null)));
  const before = await counts();
  telling.start();
  const start = telling.now();
  const common = { seed: step.seed, compressible: step.compressible };
  const cold = io === "direct" && step.source === "cold";
  const sides = startSides(memory, {
    reader: { ...common, files, folder: source?.fd ?? null, direct: cold },
    writer: { ...common, files, folder: destination?.fd ?? null, direct: io === "direct" },
  });
  const curve = new Curve();
  let last = { at: start, bytes: 0, files: 0 };
  try {
    for (let over = false, samples = 0; !over; samples++) {
      for (let i = 0; i < 10 && !sides.ended(); i++) await sleep(SAMPLE_MS / 10);
      over = sides.ended();
      const at = telling.now();
      const now = { at, bytes: totals[WRITTEN]!, files: totals[FILES]! };
      const bytes = now.bytes - last.bytes;
      curve.add(at - start, bytes);
      telling.sample({
        from: last.at,
        ms: at,
        bytes,
        written: to ? bytes : 0,
        requests: now.files - last.files,
        step: number,
        target: 0,
      });
      last = now;
      const { failure } = sides.belt;
      if (failure) {
        const target = failure.side === "reader" ? from : to;
        const doing = failure.side === "reader" ? "reading the files" : "writing the copy";
        if (target) throw failureOf(failure.number, target, doing);
        throw new RunFailure(`The copy failed while ${doing}.`);
      }
      if (telling.stopped) return null;
      if (samples % 10 === 9) for (const presence of presences) presence.check();
    }
  } finally {
    sides.belt.stop();
    await Promise.race([sides.done, sleep(5000)]);
  }
  const after = await counts();
  const moved = (i: 0 | 1, way: "read" | "written") =>
    before[i] && after[i] ? Math.max(0, after[i][way] - before[i][way]) : null;
  const devices = { fromDevice: moved(0, "read"), toDevice: moved(1, "written") };
  return carriedOf(task, totals, last.at - start, { curve, ...devices });
}

/** What a copy came to. @param totals as its two sides counted them */
function carriedOf(
  { step, source, destination }: Carrying,
  totals: BeltMemory["totals"],
  ms: number,
  at: { curve: Curve; fromDevice: number | null; toDevice: number | null },
) {
  const counts: CopyCounts = {
    files: totals[FILES]!,
    read: totals[READ]!,
    written: totals[WRITTEN]!,
    ms,
    reads: source !== null,
    writes: destination !== null,
    waitedForFromMs: totals[WAITED_FOR_READER]!,
    waitedForToMs: totals[WAITED_FOR_WRITER]!,
    fit: [...totals.subarray(FIT, FIT + FIT_TERMS)],
    fromDeviceBytes: at.fromDevice,
    toDeviceBytes: at.toDevice,
  };
  return copyFigures(step.label, counts, at.curve.moments);
}

type SideOf = Omit<SideTask, "side" | "memory" | "files"> & { files: readonly CopyFile[] };

/** Starts the two sides of a copy, each a thread of its own. */
function startSides(
  memory: ReturnType<typeof makeBelt>,
  tasks: Record<"reader" | "writer", SideOf>,
) {
  let left = 2;
  const workers = (["reader", "writer"] as const).map((side) => {
    const workerData = { side, memory, ...tasks[side] };
    const worker = new Worker(new URL("./copy-side.mjs", import.meta.url), { workerData });
    worker.once("error", () => new Belt(memory).fail(side, 5));
    return new Promise<void>((resolve) =>
      worker.once("exit", () => {
        left -= 1;
        resolve();
      }),
    );
  });
  return { belt: new Belt(memory), ended: () => left === 0, done: Promise.all(workers) };
}

/** Gives a copy a name that stays. @returns its path */
async function keep({ path: folder, fd }: Held): Promise<string> {
  const when = new Date().toISOString().replace(/[:.]/g, "-");
  const name = path.join(path.dirname(folder), `nerrit-copy-${when}`);
  await fs.rm(within(fd, MARKER));
  await fs.rename(folder, name);
  return name;
}
