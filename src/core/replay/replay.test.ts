import fc from "fast-check";
import { describe, expect, it } from "vitest";
import type { RecordedRequest } from "../recording/request";
import { ReplayResult } from "../run/replay-result";
import { outcomeOf } from "./outcome";
import { PAGE, Places } from "./places";
import {
  FLUSH,
  FLUSH_AFTER,
  FLUSH_BEFORE,
  KIND,
  scheduleOf,
  UNHEARD,
  WRITE,
  type Schedule,
} from "./schedule";
import { workOf } from "./work";

const SHA = "0".repeat(64);
const MS = 3000;

const anyRequest: fc.Arbitrary<RecordedRequest> = fc
  .record({
    startUs: fc.nat(2_000_000),
    tookUs: fc.option(fc.nat(400_000), { freq: 12 }),
    kind: fc.constantFrom("read" as const, "write" as const, "flush" as const, "discard" as const),
    offset: fc.nat(3000).map((n) => n * 512),
    bytes: fc.integer({ min: 1, max: 200 }).map((n) => n * 512),
    program: fc.nat(3),
    flush: fc.option(fc.constantFrom("before" as const, "after" as const, "both" as const)),
  })
  .map(({ flush, ...one }) => ({
    ...one,
    bytes: one.kind === "flush" ? 0 : one.bytes,
    ...(one.kind === "write" && flush ? { flush } : {}),
  }));
const anyRecording = fc
  .array(anyRequest, { minLength: 1, maxLength: 80 })
  .map((all) => all.toSorted((a, b) => a.startUs - b.startUs))
  .filter((all) => all.some(({ kind }) => kind === "read" || kind === "write"));
const ending = (requests: RecordedRequest[]) => ({
  requests,
  end: { ms: MS, lost: 0, counted: null, reason: null },
});
const GROUND = { first: 0, span: 2 ** 40, smallest: 512 };
const KEPT = { pace: "asap", pauses: "kept" } as const;

/**
 * A drive as simple as can be: each request takes as long as it is told to. It does a schedule as the engine's
 * thread does: in order, each when its answers are there and its time is over.
 */
function done(
  schedule: Schedule,
  tookMs: (i: number) => number,
): { from: Float64Array; to: Float64Array } {
  const count = schedule.kinds.length;
  const [from, to] = [new Float64Array(count), new Float64Array(count)];
  const heard = (before: number) =>
    Array.from({ length: before }, (_, i) => i)
      .filter((i) => !(schedule.kinds[i]! & UNHEARD))
      .map((i) => to[i]!)
      .toSorted((a, b) => a - b);
  for (let i = 0; i < count; i++) {
    const answers = schedule.answers[i]!;
    const since = answers > 0 ? heard(i)[answers - 1]! : 0;
    from[i] = Math.max(i > 0 ? from[i - 1]! : 0, since + schedule.waitsNs[i]! / 1e6);
    to[i] = from[i]! + tookMs(i);
  }
  return { from, to };
}
const recordedTime = (schedule: Schedule, i: number) =>
  schedule.recordedTo[i]! - schedule.recordedFrom[i]! || 0;

describe("where recorded places lie in the scratch file", () => {
  it("is no further than what was touched, side by side where they were, and nowhere twice", () => {
    fc.assert(
      fc.property(anyRecording, (requests) => {
        const places = new Places(requests);
        const pages = new Map<number, number>();
        for (const { kind, offset, bytes } of requests) {
          if (kind !== "read" && kind !== "write") continue;
          expect(places.at(offset) % PAGE).toBe(offset % PAGE);
          for (let at = Math.floor(offset / PAGE); at * PAGE < offset + bytes; at++) {
            const place = places.at(at * PAGE) / PAGE;
            expect(place).toBe(
              places.at(offset - (offset % PAGE)) / PAGE + at - Math.floor(offset / PAGE),
            );
            expect(pages.get(at) ?? place).toBe(place);
            pages.set(at, place);
          }
        }
        expect(new Set(pages.values()).size).toBe(pages.size);
        expect(places.bytes).toBe(pages.size * PAGE);
        expect(Math.max(...pages.values()) + 1).toBe(pages.size);
        const order = [...pages].toSorted(([a], [b]) => a - b).map(([, place]) => place);
        expect(order).toEqual(order.toSorted((a, b) => a - b));
      }),
    );
  });
});

