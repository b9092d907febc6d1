import { randomUUID } from "node:crypto";
import fs from "node:fs";
import path from "node:path";
import { execFileSync } from "node:child_process";
import { Refusal } from "../refusal";
import { parseEventFormat, type EventFormat } from "./event-format";

/** Where the kernel's tracing is (Documentation/trace/ftrace.rst). */
const PLACES = ["/sys/kernel/tracing", "/sys/kernel/debug/tracing"];
const PREFIX = "nerrit-record-";
/** Room for what one processor tells in half a second of 20 000 requests, at 80 bytes an event, KiB. */
const BUFFER_KIB = 2048;

/**
 * Trace points that tell of requests (include/trace/events/block.h): as they come to the device, and as they are
 * answered. What is answered has its final size: until then requests that lie side by side may be joined.
 */
const POINTS = [
  ["block_io_start", "block_rq_complete"],
  ["block_rq_issue", "block_rq_complete"],
] as const;

/** An instance of the kernel's tracing that is this recorder's own. */
export interface TraceInstance {
  folder: string;
  start: EventFormat;
  done: EventFormat;
  points: [string, string];
  /** Descriptors of each processor's raw pipe. */
  pipes: number[];
  /** Events that found no room, so far. */
  lost(): number;
  /** Stops the trace points; what is in the buffer can still be read. */
  stop(): void;
  remove(): void;
}

/** The place of tracing, mounted where it is not yet. @throws Refusal where that may not be done */
export function tracingFolder(): string {
  const found = PLACES.find((place) => fs.existsSync(path.join(place, "instances")));
  if (found) return found;
  if (process.getuid?.() !== 0) throw new Refusal("no-permission", NEEDS_ROOT);
  try {
    execFileSync("mount", ["-t", "tracefs", "tracefs", PLACES[0]!], { stdio: "ignore" });
    return PLACES[0]!;
  } catch {
    throw new Refusal(
      "unsupported",
      "This kernel has no tracing (tracefs): requests cannot be recorded.",
    );
  }
}

const NEEDS_ROOT = "The kernel tells of requests to the superuser only.";

/** Removes instances whose recorder is gone. */
function sweepInstances(instances: string): void {
  for (const name of fs.readdirSync(instances)) {
    const pid = new RegExp(`^${PREFIX}(\\d+)-`).exec(name)?.[1];
    if (!pid || fs.existsSync(`/proc/${pid}`)) continue;
    try {
      fs.writeFileSync(path.join(instances, name, "tracing_on"), "0");
      fs.rmdirSync(path.join(instances, name));
    } catch {
      // Another recorder that begins now may have been quicker.
    }
  }
}

/**
 * Has the kernel tell of every request to a block device.
 *
 * @param number the device's number as the kernel counts it: major << 20 | minor
 * @throws Refusal without rights, or where this kernel tells nothing of requests
 */
export function openTrace(number: number): TraceInstance {
  const tracing = tracingFolder();
  const instances = path.join(tracing, "instances");
  try {
    fs.accessSync(instances, fs.constants.W_OK);
  } catch {
    throw new Refusal("no-permission", NEEDS_ROOT);
  }
  sweepInstances(instances);
  const folder = path.join(instances, `${PREFIX}${process.pid}-${randomUUID().slice(0, 8)}`);
  fs.mkdirSync(folder);
  const write = (name: string, text: string) => fs.writeFileSync(path.join(folder, name), text);
  const pipes: number[] = [];
  const stop = () => write("tracing_on", "0");
  const remove = () => {
    for (const pipe of pipes.splice(0)) fs.closeSync(pipe);
    stop();
    // A reader that has just been closed may still hold it for a moment.
    for (let i = 0; ; i++) {
      try {
        return fs.rmdirSync(folder);
      } catch (error) {
        if (i === 50) throw error;
        Atomics.wait(new Int32Array(new SharedArrayBuffer(4)), 0, 0, 20);
      }
    }
  };
  try {
    const points = POINTS.find(([name]) =>
      fs.existsSync(path.join(folder, "events/block", name, "format")),
    );
    if (!points)
      throw new Refusal("unsupported", "This kernel tells nothing of requests to block devices.");
    const [start, done] = points.map((name) => {
      const format = fs.readFileSync(path.join(folder, "events/block", name, "format"), "utf8");
      return parseEventFormat(format);
    }) as [EventFormat, EventFormat];
    write("trace_clock", "mono");
    write("buffer_size_kb", String(BUFFER_KIB));
    for (const name of points) {
      write(`events/block/${name}/filter`, `dev == ${number}`);
      write(`events/block/${name}/enable`, "1");
    }
    const cpus = fs.readdirSync(path.join(folder, "per_cpu"));
    for (const cpu of cpus)
      pipes.push(
        fs.openSync(
          path.join(folder, "per_cpu", cpu, "trace_pipe_raw"),
          fs.constants.O_RDONLY | fs.constants.O_NONBLOCK,
        ),
      );
    const lost = () =>
      cpus.reduce((sum, cpu) => {
        const stats = fs.readFileSync(path.join(folder, "per_cpu", cpu, "stats"), "utf8");
        const of = (name: string) => Number(new RegExp(`^${name}: (\\d+)`, "m").exec(stats)?.[1]);
        return sum + of("overrun") + of("commit overrun") + of("dropped events");
      }, 0);
    return { folder, start, done, points: [...points], pipes, lost, stop, remove };
  } catch (error) {
    remove();
    throw error;
  }
}
