import { EarliestFirst } from "./earliest-first";
import type { Replayed } from "./outcome";
import { FLUSH, FLUSH_AFTER, FLUSH_BEFORE, KIND, READ, UNHEARD, type Schedule } from "./schedule";

/** A read or a write that goes. */
export interface Asked {
  way: "read" | "write";
  /** When it goes, milliseconds since the beginning. */
  ms: number;
  bytes: number;
  /** Where in the scratch file, bytes. */
  place: number;
  /** How many of its work are under way, this one among them. */
  depth: number;
}

/** How a request is answered. */
export interface Answer {
  /** Requests of one lane pass one after another: this one keeps the lane for so long, microseconds. */
  lane: string;
  laneUs: number;
  /** What comes on top, side by side with others, microseconds. */
  besideUs: number;
}

/**
 * The course of a replay, request by request: each goes as in the engine's, whatever answers it. A flush takes as
 * long as in the recording, and a write that has to reach the medium at least as long.
 *
 * @param schedules of the works that are done side by side
 * @param answerTo asked in the order in which requests go
 * @returns when each went and was answered, and how long any was under way, milliseconds
 */
export function courseOf(
  schedules: readonly Schedule[],
  answerTo: (asked: Asked) => Answer,
): { replayed: Replayed[]; waitedMs: number } {
  const works = schedules.map((schedule) => new Work(schedule));
  const free = new Map<string, number>();
  let [waitedMs, last] = [0, 0];
  const answer = (work: Work, to: number) => {
    waitedMs += Math.max(0, to - Math.max(work.goesAt, last));
    last = Math.max(last, to);
    work.answered(to);
  };
  for (;;) {
    const next = works.reduce((first, work) => (work.goesAt < first.goesAt ? work : first));
    if (next.goesAt === Infinity) return { replayed: works, waitedMs };
    const { schedule, number, goesAt: ms } = next;
    const kind = schedule.kinds[number]!;
    const recorded = schedule.recordedTo[number]! - schedule.recordedFrom[number]! || 0;
    if ((kind & KIND) === FLUSH) {
      answer(next, ms + recorded);
      continue;
    }
    const { lane, laneUs, besideUs } = answerTo({
      way: (kind & KIND) === READ ? "read" : "write",
      ms,
      bytes: schedule.lengths[number]!,
      place: schedule.places[number]!,
      depth: next.depth,
    });
    const passed = Math.max(ms, free.get(lane) ?? 0) + laneUs / 1e3;
    free.set(lane, passed);
    const isFlushed = (kind & (FLUSH_BEFORE | FLUSH_AFTER)) !== 0;
    answer(next, passed + Math.max(besideUs / 1e3, isFlushed ? recorded : 0));
  }
}

/** One work of a replay on its way. */
class Work implements Replayed {
  readonly from: Float64Array;
  readonly to: Float64Array;
  /** Which of its requests goes next, and when; Infinity when all have gone. */
  number = 0;
  goesAt = 0;
  private readonly underWay = new EarliestFirst();
  private answers = 0;
  private answeredAt = 0;
  private heard = 0;

  constructor(readonly schedule: Schedule) {
    this.from = new Float64Array(schedule.kinds.length);
    this.to = new Float64Array(schedule.kinds.length);
    this.makeReady();
  }

  get depth(): number {
    return this.heard - this.answers + 1;
  }

  /** The request that goes next will be answered at a moment. */
  answered(to: number): void {
    this.from[this.number] = this.goesAt;
    this.to[this.number] = to;
    if (!(this.schedule.kinds[this.number]! & UNHEARD)) {
      this.underWay.add(to);
      this.heard++;
    }
    this.number++;
    this.makeReady();
  }

  /** In the order of the recording, and as long after the answer as there. */
  private makeReady(): void {
    const { kinds, answers, waitsNs } = this.schedule;
    if (this.number === kinds.length) {
      this.goesAt = Infinity;
      return;
    }
    for (; this.answers < answers[this.number]!; this.answers++)
      this.answeredAt = this.underWay.take();
    this.goesAt = Math.max(this.goesAt, this.answeredAt + waitsNs[this.number]! / 1e6);
  }
}
