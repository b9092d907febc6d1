import { mean } from "simple-statistics";
import type { FarLoad, FarReading, Moved } from "../run/far-host";
import type { Reading } from "../run/result";

/** A reading tells of the second before it: of what the run began with, when it is so far in, milliseconds. */
const WHOLE_MS = 1000;
/** From fewer readings no mean is made. */
const LEAST = 2;
/** What moved less is not listed, MB/s. */
const LEAST_MBPS = 0.1;
/** Of so many drives and interfaces the list is short enough to be read. */
const MOST_LISTED = 8;

/** What the far host did over a run, as its readings tell; null where too little was seen of it. */
export function farLoadOf(readings: readonly Reading[]): FarLoad | null {
  const told = readings.flatMap(({ ms, far }) => (far && ms >= WHOLE_MS ? [far] : []));
  const last = told.at(-1);
  if (!last || told.length < LEAST) return null;
  const memory = told.flatMap((one) => one.memory ?? []);
  return {
    host: last.host,
    seconds: told.length,
    core: busiestOf(told),
    memory: memory.length > 0 ? Math.max(...memory) : null,
    moved: movedIn(told),
  };
}

/** The core that was busiest on the whole. */
function busiestOf(told: readonly FarReading[]): FarLoad["core"] {
  const count = Math.min(...told.map(({ cores }) => cores.length));
  const shares = Array.from({ length: count }, (_, number) => {
    const of = told.map(({ cores }) => cores[number]! / 100);
    return { number, now: of.at(-1)!, mean: mean(of), peak: Math.max(...of) };
  });
  return shares.toSorted((a, b) => b.mean - a.mean)[0] ?? null;
}

/** The mean of each drive and interface that moved something. */
function movedIn(told: readonly FarReading[]): FarLoad["moved"] {
  const names = [...new Set(told.flatMap(({ moved }) => Object.keys(moved)))];
  const means = names.map((name): [string, Moved] => {
    const of = told.flatMap(({ moved }) => moved[name] ?? []);
    const busy = of.flatMap((one) => one.busy ?? []);
    return [
      name,
      {
        kind: of[0]!.kind,
        read: mean(of.map(({ read }) => read)),
        written: mean(of.map(({ written }) => written)),
        busy: busy.length > 0 ? mean(busy) : null,
      },
    ];
  });
  const traffic = ([, { read, written }]: [string, Moved]) => read + written;
  return Object.fromEntries(
    means
      .filter((one) => traffic(one) >= LEAST_MBPS)
      .toSorted((a, b) => traffic(b) - traffic(a))
      .slice(0, MOST_LISTED),
  );
}
