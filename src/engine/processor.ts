import fs from "node:fs";
import { setTimeout as sleep } from "node:timers/promises";

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

/** Core times now; empty where the system does not say. */
export function readCoreTimes(): CoreTimes {
  try {
    return parseCoreTimes(fs.readFileSync("/proc/stat", "utf8"));
  } catch {
    return [];
  }
}

/** Share of time, 0 to 1, that the busiest core was busy between two readings; null if unknown. */
export function busiestCore(before: CoreTimes, after: CoreTimes): number | null {
  const shares = after.flatMap((core, i) => {
    const total = core.total - (before[i]?.total ?? core.total);
    return total > 0 ? [Math.min(1, (core.busy - before[i]!.busy) / total)] : [];
  });
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

/** Long enough for some forty of the kernel's clock ticks, short enough that nobody waits for it. */
const LOOK_MS = 400;

/** The busiest core's share of time not idle, 0 to 1, while this process waits; null if unknown. */
export async function busiestCoreNow(): Promise<number | null> {
  const before = readCoreTimes();
  await sleep(LOOK_MS);
  return busiestCore(before, readCoreTimes());
}