describe("a recording as it is to be done again", () => {
  it("comes as it came on a drive that answers as the recorded one did", () => {
    fc.assert(
      fc.property(
        anyRecording,
        fc.constantFrom("asap" as const, "as-recorded" as const),
        (requests, pace) => {
          const schedule = scheduleOf(ending(requests), { pace, pauses: "kept" }, GROUND);
          const { from } = done(schedule, (i) => recordedTime(schedule, i));
          for (const [i, ms] of from.entries())
            expect(ms).toBeCloseTo(schedule.recordedFrom[i]!, 5);
        },
      ),
    );
  });

  it("keeps its order on any drive, has no more under way, and never waits for what cannot come", () => {
    const drive = fc.array(fc.nat(5000), { minLength: 80, maxLength: 80 });
    fc.assert(
      fc.property(
        anyRecording,
        drive,
        fc.constantFrom("kept" as const, "left-out" as const),
        (requests, took, pauses) => {
          const schedule = scheduleOf(ending(requests), { pace: "asap", pauses }, GROUND);
          const { from, to } = done(schedule, (i) => took[i]!);
          let before = 0;
          for (const [i, at] of from.entries()) {
            expect(at).not.toBeNaN();
            expect(at).toBeGreaterThanOrEqual(i > 0 ? from[i - 1]! : 0);
            expect(schedule.answers[i]).toBeLessThanOrEqual(before);
            const under = (ends: Float64Array, begins: Float64Array) =>
              [...ends.subarray(0, i)].filter(
                (end, j) => !(schedule.kinds[j]! & UNHEARD) && end > begins[i]! + 1e-6,
              ).length;
            expect(under(to, from)).toBeLessThanOrEqual(
              under(schedule.recordedTo, schedule.recordedFrom),
            );
            if (!(schedule.kinds[i]! & UNHEARD)) before++;
          }
        },
      ),
    );
  });

  it("takes no longer without its pauses, and is over by the drive alone", () => {
    const one = (startUs: number): RecordedRequest => ({
      startUs,
      tookUs: 1000,
      kind: "read",
      offset: startUs * 8,
      bytes: 4096,
      program: 0,
    });
    const work = ending([one(500_000), one(600_000), one(1_700_000)]);
    const last = (pauses: "kept" | "left-out") => {
      const schedule = scheduleOf(work, { pace: "asap", pauses }, GROUND);
      return done(schedule, () => 2).to.at(-1)!;
    };
    expect(last("kept")).toBeCloseTo(1701 + 3, 6);
    expect(last("left-out")).toBeCloseTo(6, 6);
    expect(scheduleOf(work, KEPT, GROUND).tailMs).toBeCloseTo(MS - 1701, 6);
  });

  it("stays within its stretch in whole blocks of the drive, however small that is", () => {
    const ground = fc.record({
      first: fc.nat(100).map((n) => n * PAGE),
      span: fc.integer({ min: 1, max: 400 }).map((n) => n * PAGE),
      smallest: fc.constantFrom(512, 4096, 16384),
    });
    fc.assert(
      fc.property(anyRecording, ground, (requests, { first, span: least, smallest }) => {
        const span = Math.max(least, smallest);
        const schedule = scheduleOf(ending(requests), KEPT, { first, span, smallest });
        for (const [i, kind] of schedule.kinds.entries()) {
          const [place, length] = [schedule.places[i]!, schedule.lengths[i]!];
          if ((kind & KIND) === FLUSH) {
            expect(length).toBe(0);
            continue;
          }
          expect(length).toBeGreaterThan(0);
          expect([(place - first) % smallest, length % smallest]).toEqual([0, 0]);
          expect(place).toBeGreaterThanOrEqual(first);
          expect(place + length).toBeLessThanOrEqual(first + span);
        }
        const touched = new Places(requests).bytes;
        if (touched <= span && smallest <= PAGE) expect(schedule.folded).toBe(false);
        if (touched > span) expect(schedule.folded).toBe(true);
        if (smallest === 512) expect(schedule.widened).toBe(0);
      }),
    );
  });

  it("empties the drive’s cache where the work did, and leaves out what frees space", () => {
    const write = (startUs: number, flush?: "before" | "after" | "both"): RecordedRequest => ({
      startUs,
      tookUs: 10,
      kind: "write",
      offset: 0,
      bytes: 4096,
      program: 0,
      ...(flush ? { flush } : {}),
    });
    const flush: RecordedRequest = { ...write(70), kind: "flush", bytes: 0 };
    const discard: RecordedRequest = { ...write(80), kind: "discard" };
    const all = [
      write(10),
      write(20, "before"),
      write(30, "after"),
      write(40, "both"),
      flush,
      discard,
    ];
    const schedule = scheduleOf(ending(all), KEPT, GROUND);
    const both = FLUSH_BEFORE + FLUSH_AFTER;
    expect([...schedule.kinds]).toEqual([
      WRITE,
      WRITE + FLUSH_BEFORE,
      WRITE + FLUSH_AFTER,
      WRITE + both,
      FLUSH,
    ]);
    expect(schedule.leftOut).toBe(1);
    const { from, to } = done(schedule, () => 1);
    expect(outcomeOf([{ schedule, from, to }], 10)).toMatchObject({ flushes: 5, leftOut: 1 });
  });
});

