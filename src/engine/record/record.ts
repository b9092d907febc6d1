import { spawn } from "node:child_process";
import fs from "node:fs";
import os from "node:os";
import path from "node:path";
import { setTimeout as sleep } from "node:timers/promises";
import { deflateRawSync } from "node:zlib";
import {
  MOST_ON_LINE,
  partOf,
  type RecordingEnd,
  type RecordingHead,
} from "@/core/recording/recording-file";
import { ROW, TICKS, type RequestRows } from "@/core/recording/request";
import { counted } from "@/core/units/counted";
import { compiled } from "../lanes/native";
import { bytesMoved, type DeviceCount } from "../target/device";
import { Refusal, RunFailure } from "../refusal";
import { Recorder } from "./recorder";
import { openTrace, type TraceInstance } from "./trace-instance";

/** How often the kernel's buffers are emptied, milliseconds. */
const DRAIN_MS = 100;
/** Requests wait for so many of their kind before they are written as a line, and no longer than so long. */
const ENOUGH = 4096;
const LINE_MS = 1000;

/** What is recorded, and for how long. */
export interface RecordOrder {
  /** A block device: "/dev/sdb". */
  device: string;
  /** The file to write; a new one. */
  out: string;
  /** The work: a command and its arguments; null records until it is stopped. */
  command: readonly string[] | null;
  nerrit: string;
  stop: AbortSignal;
  /** Told how many requests have come so far. */
  tell: (requests: number) => void;
}

/**
 * Records every request that reaches a block device, while a command runs or until it is stopped.
 *
 * @returns how many requests there were, how it ended, and the exit status of the command
 * @throws Refusal where there is no such device, or no right to; RunFailure where the file cannot be written
 */
export async function record(
  order: RecordOrder,
): Promise<{ requests: number; end: RecordingEnd; status: number | null }> {
  const device = blockDevice(order.device);
  const trace = openTrace(kernelNumber(device.number));
  let file: number | null = null;
  try {
    file = newFile(order.out);
    return await recordInto(file, order, device, trace);
  } catch (error) {
    // Nothing was recorded where the work did not begin.
    if (file !== null && error instanceof Refusal) fs.rmSync(order.out, { force: true });
    throw error;
  } finally {
    if (file !== null) fs.closeSync(file);
    trace.remove();
  }
}

async function recordInto(
  file: number,
  order: RecordOrder,
  { name, number }: Device,
  trace: TraceInstance,
): Promise<{ requests: number; end: RecordingEnd; status: number | null }> {
  const write = (line: object) => writeLine(file, order.out, line);
  write(headOf(order, name, trace));
  const native = compiled();
  if (!native)
    throw new Refusal(
      "unsupported",
      "Recording needs the compiled part of Nerrit. Install a C compiler, and start Nerrit again.",
    );
  const before = await bytesMoved(number);
  const began = process.hrtime.bigint();
  const recorder = new Recorder(native, trace, Number(began));
  const parts = new Parts(recorder, write);
  const work = order.command ? begin(order.command, order.stop) : null;
  /** When the work ended, which is seen a little later. */
  let over: bigint | null = null;
  const isOver = () => void (over = process.hrtime.bigint());
  // What becomes of the work is asked for below, its failure included.
  void work?.then(isOver, isOver);
  let reason: string | null = null;
  while (over === null && !order.stop.aborted) {
    await sleep(DRAIN_MS);
    parts.add(recorder.drain());
    order.tell(parts.requests);
    if (!fs.existsSync(`/sys/class/block/${name}`)) {
      reason = `${order.device} went away while it was recorded.`;
      break;
    }
  }
  const status = work ? await work : null;
  trace.stop();
  const ended = over ?? process.hrtime.bigint();
  parts.add(recorder.end());
  parts.flush();
  const ms = Math.max(Number(ended - began) / 1e6, parts.lastMs);
  const lost = trace.lost();
  const after = reason === null ? await bytesMoved(number) : null;
  const end: RecordingEnd = {
    ms: Math.round(ms * 1e3) / 1e3,
    lost,
    counted: before && after ? movedBetween(before, after) : null,
    reason:
      reason ??
      (lost > 0 ? `The kernel had no room for ${counted(lost, "event")}; they are missing.` : null),
  };
  write(end);
  fs.fsyncSync(file);
  return { requests: parts.requests, end, status };
}

/** Gathers requests to lines of the file. */
class Parts {
  /** How many have come. */
  requests = 0;
  /** When the last of them was answered, milliseconds. */
  lastMs = 0;
  private waiting: RequestRows[] = [];
  private rows = 0;
  private since = performance.now();

