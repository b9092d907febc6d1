import fs from "node:fs";
import os from "node:os";
import { setTimeout as sleep } from "node:timers/promises";
import {
  MOST_REQUESTS,
  type RecordingEnd,
  type RecordingHead,
} from "@/core/recording/recording-file";
import { counted } from "@/core/units/counted";
import { formatNumber } from "@/core/units/number";
import { compiled } from "../lanes/native";
import { Refusal, RunFailure } from "../refusal";
import { callSource } from "./calls/call-source";
import { deviceSource } from "./device-source";
import { Parts } from "./parts";
import type { Source } from "./source";
import { prepare, type Work } from "./work";

/** How often the kernel's buffers are emptied, milliseconds. */
const DRAIN_MS = 100;
/** After so many times it is told how far the recording is, and looked whether its device is still there. */
const LOOK_EVERY = 5;

const FULL = `The recording was full after ${formatNumber(MOST_REQUESTS)} requests and holds the work until then.`;

/** What is recorded, and for how long. */
export interface RecordOrder {
  /** A block device, "/dev/sdb"; or a folder, of which the work's reads and writes are recorded. */
  place: string;
  /** The file to write; a new one. */
  out: string;
  /** The work: a command and its arguments; null records a device until it is stopped. */
  command: readonly string[] | null;
  /** Where the work begins; this process's own folder where it is left out. */
  from?: string;
  nerrit: string;
  stop: AbortSignal;
  /** Told how many requests have come so far. */
  tell: (requests: number) => void;
}

/** How a recording came out. */
export interface Recorded {
  requests: number;
  end: RecordingEnd;
  /** The exit status of the command. */
  status: number | null;
}

/**
 * Records every request that reaches a block device, or what a command reads and writes in a folder, while the
 * command runs or until it is stopped.
 *
 * @throws Refusal where there is no such place, or no right to; RunFailure where the file cannot be written
 */
export async function record(order: RecordOrder): Promise<Recorded> {
  const native = compiled();
  if (!native)
    throw new Refusal(
      "unsupported",
      "Recording needs the compiled part of Nerrit. Install a C compiler, and start Nerrit again.",
    );
  const ending = new AbortController();
  const work = order.command ? await prepare(order.command, ending.signal, order.from) : null;
  const passOn = () => ending.abort();
  order.stop.addEventListener("abort", passOn, { once: true });
  let source: Source | null = null;
  let file: number | null = null;
  let isBegun = false;
  try {
    const from = (source = fs.statSync(order.place, { throwIfNoEntry: false })?.isDirectory()
      ? callSource(order.place, work?.pid ?? null, native)
      : await deviceSource(order.place, native));
    file = newFile(order.out);
    isBegun = true;
    return await recordInto(file, order, from, work);
  } catch (error) {
    // Nothing was recorded where the work did not begin.
    if (file !== null && error instanceof Refusal) fs.rmSync(order.out, { force: true });
    // Work that goes on is the tester's own, whatever became of its recording.
    if (!isBegun) ending.abort();
    throw error;
  } finally {
    order.stop.removeEventListener("abort", passOn);
    if (file !== null) fs.closeSync(file);
    source?.remove();
  }
}

async function recordInto(
  file: number,
  order: RecordOrder,
  source: Source,
  work: Work | null,
): Promise<Recorded> {
  const write = (line: object) => writeLine(file, order.out, line);
  write(headOf(order, source));
  const parts = new Parts(source, write);
  const working = work?.begin() ?? null;
  /** When the work ended, which is seen a little later. */
  let over: bigint | null = null;
  const isOver = () => void (over = process.hrtime.bigint());
  // What becomes of the work is asked for below, its failure included.
  void working?.then(isOver, isOver);
  let reason: string | null = null;
  for (let turn = 1; over === null && reason === null && !order.stop.aborted; turn++) {
    await sleep(DRAIN_MS);
    parts.add(source.drain());
    if (parts.isFull) reason = FULL;
    if (turn % LOOK_EVERY !== 0) continue;
    order.tell(parts.requests);
    reason ??= source.gone();
  }
  // Work that was told to end may still write; where nothing more comes, nobody waits for the work first.
  if (reason === null) await working;
  source.stop();
  const ended = over ?? process.hrtime.bigint();
  parts.add(source.end());
  parts.flush();
  const ms = Math.max((Number(ended) - source.beganNs) / 1e6, parts.lastMs);
  const lost = source.lost();
  const end: RecordingEnd = {
    ms: Math.round(ms * 1e3) / 1e3,
    lost,
    counted: reason === null ? await source.counted() : null,
    reason:
      reason ??
      (lost > 0
        ? `The kernel had no room for ${counted(lost, "event")}; they are missing.`
        : source.missing()),
  };
  write(end);
  fs.fsyncSync(file);
  return { requests: parts.requests, end, status: (await working) ?? null };
}

const headOf = ({ command, nerrit }: RecordOrder, { head }: Source): RecordingHead => ({
  format: "nerrit-recording",
  version: 1,
  nerrit,
  startedAt: new Date().toISOString(),
  host: os.hostname(),
  kernel: `${os.type()} ${os.release()}`,
  command: command?.join(" ") ?? null,
  ...head,
});

function newFile(out: string): number {
  try {
    return fs.openSync(out, "wx");
  } catch (error) {
    const { code, message } = error as NodeJS.ErrnoException;
    throw new Refusal(
      "no-permission",
      code === "EEXIST"
        ? `${out} is there already; name another with --out, so that nothing is lost.`
        : `${out} could not be made: ${message}`,
    );
  }
}

function writeLine(file: number, out: string, line: object): void {
  try {
    fs.writeSync(file, `${JSON.stringify(line)}\n`);
  } catch (error) {
    const { code, message } = error as NodeJS.ErrnoException;
    const why = code === "ENOSPC" ? "its disk is full" : message;
    throw new RunFailure(
      `${out} could not be written on: ${why}. What was recorded until then is kept.`,
    );
  }
}
