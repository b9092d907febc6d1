import type { Reading, RunEvent, Sample } from "../run/result";
import type { Surroundings } from "./cause";
import { changesOf } from "./changes";
import { marksOf } from "./find";
import { bestMean, bytesUntil, endOf, flowOf, rateBetween, startOf, type Flow } from "./flow";
import { corrected, type Correction, type LevelName, type Mark } from "../run/mark";
import { warmthOf } from "./warmth";

/** A stretch of a trace with one rate. */
export interface Level {
  name: LevelName | "stall";
  fromMs: number;
  toMs: number;
  fromBytes: number;
  toBytes: number;
  /** Its mean, the ends of its time faded in and out. */
  rateMBps: number;
}

/** What happened in one run, and the rates that follow from it. */
export interface TraceReading {
  marks: Mark[];
  levels: Level[];
  /**
   * Where the first lasting drop of a write came; null where there is none, or it was heat. Its cause is
   * null where it may have been heat: only the place of the drop is known then.
   */
  cacheEdge: {
    bytes: number;
    ms: number;
    freeBytes: number | null;
    cause: "cache" | null;
  } | null;
  /** Whether anything told how warm the drive was. */
  warmthKnown: boolean;
  /** The best five seconds, or the whole where it is shorter. */
  burstMBps: number;
  /** Mean over the level that lasted longest. */
  steadyMBps: number;
  /** Mean after the last lasting change of level; of one that goes up and down, over its ups and downs. */
  sustainedMBps: number;
  /** Whether heat slowed it down; null where that cannot be told. */
  throttled: boolean | null;
  /** How many corrections by hand are in it. */
  corrections: number;
}

export interface TraceInput {
  samples: readonly Sample[];
  readings?: readonly Reading[];
  events?: readonly RunEvent[];
  /** Free space where it was written to, when the run began, bytes. */
  freeBytes?: number | null;
  corrections?: readonly Correction[];
}

const BURST_MS = 5000;

/**
 * Reads a trace: what its levels are, where a cache gave out, whether heat slowed it down, and what
 * happened besides (docs/model.md, 4).
 *
 * @param input samples in order of time; corrections by hand are made before the rates are taken
 */
export function readTrace(input: TraceInput): TraceReading {
  const { samples, readings = [], events = [], freeBytes = null, corrections = [] } = input;
  const flow = flowOf(samples);
  let [moved, written] = [0, 0];
  for (const one of samples) {
    moved += one.bytes;
    written += one.written;
  }
  const around: Surroundings = {
    writing: written > moved / 2,
    warmth: warmthOf(readings),
    throttledAt: events.filter(({ kind }) => kind === "throttled").map(({ ms }) => ms),
  };
  const found = marksOf(flow, changesOf(flow), around, events);
  const marks = corrected(found, corrections);
  const levels = levelsFrom(flow, marks);
  const whole = levels.filter(({ name }) => name !== "stall");
  const edge = around.writing ? marks.find(({ name }) => name === "folded") : undefined;
  const bytes = edge ? bytesUntil(flow, edge.ms) : 0;
  return {
    marks,
    levels: cutByStalls(flow, levels, marks),
    cacheEdge: edge
      ? {
          bytes,
          ms: edge.ms - startOf(flow),
          cause: edge.open ? null : "cache",
          freeBytes: freeBytes === null ? null : Math.max(0, freeBytes - bytes),
        }
      : null,
    warmthKnown: around.warmth.length > 0,
    burstMBps: bestMean(flow, BURST_MS),
    ...ratesOf(flow, whole),
    throttled: throttledOf(marks),
    corrections: corrections.length,
  };
}

/** Rates that follow from the levels. */
function ratesOf(flow: Flow, levels: readonly Level[]) {
  const longest = levels.reduce<Level | null>(
    (a, b) => (!a || b.toMs - b.fromMs >= a.toMs - a.fromMs ? b : a),
    null,
  );
  const since = regime(levels);
  return {
    steadyMBps: longest ? rateBetween(flow, longest.fromMs, longest.toMs) : 0,
    sustainedMBps: since === null ? 0 : rateBetween(flow, since, endOf(flow)),
  };
}

/** Two levels count as the same one again within this share. */
const ALIKE = 0.2;

/**
 * From when on it goes as it goes in the end: from the last change on, or, where it goes up and down
 * between two levels, from the first of them.
 */
export function regime(levels: readonly Level[]): number | null {
  const [last, other] = [levels.at(-1), levels.at(-2)];
  if (!last) return null;
  if (!other) return last.fromMs;
  const alike = (a: Level, b: Level) =>
    Math.abs(a.rateMBps - b.rateMBps) <= ALIKE * Math.max(a.rateMBps, b.rateMBps);
  let first = levels.length - 1;
  while (first > 0) {
    const before = levels[first - 1]!;
    const expected = (levels.length - first) % 2 === 1 ? other : last;
    if (!alike(before, expected)) break;
    first -= 1;
  }
  // Down, up and down again at least.
  return levels.length - first >= 4 ? levels[first]!.fromMs : last.fromMs;
}

/** The levels between marks; neighbours are one where they have one name and one rate. */
function levelsFrom(flow: Flow, marks: readonly Mark[]): Level[] {
  const begins = marks.filter(({ of }) => of === "level");
  return begins.flatMap((mark, i): Level[] => {
    const fromMs = i === 0 ? startOf(flow) : Math.max(startOf(flow), mark.ms);
    const toMs = Math.min(endOf(flow), begins[i + 1]?.ms ?? Infinity);
    if (toMs <= fromMs) return [];
    return [levelBetween(flow, mark.name as LevelName, fromMs, toMs)];
  });
}

function levelBetween(flow: Flow, name: Level["name"], fromMs: number, toMs: number): Level {
  const [fromBytes, toBytes] = [bytesUntil(flow, fromMs), bytesUntil(flow, toMs)];
  return { name, fromMs, toMs, fromBytes, toBytes, rateMBps: rateBetween(flow, fromMs, toMs) };
}

/** Stalls as levels of their own, within those that they interrupt; a gap interrupts and is none. */
function cutByStalls(flow: Flow, levels: readonly Level[], marks: readonly Mark[]): Level[] {
  const breaks = marks.filter(
    ({ name, until }) => (name === "stall" || name === "gap") && until !== null,
  );
  return levels.flatMap((level) => {
    const cut: Level[] = [];
    let from = level.fromMs;
    for (const { ms, until, name } of breaks) {
      const [begin, end] = [Math.max(ms, level.fromMs), Math.min(until!, level.toMs)];
      if (end <= begin || begin < from) continue;
      if (begin > from) cut.push(levelBetween(flow, level.name, from, begin));
      if (name === "stall") cut.push(levelBetween(flow, "stall", begin, end));
      from = end;
    }
    if (from < level.toMs) cut.push(levelBetween(flow, level.name, from, level.toMs));
    return cut;
  });
}

function throttledOf(marks: readonly Mark[]): boolean | null {
  if (marks.some(({ name }) => name === "throttled" || name === "heat")) return true;
  return marks.some(({ open }) => open) ? null : false;
}
