import type { EventFormat } from "../event-format";
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
export type Told = { ns: number; thread: number } & (
  | { what: "enter"; call: Call; args: number[] }
  | { what: "exit"; call: Call; result: number }
  | { what: "fork"; child: number; flags: number }
  | { what: "exec"; program: string }
  | { what: "ended" }
);

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
  private readonly readers = new Map<number, (data: DataView, at: number) => Partial<Told>>();

  constructor({ formats }: Pick<TraceInstance, "formats">) {
    for (const [name, format] of formats) {
      const reader = readerOf(name, format);
      if (reader) this.readers.set(format.id, reader);
    }
  }

  /** @param events as native/calls-addon.c gives them */
  *in(events: Buffer): Generator<Told> {
    const data = new DataView(events.buffer, events.byteOffset, events.byteLength);
    for (let at = 0; at + HEAD <= data.byteLength;) {
      const length = data.getUint32(at + 8, true);
      const from = at + HEAD;
      if (from + length > data.byteLength) return;
      const read = length >= 8 ? this.readers.get(data.getUint16(from, true)) : undefined;
      // Every event begins with its number and the thread that it is of (trace/events.rst, "common fields").
      if (read) {
        const own = read(new DataView(data.buffer, data.byteOffset + from, length), 0);
        yield {
          ns: data.getFloat64(at, true),
          thread: data.getInt32(from + 4, true),
          ...own,
        } as Told;
      }
      at = from + Math.ceil(length / 8) * 8;
    }
  }
}

type Reader = (data: DataView, at: number) => Partial<Told>;

function readerOf(name: string, format: EventFormat): Reader | null {
  const [, side, call] = /^syscalls\/sys_(enter|exit)_(.+)$/.exec(name) ?? [];
  const numberAt = (data: DataView, { offset, size }: { offset: number; size: number }) =>
    offset + size > data.byteLength
      ? 0
      : size === 8
        ? Number(data.getBigInt64(offset, true))
        : data.getInt32(offset, true);
  if (side === "enter") {
    const fields = [...format.fields].filter(([field]) => !/^(common_|__)/.test(field));
    return (data) => ({
      what: "enter",
      call: call as Call,
      args: fields.map(([, field]) => numberAt(data, field)),
    });
  }
  if (side === "exit") {
    const result = format.fields.get("ret");
    if (!result) return null;
    return (data) => ({ what: "exit", call: call as Call, result: numberAt(data, result) });
  }
  if (name === PROCESS.fork) {
    const [child, flags] = [format.fields.get("pid"), format.fields.get("clone_flags")];
    if (!child || !flags) return null;
    return (data) => ({
      what: "fork",
      child: numberAt(data, child),
      flags: numberAt(data, flags),
    });
  }
  if (name === PROCESS.exec) {
    const file = format.fields.get("filename");
    return file ? (data) => ({ what: "exec", program: textAt(data, file.offset) }) : null;
  }
  return name === PROCESS.exit ? () => ({ what: "ended" }) : null;
}

/** A text that stands elsewhere in its event: where it begins, and its length (trace/events.rst, "__data_loc"). */
function textAt(data: DataView, at: number): string {
  if (at + 4 > data.byteLength) return "";
  const place = data.getUint32(at, true);
  const [from, length] = [place & 0xffff, place >>> 16];
  if (from + length > data.byteLength) return "";
  const bytes = new Uint8Array(data.buffer, data.byteOffset + from, length);
  return new TextDecoder().decode(bytes).split("\0")[0]!;
}
