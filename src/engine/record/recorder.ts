import fs from "node:fs";
import type { RecordedRequest, RequestKind } from "@/core/recording/request";
import { fieldOf, type EventFormat } from "./event-format";
import { eachEvent } from "./ring-pages";
import type { TraceInstance } from "./trace-instance";

const PAGE = 4096;
/** Pages that are read in one go. */
const PAGES = 64;
const SECTOR = 512;
/** Requests that wait for an answer; older ones than so many are written without it. */
const MOST_OPEN = 100_000;
const MOST_LATELY = 1000;

const keyOf = (kind: RequestKind, offset: number): string => `${kind} ${offset}`;

/** An event of either trace point, as far as it is needed. */
interface Told {
  ns: number;
  done: boolean;
  kind: RequestKind;
  offset: number;
  bytes: number;
  program: string;
}

/** Puts what the kernel tells together to requests, in the order in which they reached the device. */
export class Recorder {
  /** Requests that have no answer yet, and those behind them that must wait their turn. */
  private readonly waiting: RecordedRequest[] = [];
  private readonly open = new Map<string, RecordedRequest[]>();
  /** Requests that were answered lately, by the place where their answer ended. */
  private readonly lately = new Map<string, RecordedRequest>();
  private held: Told[] = [];
  private readonly programs = new Map<string, number>();
  private readonly data = Buffer.alloc(PAGE * PAGES);
  private readonly readers: {
    id: number;
    read: (view: DataView, at: number) => Omit<Told, "ns">;
  }[];

  /** @param beganNs when the recording began, on the monotonic clock */
  constructor(
    private readonly trace: TraceInstance,
    private readonly beganNs: number,
  ) {
    this.readers = [
      { id: trace.start.id, read: readerOf(trace.start, false) },
      { id: trace.done.id, read: readerOf(trace.done, true) },
    ];
  }

  /** The programs that sent requests, by their numbers. */
  get names(): string[] {
    return [...this.programs.keys()];
  }

  /**
   * Takes in what the kernel has told since, and gives the requests that are whole.
   *
   * Each processor has a buffer of its own, so what came before now is all there once every buffer was
   * emptied; what came later waits for the next time.
   */
  drain(): RecordedRequest[] {
    const now = Number(process.hrtime.bigint());
    for (const pipe of this.trace.pipes) this.empty(pipe);
    this.held.sort((a, b) => a.ns - b.ns);
    const later = this.held.findIndex(({ ns }) => ns >= now);
    const ripe = later < 0 ? this.held : this.held.slice(0, later);
    this.held = later < 0 ? [] : this.held.slice(later);
    for (const told of ripe) this.hear(told);
    return this.taken(false);
  }

  /** What is left at the end, requests without an answer among it. */
  end(): RecordedRequest[] {
    return [...this.drain(), ...this.taken(true)];
  }

  private empty(pipe: number): void {
    for (;;) {
      let bytes: number;
      try {
        bytes = fs.readSync(pipe, this.data, 0, this.data.length, null);
      } catch (error) {
        if ((error as NodeJS.ErrnoException).code === "EAGAIN") return;
        throw error;
      }
      if (bytes <= 0) return;
      for (let at = 0; at < bytes; at += PAGE) {
        const view = new DataView(
          this.data.buffer,
          this.data.byteOffset + at,
          Math.min(PAGE, bytes - at),
        );
        eachEvent(view, (ns, from) => {
          const id = view.getUint16(from, true);
          const reader = this.readers.find((one) => one.id === id);
          if (reader) this.held.push({ ns, ...reader.read(view, from) });
        });
      }
    }
  }

  private hear({ ns, done, kind, offset, bytes, program }: Told): void {
    const at = (ns - this.beganNs) / 1e3;
    if (done) return this.answered(at, kind, offset, bytes);
    const request: RecordedRequest = {
      startUs: Math.max(0, rounded(at)),
      tookUs: null,
      kind,
      offset,
      bytes,
      program: this.numberOf(program),
    };
    this.waiting.push(request);
    const key = keyOf(kind, offset);
    const alike = this.open.get(key);
    if (alike) alike.push(request);
    else this.open.set(key, [request]);
  }