describe("a replay held against its recording", () => {
  const again = (requests: RecordedRequest[], slower: number) => {
    const schedule = scheduleOf(ending(requests), KEPT, GROUND);
    const { from, to } = done(schedule, (i) => recordedTime(schedule, i) * slower);
    const ms = Math.max(...to) + schedule.tailMs;
    return { ms, result: outcomeOf([{ schedule, from, to }], ms) };
  };

  it("waits no longer than it takes, phase by phase, and phases are the whole", () => {
    fc.assert(
      fc.property(anyRecording, fc.constantFrom(0.5, 1, 3), (requests, slower) => {
        const { ms, result } = again(requests, slower);
        ReplayResult.parse(result);
        const sum = (pick: (one: (typeof result.phases)[number]) => number) =>
          result.phases.reduce((total, one) => total + pick(one), 0);
        expect(sum(({ replayed }) => replayed.ms)).toBeCloseTo(ms, 6);
        expect(sum(({ recorded }) => recorded.ms)).toBeCloseTo(MS, 6);
        expect(result.replayed.waitedMs).toBeLessThanOrEqual(ms + 1e-6);
        expect(sum(({ requests: count }) => count)).toBe(
          requests.filter(({ kind }) => kind !== "discard").length,
        );
        if (slower === 1) {
          expect(result.replayed.waitedMs).toBeCloseTo(result.recorded.waitedMs, 4);
          expect(ms).toBeCloseTo(MS, 4);
        }
      }),
    );
  });

  it("is cut where the work paused for a second and more", () => {
    const at = (startUs: number): RecordedRequest => ({
      startUs,
      tookUs: 1e5,
      kind: "read",
      offset: 0,
      bytes: 4096,
      program: 0,
    });
    const { result } = again([at(0), at(2e5), at(1.5e6), at(2.8e6)], 2);
    expect(result.phases.map(({ fromMs, requests }) => [fromMs, requests])).toEqual([
      [0, 2],
      [1500, 1],
      [2800, 1],
    ]);
    expect(result.recorded.waitedMs).toBeCloseTo(400, 6);
    expect(result.replayed.waitedMs).toBeCloseTo(800, 6);
  });
});

describe("a recording in brief", () => {
  it("says what doing it again takes, and refuses what moves nothing", () => {
    fc.assert(
      fc.property(anyRecording, (requests) => {
        const work = workOf(ending(requests), "make", SHA);
        expect(work.workingSetBytes).toBe(new Places(requests).bytes);
        expect(work.bytesRead + work.bytesWritten).toBeGreaterThan(0);
      }),
    );
    const flush: RecordedRequest = {
      startUs: 1,
      tookUs: 1,
      kind: "flush",
      offset: 0,
      bytes: 0,
      program: 0,
    };
    expect(() => workOf(ending([flush]), "sync", SHA)).toThrow(/nothing was read or written/);
    const vast: RecordedRequest = { ...flush, kind: "read", bytes: 2 ** 30 };
    expect(() => workOf(ending([vast]), "vast", SHA)).toThrow(/longer than any system sends/);
  });
});