  constructor(
    private readonly recorder: Recorder,
    private readonly write: (line: object) => void,
  ) {}

  add(rows: RequestRows): void {
    this.requests += rows.length / ROW;
    for (let i = 0; i < rows.length; i += ROW)
      this.lastMs = Math.max(this.lastMs, (rows[i]! + Math.max(0, rows[i + 1]!)) / TICKS / 1e3);
    this.waiting.push(rows);
    this.rows += rows.length / ROW;
    if (this.rows >= ENOUGH || performance.now() - this.since >= LINE_MS) this.flush();
  }

  flush(): void {
    const all = new Float64Array(this.rows * ROW);
    let at = 0;
    for (const rows of this.waiting) {
      all.set(rows, at);
      at += rows.length;
    }
    for (let from = 0; from < all.length; from += MOST_ON_LINE * ROW)
      this.write(
        partOf(all.subarray(from, from + MOST_ON_LINE * ROW), this.recorder.newPrograms(), quickly),
      );
    this.waiting = [];
    this.rows = 0;
    this.since = performance.now();
  }
}

const quickly = (bytes: Uint8Array) => deflateRawSync(bytes, { level: 1 });

const movedBetween = (before: DeviceCount, after: DeviceCount) => ({
  read: Math.max(0, after.read - before.read),
  written: Math.max(0, after.written - before.written),
});

/** A whole drive: "sdb", "8:16". */
interface Device {
  name: string;
  number: string;
}

/** The drive of a block device by its path. @throws Refusal where there is none */
function blockDevice(device: string): Device {
  const found = fs.statSync(device, { throwIfNoEntry: false });
  if (!found)
    throw new Refusal(
      "no-such-target",
      `There is no ${device}. nerrit drives lists what is plugged in.`,
    );
  if (!found.isBlockDevice())
    throw new Refusal(
      "not-a-target",
      `${device} is no block device. Requests are recorded as they reach one, for example /dev/sdb.`,
    );
  // Requests to a partition reach its whole drive, and are told of as the drive's.
  const own = fs.realpathSync(`/sys/class/block/${path.basename(fs.realpathSync(device))}`);
  const name = path.basename(fs.existsSync(`${own}/partition`) ? path.dirname(own) : own);
  // A device without queues of requests hands on what it is asked for as it comes (Documentation/block/blk-mq.rst).
  if (!fs.existsSync(`/sys/class/block/${name}/mq`))
    throw new Refusal("unsupported", beneath(name));
  const number = fs.readFileSync(`/sys/class/block/${name}/dev`, "utf8").trim();
  return { name, number };
}

/** Why a device has no requests of its own, and which drives have them. */
function beneath(name: string): string {
  const folder = `/sys/class/block/${name}/slaves`;
  const drives = fs.existsSync(folder) ? fs.readdirSync(folder).map((one) => `/dev/${one}`) : [];
  const why = `/dev/${name} has no requests of its own, so nothing would be recorded.`;
  return drives.length > 0 ? `${why} Record what lies beneath: ${drives.join(" or ")}.` : why;
}

/** A device's number as the kernel itself counts (MKDEV in include/linux/kdev_t.h). */
function kernelNumber(number: string): number {
  const [major, minor] = number.split(":").map(Number) as [number, number];
  return major * 2 ** 20 + minor;
}

function headOf(order: RecordOrder, name: string, trace: TraceInstance): RecordingHead {
  const attribute = (file: string) => {
    try {
      return fs.readFileSync(`/sys/class/block/${name}/${file}`, "utf8").trim();
    } catch {
      return null;
    }
  };
  const sectors = attribute("size");
  return {
    format: "nerrit-recording",
    version: 1,
    nerrit: order.nerrit,
    startedAt: new Date().toISOString(),
    host: os.hostname(),
    kernel: `${os.type()} ${os.release()}`,
    device: `/dev/${name}`,
    drive: attribute("device/model"),
    deviceBytes: sectors === null ? null : Number(sectors) * 512,
    command: order.command?.join(" ") ?? null,
    points: [...trace.points],
  };
}

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

/** Begins the work. @returns its exit status, 128 and the signal's number as shells count them */
function begin([command, ...args]: readonly string[], stop: AbortSignal): Promise<number> {
  const child = spawn(command!, args, { stdio: "inherit" });
  const end = () => child.kill("SIGTERM");
  stop.addEventListener("abort", end, { once: true });
  return new Promise((resolve, reject) => {
    child.once("error", (error) =>
      reject(new Refusal("not-a-target", `${command} could not be begun: ${error.message}`)),
    );
    child.once("close", (code, signal) =>
      resolve(code ?? 128 + (signal ? os.constants.signals[signal] : 0)),
    );
  });
}
