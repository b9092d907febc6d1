/** A stretch of time in which some bytes moved to or from one of a run's targets. */
export interface LaneStretch {
  from: number;
  ms: number;
  bytes: number;
  target?: number;
}

/**
 * Samples of several targets on common moments, joined: those of machines with clocks of their own end each at
 * another moment, and read one after the other they would show bursts that never were. Bytes of a sample are
 * spread evenly over it; none is lost. What has common moments already stays as it is.
 *
 * @param samples in order of time
 * @returns samples that do not overlap, in order of time
 */
export function together<S extends LaneStretch>(samples: readonly S[]): readonly LaneStretch[] {
  if (!areStaggered(samples)) return samples;
  const targets = [...new Set(samples.map(({ target }) => target))];
  const lanes = targets.map((target) => samples.filter((sample) => sample.target === target));
  const most = lanes.reduce((a, b) => (b.length > a.length ? b : a));
  const begin = Math.min(...lanes.map((lane) => lane[0]!.from));
  const end = Math.max(...lanes.map((lane) => lane.at(-1)!.ms));
  const joined: LaneStretch[] = [];
  let last = begin;
  for (const ms of [...most.map((sample) => sample.ms).filter((moment) => moment < end), end]) {
    if (ms <= last) continue;
    const covered = lanes.map((lane) => movedIn(lane, "bytes", last, ms));
    joined.push({ from: last, ms, bytes: covered.reduce((sum, bytes) => sum + bytes, 0) });
    last = ms;
  }
  return joined;
}

/** Whether samples of one target end within those of another. */
function areStaggered(samples: readonly LaneStretch[]): boolean {
  let last = samples[0];
  for (const sample of samples) {
    if (sample.ms > last!.ms) {
      if (sample.from < last!.ms && sample.target !== last!.target) return true;
      last = sample;
    }
  }
  return false;
}

/**
 * What of samples lies between two moments; of one that is cut, its share of the time.
 *
 * @param samples of one target, in order of time
 */
export function movedIn<What extends string>(
  samples: readonly (Pick<LaneStretch, "from" | "ms"> & Record<What, number>)[],
  what: What,
  from: number,
  to: number,
): number {
  let sum = 0;
  for (let i = firstAfter(samples, from); i < samples.length; i++) {
    const sample = samples[i]!;
    if (sample.from >= to) break;
    const whole = sample.ms - sample.from;
    const within = Math.min(sample.ms, to) - Math.max(sample.from, from);
    if (whole > 0 && within > 0) sum += sample[what] * (within / whole);
  }
  return sum;
}

/** The first sample that ends after a moment. */
function firstAfter(samples: readonly { ms: number }[], moment: number): number {
  let [low, high] = [0, samples.length];
  while (low < high) {
    const middle = (low + high) >> 1;
    if (samples[middle]!.ms > moment) high = middle;
    else low = middle + 1;
  }
  return low;
}
