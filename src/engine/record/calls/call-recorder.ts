import { ROW } from "@/core/recording/request";
import { ProgramNumbers } from "@/core/recording/recording-file";
import type { NativeOpen } from "../../lanes/native";
import { Descriptors, type OpenFile } from "./descriptors";
import { FolderFiles } from "./folder-files";
import type { Call, Told } from "./points";

/** Of open(2), clone(2), fcntl(2), as every processor of Linux has them. */
const O_APPEND = 0o2000;
const O_CLOEXEC = 0o2000000;
const CLONE_FILES = 0x400;
const F_DUPFD = 0;
const F_DUPFD_CLOEXEC = 1030;

/** No request of a drive is longer, bytes. */
const LONGEST = 16 * 2 ** 20;

const READ = 0;
const WRITE = 1;
const FLUSH = 2;
/** What a call that moves bytes does, and where its place stands among its arguments; null: at the file's position. */
const MOVES: Partial<Record<Call, { kind: number; place: number | null }>> = {
  read: { kind: READ, place: null },
  readv: { kind: READ, place: null },
  pread64: { kind: READ, place: 3 },
  preadv: { kind: READ, place: 3 },
  preadv2: { kind: READ, place: 3 },
  write: { kind: WRITE, place: null },
  writev: { kind: WRITE, place: null },
  pwrite64: { kind: WRITE, place: 3 },
  pwritev: { kind: WRITE, place: 3 },
  pwritev2: { kind: WRITE, place: 3 },
};

interface Pending {
  ns: number;
  call: Call;
  args: number[];
}

interface Thread {
  descriptors: Descriptors;
  program: number;
  pending: Pending | null;
}

/** A call that moved something, as a row of a recording has it, its times in nanoseconds. */
type Row = [
  fromNs: number,
  tookNs: number,
  kind: number,
  sector: number,
  sectors: number,
  program: number,
];

/**
 * Puts what the kernel tells of programs together to reads, writes and flushes of the files of one folder.
 * What is read of a file that is mapped into memory, and by rings of requests, is no call and not seen.
 */
export class CallRecorder {
  private readonly threads = new Map<number, Thread>();
  private readonly programs = new ProgramNumbers();
  private readonly mapped = new Set<number>();
  private readonly files: FolderFiles;
  private rows: Row[] = [];

  /**
   * @param folder whose files are recorded
   * @param first the process that begins all others
   */
  constructor(folder: string, first: number) {
    this.files = new FolderFiles(folder);
    const program = this.programs.of("sh");
    this.threads.set(first, { descriptors: new Descriptors(), program, pending: null });
  }

  /** Names of all programs so far. */
  get names(): string[] {
    return this.programs.names;
  }

  /** How many files were mapped into memory. */
  get mappedFiles(): number {
    return this.mapped.size;
  }

  opened(opens: readonly NativeOpen[]): void {
    this.files.opened(opens);
  }

  /** Forgets what others opened: of all that was opened before a moment, the calls have been told by now. */
  forgetOthers(beforeNs: number): void {
    this.files.forget((thread) => this.threads.has(thread), beforeNs);
  }

  /** @param told in the order of time */
  tell(told: Told): void {
    const thread = this.threads.get(told.thread);
    if (!thread) return;
    switch (told.what) {
      case "enter":
        thread.pending = { ns: told.ns, call: told.call, args: told.args };
        return this.begun(thread, told.call, told.args);
      case "exit":
        if (thread.pending?.call === told.call) this.ended(told.thread, thread, told);
        thread.pending = null;
        return;
      case "fork":
        return this.forked(thread, told);
      case "exec":
        thread.descriptors.exec();
        thread.program = this.programs.of(told.program.split("/").at(-1) ?? "");
        return;
      case "ended":
        this.threads.delete(told.thread);
    }
  }

  /** Rows that no call under way can come before; all of them at the end. Times in nanoseconds. */
  take(all: boolean): Float64Array {
    const before = all ? Infinity : this.firstWaiting();
    const sorted = this.rows.sort((a, b) => a[0] - b[0]);
    const later = sorted.findIndex(([ns]) => ns >= before);
    const ready = sorted.splice(0, later < 0 ? sorted.length : later);
    const rows = new Float64Array(ready.length * ROW);
    for (const [i, row] of ready.entries()) rows.set(row, i * ROW);
    return rows;
  }

  /** When the first call began that goes on and will be a row. */
  private firstWaiting(): number {
    let first = Infinity;
    for (const { pending, descriptors } of this.threads.values())
      if (pending && pending.call in MOVES && descriptors.get(pending.args[0]!))
        first = Math.min(first, pending.ns);
    return first;
  }

