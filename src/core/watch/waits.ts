import type { Stretch } from "./tally";

/** A side of a copy that other programs do. */
export interface Side {
  name: string;
  stretch: Stretch;
}

/** What the counters tell of a copy from one drive to another. */
export interface CopySides {
  from: string;
  to: string;
  /** The side that the other waits for; null where that cannot be told, and `why` says so. */
  waitsFor: string | null;
  why: string;
}

/** Both sides of a copy move the same bytes; more than that apart, it is not one copy. */
const ALIKE = 0.6;
/** Below this nothing is going on that could be waited for, MB/s. */
const LEAST_MBPS = 1;
/** A side has work all the time from here on, and stands still part of it below. */
const ALWAYS = 0.9;
const PARTLY = 0.75;
/** How many times as long one of two must work that take turns. */
const MOSTLY = 2;

/**
 * Whether what moves looks like a copy from one drive to another, and which side the other waits for.
 * The counters tell only for how much of the time a drive had a request under way: one that has work all
 * the time is what is waited for; one that stands still in between waits.
 *
 * @param sides over the same stretch of time
 * @returns null where nothing looks like a copy
 */
export function copyOf(sides: readonly Side[]): CopySides | null {
  const reader = most(sides, ({ stretch }) => stretch.readMBps);
  const writer = most(
    sides.filter((side) => side !== reader),
    ({ stretch }) => stretch.writeMBps,
  );
  if (!reader || !writer) return null;
  const [out, into] = [reader.stretch.readMBps, writer.stretch.writeMBps];
  if (Math.min(out, into) < LEAST_MBPS || Math.min(out, into) < ALIKE * Math.max(out, into)) {
    return null;
  }
  const [from, to] = [reader.name, writer.name];
  const [a, b] = [reader.stretch.busy, writer.stretch.busy];
  if (a === null || b === null) {
    const why = "of a network interface the system does not count when it stands still";
    return { from, to, waitsFor: null, why };
  }
  const shares = `${from} had work ${percent(a)} of the time, ${to} ${percent(b)}`;
  if (a >= ALWAYS && b < PARTLY) return { from, to, waitsFor: from, why: shares };
  if (b >= ALWAYS && a < PARTLY) return { from, to, waitsFor: to, why: shares };
  const [more, less] = a > b ? [a, b] : [b, a];
  if (more < ALWAYS && more + less >= PARTLY && more >= MOSTLY * less) {
    // One request at a time, first here and then there: each side waits while the other works.
    const longer = a > b ? from : to;
    const why = `${shares}: they work in turns, and most of the time goes to ${longer}`;
    return { from, to, waitsFor: longer, why };
  }
  const why =
    a < PARTLY && b < PARTLY
      ? `${shares}: both stand still in between, so it is the program, or the way between them`
      : `${shares}: too much alike to tell`;
  return { from, to, waitsFor: null, why };
}

const percent = (share: number) => `${Math.round(share * 100)} %`;

function most(sides: readonly Side[], rate: (side: Side) => number): Side | null {
  return sides.toSorted((a, b) => rate(b) - rate(a))[0] ?? null;
}

/** The same in a sentence. */
export const copyWords = ({ from, to, waitsFor, why }: CopySides): string =>
  waitsFor === null
    ? `looks like a copy from ${from} to ${to}; which side waits cannot be told: ${why}.`
    : `looks like a copy from ${from} to ${to}, which waits for ${waitsFor}: ${why}.`;
