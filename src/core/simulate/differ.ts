import { mean, median } from "simple-statistics";
import type { RunResult, Sample, StepResult } from "../run/result";
import { SMALLEST_EFFECT } from "../stats/compare";

/** A stretch of time over which a measured trace and a simulated one are not the same. */
export interface Stretch {
  fromMs: number;
  toMs: number;
  measuredMBps: number;
  simulatedMBps: number;
}

/** A step of a drill in which they are not the same. */
export interface StepDifference {
  label: StepResult["label"];
  measuredMBps: number;
  simulatedMBps: number;
}

/** Parts that a trace is cut into to be held against another. */
const BINS = 120;
/** Bins that a difference lasts at least, and by how many standard errors it stands out. */
const WINDOW = 6;
const CLEAR = 4;

/**
 * Where a measured trace differs from a simulated one beyond the noise of both, and beyond the
 * smallest effect of interest.
 *
 * The time that both have is cut into bins; a stretch counts where the mean of six bins differs by
 * more than four standard errors, the noise being taken from the changes between neighbouring bins.
 *
 * @param smallest share below which a difference is of no interest
 */
export function traceDifferences(
  measured: readonly Sample[],
  simulated: readonly Sample[],
  smallest = SMALLEST_EFFECT,
): Stretch[] {
  const end = Math.min(measured.at(-1)?.ms ?? 0, simulated.at(-1)?.ms ?? 0);
  const least = Math.min(measured.length, simulated.length);
  const bins = Math.min(BINS, least);
  if (end <= 0 || bins < WINDOW) return [];
  const width = end / bins;
  const [a, b] = [binned(measured, bins, width), binned(simulated, bins, width)];
  const off = a.map((rate, i) => rate - b[i]!);
  const window = Math.min(WINDOW, bins);
  const noise = (spread(a) + spread(b)) / Math.sqrt(window);
  const odd = off.map(() => false);
  for (let i = 0; i + window <= bins; i++) {
    const apart = Math.abs(mean(off.slice(i, i + window)));
    const level = mean(b.slice(i, i + window));
    if (apart > CLEAR * noise && apart > smallest * level) odd.fill(true, i, i + window);
  }
  const stretches: Stretch[] = [];
  for (let i = 0; i < bins; i++) {
    if (!odd[i]) continue;
    let to = i;
    while (to < bins && odd[to]) to += 1;
    // A window reaches over the edge of what is in it: what differs by less than half is outside.
    const usual = median(off.slice(i, to).map(Math.abs));
    let [first, last] = [i, to];
    while (first < last - 1 && Math.abs(off[first]!) < usual / 2) first += 1;
    while (last > first + 1 && Math.abs(off[last - 1]!) < usual / 2) last -= 1;
    stretches.push({
      fromMs: first * width,
      toMs: last * width,
      measuredMBps: mean(a.slice(first, last)),
      simulatedMBps: mean(b.slice(first, last)),
    });
    i = to;
  }
  return stretches;
}

/** Mean rates over equal bins of time, MB/s; what a sample moved is spread evenly over it. */
function binned(samples: readonly Sample[], bins: number, width: number): number[] {
  const bytes = new Array<number>(bins).fill(0);
  const seen = new Array<number>(bins).fill(0);
  for (const { from, ms, bytes: moved } of samples) {
    for (let bin = Math.floor(from / width); bin < bins && bin * width < ms; bin++) {
      const overlap = Math.min(ms, (bin + 1) * width) - Math.max(from, bin * width);
      if (overlap <= 0 || ms <= from) continue;
      bytes[bin]! += (moved * overlap) / (ms - from);
      seen[bin]! += overlap;
    }
  }
  // Several targets at once add up; a gap has no rate of its own and takes the one before.
  let last = 0;
  return bytes.map((moved, i) => {
    if (seen[i]! > 0) last = moved / 1e3 / Math.min(width, seen[i]!);
    return last;
  });
}

/** The standard deviation of a rate from one bin to the next, not blown up by single steps. */
function spread(rates: readonly number[]): number {
  const changes = rates.slice(1).map((rate, i) => Math.abs(rate - rates[i]!));
  return changes.length > 0 ? (1.4826 * median(changes)) / Math.SQRT2 : 0;
}

/** The steps of a ladder, a traverse or a rest that are not the same in both. */
export function stepDifferences(
  measured: Pick<RunResult, "steps">,
  simulated: Pick<RunResult, "steps">,
  smallest = SMALLEST_EFFECT,
): StepDifference[] {
  return measured.steps.flatMap((step, i): StepDifference[] => {
    const other = simulated.steps[i];
    if (!other || step.kind === "rest") return [];
    const [a, b] = [step.meanMBps, other.meanMBps];
    if (Math.abs(a - b) <= smallest * Math.max(a, b)) return [];
    return [{ label: step.label, measuredMBps: a, simulatedMBps: b }];
  });
}
