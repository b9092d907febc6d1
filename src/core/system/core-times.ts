/** Busy and total time of each core since the system came up, in clock ticks. */
export type CoreTimes = { busy: number; total: number }[];

/** Reads the per-core lines of /proc/stat (proc(5)): user nice system idle iowait irq softirq steal. */
export function parseCoreTimes(stat: string): CoreTimes {
  return stat
    .split("\n")
    .filter((line) => /^cpu\d/.test(line))
    .map((line) => {
      const ticks = line.split(/\s+/).slice(1, 9).map(Number);
      const total = ticks.reduce((sum, t) => sum + t, 0);
      return { busy: total - ticks[3]! - ticks[4]!, total };
    });
}

/** Share of time, 0 to 1, that each core was busy between two readings; what did not run is left out. */
export const coreShares = (before: CoreTimes, after: CoreTimes): number[] =>
  after.flatMap((core, i) => {
    const total = core.total - (before[i]?.total ?? core.total);
    return total > 0 ? [Math.max(0, Math.min(1, (core.busy - before[i]!.busy) / total))] : [];
  });

/** Share of time, 0 to 1, that the busiest core was busy between two readings; null if unknown. */
export function busiestCore(before: CoreTimes, after: CoreTimes): number | null {
  const shares = coreShares(before, after);
  return shares.length > 0 ? Math.max(...shares) : null;
}

/** Share of the machine's processor time, 0 to 1, that anything used between two readings; null if unknown. */
export function shareBusy(before: CoreTimes, after: CoreTimes): number | null {
  const sum = (times: CoreTimes, pick: (core: CoreTimes[number]) => number) =>
    times.reduce((total, core) => total + pick(core), 0);
  const total = sum(after, (core) => core.total) - sum(before, (core) => core.total);
  if (total <= 0) return null;
  return Math.min(1, (sum(after, (core) => core.busy) - sum(before, (core) => core.busy)) / total);
}
