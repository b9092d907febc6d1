import * as z from "zod";
import { WatchedHostLoad } from "../run/host-load";
import { plainSample } from "../run/step";
import type { Sample } from "../run/result";
import { MB } from "../units/rate";

/** What a device has moved since some moment, by the kernel's own count. Bytes. */
export const Count = z.object({
  read: z.number(),
  written: z.number(),
  /** Requests that ended; 0 for an interface, which has none. */
  requests: z.number(),
  /** Milliseconds with at least one request under way; null where that is not counted. */
  busyMs: z.number().nullable(),
});
export type Count = z.infer<typeof Count>;

/** One look at several of them; null for what the system does not list any more. */
export const Looked = z.object({
  /** Milliseconds since the watching began. */
  ms: z.number(),
  counts: z.array(Count.nullable()),
  /** When each was counted, where that is another time: by the clock of the host that counts. */
  at: z.array(z.number().nullable()).optional(),
  /** How busy the hosts are that count some of them. */
  hosts: z.array(WatchedHostLoad).optional(),
});
export type Looked = z.infer<typeof Looked>;

/** Most that are looked at together, once a second. */
export const MOST_LISTED = 64;

/** A count at a moment. @see Tally */
export interface Look extends Count {
  /** Milliseconds since the watching began. */
  ms: number;
}

/** A moment that the tester named: "copy starts". */
export interface Mark {
  ms: number;
  name: string;
}

/** What went on between two moments. */
export interface Stretch {
  from: string;
  to: string;
  seconds: number;
  read: number;
  written: number;
  readMBps: number;
  writeMBps: number;
  /** Share of the time with at least one request under way; null where that is not counted. */
  busy: number | null;
}

/** What is known of a device that is watched: rates now, at their peak, and in the mean. MB/s. */
export interface Figures {
  seconds: number;
  read: number;
  written: number;
  now: { read: number; write: number };
  peak: { read: number; write: number };
  mean: { read: number; write: number };
}

/** Peaks are told of no less than a second: a shorter one shows how counters are kept, not the drive. */
const PEAK_MS = 1000;

/** Sums up what a device moves while others use it. */
export class Tally {
  private readonly looks: Kept[] = [];
  private peak = { read: 0, write: 0 };
  private back = 0;

  /**
   * @param look later than the one before. A count that went back (a device that was taken out and came
   *   again, or a counter that ran over) begins anew from there: nothing moved meanwhile that is known.
   */
  add(look: Look): void {
    const last = this.looks.at(-1);
    const known = last && look.read >= last.raw.read && look.written >= last.raw.written;
    const since = (pick: (count: Count) => number) =>
      (last ? pick(last) : 0) + (known ? Math.max(0, pick(look) - pick(last.raw)) : 0);
    this.looks.push({
      ms: look.ms,
      read: since(({ read }) => read),
      written: since(({ written }) => written),
      requests: since(({ requests }) => requests),
      busyMs: look.busyMs === null ? null : since(({ busyMs }) => busyMs ?? 0),
      raw: look,
    });
    while (this.looks[this.back + 1] && this.looks[this.back + 1]!.ms <= look.ms - PEAK_MS)
      this.back += 1;
    const from = this.looks[this.back]!;
    const span = look.ms - from.ms;
    if (span < PEAK_MS) return;
    const rates = ratesOf(from, this.looks.at(-1)!);
    this.peak = {
      read: Math.max(this.peak.read, rates.read),
      write: Math.max(this.peak.write, rates.write),
    };
  }

  /** When it was looked at last; null for never. */
  get lastMs(): number | null {
    return this.looks.at(-1)?.ms ?? null;
  }

  /** Null until it was looked at twice. */
  get figures(): Figures | null {
    const [first, last] = [this.looks[0], this.looks.at(-1)];
    const before = this.looks.at(-2);
    if (!first || !last || !before) return null;
    return {
      seconds: (last.ms - first.ms) / 1e3,
      read: last.read,
      written: last.written,
      now: ratesOf(before, last),
      peak: this.peak,
      mean: ratesOf(first, last),
    };
  }

  /** What moved between any two moments, as if each look's bytes were spread evenly over its time. */
  between(from: Mark, to: Mark): Stretch {
    const [a, b] = [this.at(from.ms), this.at(to.ms)];
    const { read, write } = ratesOf(a, b);
    return {
      from: from.name,
      to: to.name,
      seconds: (to.ms - from.ms) / 1e3,
      read: Math.round(b.read - a.read),
      written: Math.round(b.written - a.written),
      readMBps: read,
      writeMBps: write,
      busy: busyShare(a, b),
    };
  }

  /** What moved between two moments, as the trace of a run that began at the first. */
  samples(from: Mark, to: Mark): Sample[] {
    const inside = this.looks.filter(({ ms }) => ms > from.ms && ms < to.ms);
    const all = [this.at(from.ms), ...inside, this.at(to.ms)];
    return all.slice(1).map((look, i) => {
      const before = all[i]!;
      const [read, written, requests] = (["read", "written", "requests"] as const).map((what) =>
        Math.max(0, Math.round(look[what]) - Math.round(before[what])),
      ) as [number, number, number];
      return {
        ...plainSample(before.ms - from.ms, look.ms - from.ms, read + written),
        written,
        requests,
      };
    });
  }

  private at(ms: number): Look {
    const after = this.looks.findIndex((look) => look.ms >= ms);
    if (after <= 0) return { ...this.looks.at(after < 0 ? -1 : 0)!, ms };
    const [a, b] = [this.looks[after - 1]!, this.looks[after]!];
    const share = (ms - a.ms) / (b.ms - a.ms);
    const part = (pick: (count: Count) => number) => pick(a) + share * (pick(b) - pick(a));
    return {
      ms,
      read: part(({ read }) => read),
      written: part(({ written }) => written),
      requests: part(({ requests }) => requests),
      busyMs: b.busyMs === null ? null : part(({ busyMs }) => busyMs ?? 0),
    };
  }
}

interface Kept extends Look {
  /** As it was counted, before a counter that began anew was put right. */
  raw: Count;
}

function busyShare(a: Look, b: Look): number | null {
  if (a.busyMs === null || b.busyMs === null || b.ms <= a.ms) return null;
  return Math.min(1, (b.busyMs - a.busyMs) / (b.ms - a.ms));
}

function ratesOf(a: Look, b: Look): { read: number; write: number } {
  const seconds = (b.ms - a.ms) / 1e3;
  if (seconds <= 0) return { read: 0, write: 0 };
  return { read: (b.read - a.read) / MB / seconds, write: (b.written - a.written) / MB / seconds };
}
