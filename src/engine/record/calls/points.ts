import type { EventFormat, Field } from "../event-format";
import { firstPoint, type TraceInstance, type TracePoint } from "../trace-instance";

/** Calls whose end counts, and those whose beginning says enough (man 2 of each). Not every processor has all. */
const WHOLE = [
  "open",
  "openat",
  "openat2",
  "creat",
  "dup",
  "dup2",
  "dup3",
  "fcntl",
  "lseek",
  "read",
  "pread64",
  "readv",
  "preadv",
  "preadv2",
  "write",
  "pwrite64",
  "writev",
  "pwritev",
  "pwritev2",
  "sendfile64",
  "copy_file_range",
  "fsync",
  "fdatasync",
] as const;
const BEGUN = ["close", "close_range", "mmap"] as const;

/** A call by its name, as the kernel's trace points are called. */
export type Call = (typeof WHOLE)[number] | (typeof BEGUN)[number];

/** What the kernel tells of threads: that one begins another, becomes another program, ends. */
const PROCESS = {
  fork: "task/task_newtask",
  exec: "sched/sched_process_exec",
  exit: "sched/sched_process_exit",
} as const;

/** Something that the kernel told of a thread, at a moment of the monotonic clock. */
export type Told = { ns: number; thread: number } & Side;

type Side =
  | { what: "enter"; call: Call; args: number[] }
  | { what: "exit"; call: Call; result: number }
  | { what: "fork"; child: number; flags: number }
  | { what: "exec"; program: string }
  | { what: "ended" };

/** The trace points that tell of calls on files, where this kernel has them. */
export function callPoints(): TracePoint[] {
  const names = [
    ...WHOLE.flatMap((call) => [`syscalls/sys_enter_${call}`, `syscalls/sys_exit_${call}`]),
    ...BEGUN.map((call) => `syscalls/sys_enter_${call}`),
    ...Object.values(PROCESS),
  ];
  return names.flatMap((name) => (firstPoint(name) ? [{ name }] : []));
}

/** Bytes before an event: its time, its length, and four that say nothing (native/calls-addon.c). */
const HEAD = 16;

/** Tells what events say, by the formats of their trace points. */
export class CallEvents {
  private readonly readers = new Map<number, Reader>();

  constructor({ formats }: Pick<TraceInstance, "formats">) {
    for (const [name, format] of formats) {
      const reader = readerOf(name, format);
      if (reader) this.readers.set(format.id, reader);
    }
  }

  /** @param events as native/calls-addon.c gives them; those of other trace points are passed over */
  in(events: Buffer): Told[] {
    const data = new DataView(events.buffer, events.byteOffset, events.byteLength);
    const all: Told[] = [];
    for (let at = 0; at + HEAD <= data.byteLength;) {
      const length = data.getUint32(at + 8, true);
      const from = at + HEAD;
      const to = from + length;
      if (to > data.byteLength) break;
      const reader = length >= 8 ? this.readers.get(data.getUint16(from, true)) : undefined;
      // Every event begins with its number and the thread that it is of (trace/events.rst, "common fields").
      if (reader && from + reader.bytes <= to) {
        const event = { ns: data.getFloat64(at, true), thread: data.getInt32(from + 4, true) };
        all.push(reader.told(event, data, from));
      }
      at = from + Math.ceil(length / 8) * 8;
    }
    return all;
  }
}

interface Reader {
  /** How long an event is at least. */
  bytes: number;
  told: (event: { ns: number; thread: number }, data: DataView, from: number) => Told;
}

/** Whether an argument of a call is a place in memory. */
const isMemory = (call: Call, argument: number): boolean =>
  argument === 1 && /^p?(read|write)/.test(call);

const endOf = ({ offset, size }: Field): number => offset + size;

/** A signed number of four or eight bytes; of those beyond 2^53 the nearest that there is. */
function numberAt(data: DataView, from: number, { offset, size }: Field): number {
  const at = from + offset;
  if (size < 8) return data.getInt32(at, true);
  return data.getInt32(at + 4, true) * 2 ** 32 + data.getUint32(at, true);
}

function readerOf(name: string, format: EventFormat): Reader | null {
  const [, side, called] = /^syscalls\/sys_(enter|exit)_(.+)$/.exec(name) ?? [];
  const call = called as Call;
  if (side === "enter") {
    const fields = [...format.fields].flatMap(([field, where]) =>
      /^(common_|__)/.test(field) ? [] : [where],
    );
    const told = fields.map((field, i) => (isMemory(call, i) ? null : field));
    return {
      bytes: Math.max(8, ...fields.map(endOf)),
      told: ({ ns, thread }, data, from) => {
        const args: number[] = [];
        // Tens of thousands come in a second: where content lies in memory is not looked at.
        for (const field of told) args.push(field ? numberAt(data, from, field) : 0);
        return { ns, thread, what: "enter", call, args };
      },
    };
  }
  const read = (
    fields: readonly string[],
    told: (data: DataView, from: number, ...fields: Field[]) => Side,
  ): Reader | null => {
    const found = fields.flatMap((field) => format.fields.get(field) ?? []);
    if (found.length < fields.length) return null;
    return {
      bytes: Math.max(8, ...found.map(endOf)),
      told: (event, data, from) => Object.assign(event, told(data, from, ...found)),
    };
  };
  if (side === "exit") {
    const result = format.fields.get("ret");
    if (!result) return null;
    return {
      bytes: Math.max(8, endOf(result)),
      told: ({ ns, thread }, data, from) => {
        return { ns, thread, what: "exit", call, result: numberAt(data, from, result) };
      },
    };
  }
  if (name === PROCESS.fork)
    return read(["pid", "clone_flags"], (data, from, child, flags) => ({
      what: "fork",
      child: numberAt(data, from, child!),
      flags: numberAt(data, from, flags!),
    }));
  if (name === PROCESS.exec)
    return read(["filename"], (data, from, file) => ({
      what: "exec",
      program: textAt(data, from, file!),
    }));
  return name === PROCESS.exit ? read([], () => ({ what: "ended" })) : null;
}

/** A text that stands elsewhere in its event: where it begins, and its length (trace/events.rst, "__data_loc"). */
function textAt(data: DataView, from: number, { offset }: Field): string {
  const place = data.getUint32(from + offset, true);
  const at = from + (place & 0xffff);
  const length = place >>> 16;
  if (at + length > data.byteLength) return "";
  const bytes = new Uint8Array(data.buffer, data.byteOffset + at, length);
  return new TextDecoder().decode(bytes).split("\0")[0]!;
}
