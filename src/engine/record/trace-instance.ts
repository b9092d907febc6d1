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

/** A trace point: "block/block_io_start"; where it has a filter, the kernel tells of what passes it alone. */
export interface TracePoint {
  name: string;
  filter?: string;
}

/** An instance of the kernel's tracing that is this recorder's own. */
export interface TraceInstance {
  folder: string;
  /** The format of each trace point, by its name. */
  formats: ReadonlyMap<string, EventFormat>;
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
      "This kernel has no tracing (tracefs): work cannot be recorded.",
    );
  }
}

const NEEDS_ROOT = "The kernel tells of requests and calls to the superuser only.";

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

/** Which of several trace points this kernel has. @returns null where it has none of them */
export const firstPoint = (...names: string[]): string | null => {
  const events = path.join(tracingFolder(), "events");
  return names.find((name) => fs.existsSync(path.join(events, name, "format"))) ?? null;
};

/**
 * Has the kernel tell of trace points.
 *
 * @param process whose events are told, and those of all that it begins; null for everyone's
 * @throws Refusal without rights
 */
export function openTrace(points: readonly TracePoint[], process: number | null): TraceInstance {
  const folder = newInstance();
  const write = (name: string, text: string) => fs.writeFileSync(path.join(folder, name), text);
  const pipes: number[] = [];
  const stop = () => write("tracing_on", "0");
  const remove = () => {
    for (const pipe of pipes.splice(0)) fs.closeSync(pipe);
    stop();
    removeInstance(folder);
  };
  try {
    const formats = new Map(
      points.map(({ name }) => {
        const format = fs.readFileSync(path.join(folder, "events", name, "format"), "utf8");
        return [name, parseEventFormat(format)] as const;
      }),
    );
    write("trace_clock", "mono");
    write("buffer_size_kb", String(BUFFER_KIB));
    if (process !== null) {
      write("options/event-fork", "1");
      write("set_event_pid", String(process));
    }
    for (const { name, filter } of points) {
      if (filter !== undefined) write(`events/${name}/filter`, filter);
      write(`events/${name}/enable`, "1");
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
    return { folder, formats, pipes, lost, stop, remove };
  } catch (error) {
    remove();
    throw error;
  }
}

function newInstance(): string {
  const instances = path.join(tracingFolder(), "instances");
  try {
    fs.accessSync(instances, fs.constants.W_OK);
  } catch {
    throw new Refusal("no-permission", NEEDS_ROOT);
  }
  sweepInstances(instances);
  const folder = path.join(instances, `${PREFIX}${process.pid}-${randomUUID().slice(0, 8)}`);
  fs.mkdirSync(folder);
  return folder;
}

/** A reader that has just been closed may still hold an instance for a moment. */
function removeInstance(folder: string): void {
  for (let i = 0; ; i++) {
    try {
      return fs.rmdirSync(folder);
    } catch (error) {
      if (i === 50) throw error;
      Atomics.wait(new Int32Array(new SharedArrayBuffer(4)), 0, 0, 20);
    }
  }
}