  /** Answers come in any order; of requests at one place the first is meant. */
  private answered(at: number, kind: RequestKind, offset: number, bytes: number): void {
    const asked = this.openAt(kind, offset, bytes);
    if (asked) {
      asked.tookUs = Math.max(0, rounded(at - asked.startUs));
      [asked.offset, asked.bytes] = [offset, bytes];
      this.lately.set(keyOf(kind, offset + bytes), asked);
    } else {
      // The second part of one that is answered in parts goes on where the first part ended.
      const before = this.lately.get(keyOf(kind, offset));
      if (!before) return;
      before.bytes += bytes;
      before.tookUs = Math.max(0, rounded(at - before.startUs));
      this.lately.set(keyOf(kind, offset + bytes), before);
    }
    if (this.lately.size > MOST_LATELY) this.lately.delete(this.lately.keys().next().value!);
  }

  /** The open request at a place; else one that another was joined to in front. */
  private openAt(kind: RequestKind, offset: number, bytes: number): RecordedRequest | undefined {
    for (let at = offset; at < offset + Math.max(1, bytes); at += SECTOR) {
      const key = keyOf(kind, at);
      const alike = this.open.get(key);
      if (!alike) continue;
      const asked = alike.shift();
      if (alike.length === 0) this.open.delete(key);
      return asked;
    }
    return undefined;
  }

  private numberOf(program: string): number {
    const known = this.programs.get(program);
    if (known !== undefined) return known;
    this.programs.set(program, this.programs.size);
    return this.programs.size - 1;
  }

  /** Requests up to the first that has no answer yet; all of them at the end, or where too many wait. */
  private taken(all: boolean): RecordedRequest[] {
    const first = this.waiting.findIndex(({ tookUs }) => tookUs === null);
    const whole = all || first < 0 ? this.waiting.length : first;
    const count = Math.max(whole, this.waiting.length - MOST_OPEN);
    return this.waiting.splice(0, count);
  }
}

/** Times are kept to a tenth of a microsecond. */
const rounded = (us: number): number => Math.round(us * 10) / 10;

/**
 * What an event tells, by where the kernel puts it. The letters of a request (blk_fill_rwbs in
 * kernel/trace/blktrace.c): F first is a flush before it, then D discard, W write, R read, N none.
 */
function readerOf(
  format: EventFormat,
  done: boolean,
): (view: DataView, at: number) => Omit<Told, "ns"> {
  const sector = fieldOf(format, "sector");
  const sectors = fieldOf(format, "nr_sector", "nr_sectors");
  const letters = fieldOf(format, "rwbs");
  const comm = format.fields.get("comm");
  return (view, at) => {
    const length = view.getUint32(at + sectors.offset, true);
    const kind = kindOf(textAt(view, at + letters.offset, letters.size), length);
    // A flush has no place; some kernels give it one that means nothing.
    const place = kind === "flush" ? 0 : Number(view.getBigUint64(at + sector.offset, true));
    return {
      done,
      kind,
      offset: place * SECTOR,
      bytes: kind === "flush" ? 0 : length * SECTOR,
      program: !done && comm ? textAt(view, at + comm.offset, comm.size) : "",
    };
  };
}

function kindOf(letters: string, sectors: number): RequestKind {
  if (letters.includes("D")) return "discard";
  if (sectors === 0) return "flush";
  return letters.includes("W") ? "write" : "read";
}

function textAt(view: DataView, at: number, size: number): string {
  let text = "";
  for (let i = 0; i < size; i++) {
    const code = view.getUint8(at + i);
    if (code === 0) break;
    text += String.fromCharCode(code);
  }
  return text;
}