  private begun({ descriptors }: Thread, call: Call, args: readonly number[]): void {
    const [first = 0, second = 0] = args;
    if (call === "close") descriptors.put(first, null);
    else if (call === "close_range") descriptors.closeRange(first, second >>> 0);
    else if (call === "mmap") {
      const open = descriptors.get(args[4] ?? -1);
      if (open) this.mapped.add(open.file);
    }
  }

  private ended(id: number, thread: Thread, told: Told & { what: "exit" }): void {
    const { args } = thread.pending!;
    const { result } = told;
    const { descriptors } = thread;
    if (result < 0) return;
    const add = (kind: number, open: OpenFile | null, place: number, bytes: number) => {
      if (open) this.add(thread, told.ns, kind, open, { place, bytes });
    };
    const moves = MOVES[told.call];
    if (moves) {
      const open = descriptors.get(args[0]!);
      if (open) add(moves.kind, open, this.placeFor(open, moves, args, result), result);
      return;
    }
    switch (told.call) {
      case "open":
      case "openat":
      case "openat2":
      case "creat":
        return this.openedFile(id, thread, told);
      case "dup":
      case "dup2":
        return descriptors.put(result, descriptors.get(args[0]!));
      case "dup3":
        return descriptors.put(result, descriptors.get(args[0]!), (args[2]! & O_CLOEXEC) !== 0);
      case "fcntl":
        if (args[1] === F_DUPFD || args[1] === F_DUPFD_CLOEXEC)
          descriptors.put(result, descriptors.get(args[0]!), args[1] === F_DUPFD_CLOEXEC);
        return;
      case "lseek": {
        const open = descriptors.get(args[0]!);
        if (open) open.position = result;
        return;
      }
      case "sendfile64":
      case "copy_file_range": {
        // A place that stands in the program's memory is not told: the position stands for it.
        const isCopy = told.call === "copy_file_range";
        const from = descriptors.get(args[isCopy ? 0 : 1]!);
        const to = descriptors.get(args[isCopy ? 2 : 0]!);
        for (const [kind, open] of [[READ, from] as const, [WRITE, to] as const])
          if (open) add(kind, open, this.advance(open, result), result);
        return;
      }
      case "fsync":
      case "fdatasync":
        return add(FLUSH, descriptors.get(args[0]!), 0, 0);
    }
  }

  /** A call that is longer than any request of a drive is told in parts, one after another. */
  private add(
    { pending, program }: Thread,
    toNs: number,
    kind: number,
    open: OpenFile,
    { place, bytes }: { place: number; bytes: number },
  ): void {
    const { ns } = pending!;
    if (kind === FLUSH) this.rows.push([ns, toNs - ns, kind, 0, 0, program]);
    const each = (toNs - ns) / Math.max(1, Math.ceil(bytes / LONGEST));
    for (let at = 0; at < bytes; at += LONGEST) {
      const [sector, sectors] = this.files.sectorsOf(
        open.file,
        place + at,
        Math.min(LONGEST, bytes - at),
      );
      this.rows.push([ns + (at / LONGEST) * each, each, kind, sector, sectors, program]);
    }
  }

  /** Where a call that moved bytes did so; one without a place goes on from the position. */
  private placeFor(
    open: OpenFile,
    { kind, place }: { kind: number; place: number | null },
    args: readonly number[],
    bytes: number,
  ): number {
    // preadv2 and pwritev2 take -1 for the position.
    const given = place === null ? -1 : args[place]!;
    if (given >= 0) return given;
    if (kind === WRITE && open.append) open.position = this.files.bytesOf(open.file);
    return this.advance(open, bytes);
  }

  private advance(open: OpenFile, bytes: number): number {
    const from = open.position;
    open.position += bytes;
    return from;
  }

  private openedFile(
    id: number,
    { descriptors, pending }: Thread,
    told: Told & { what: "exit" },
  ): void {
    const { call, args, ns } = pending!;
    const file = this.files.openedBy(id, ns, told.ns);
    if (file === null) {
      descriptors.put(told.result, null);
      return;
    }
    // The flags of openat2 and creat are not told: they stand elsewhere, or are always the same.
    const flags = call === "open" ? args[1]! : call === "openat" ? args[2]! : 0;
    const open = { file, position: 0, append: (flags & O_APPEND) !== 0 };
    descriptors.put(told.result, open, (flags & O_CLOEXEC) !== 0);
  }

  private forked(parent: Thread, { child, flags }: Told & { what: "fork" }): void {
    const { descriptors, program } = parent;
    const shares = (flags & CLONE_FILES) !== 0;
    this.threads.set(child, {
      descriptors: shares ? descriptors : descriptors.copied(),
      program,
      pending: null,
    });
  }
}
