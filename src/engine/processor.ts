import fs from "node:fs";
import { setTimeout as sleep } from "node:timers/promises";
import { busiestCore, parseCoreTimes, type CoreTimes } from "@/core/system/core-times";

/** Core times now; empty where the system does not say. */
export function readCoreTimes(): CoreTimes {
  try {
    return parseCoreTimes(fs.readFileSync("/proc/stat", "utf8"));
  } catch {
    return [];
  }
}

/** Long enough for some forty of the kernel's clock ticks, short enough that nobody waits for it. */
const LOOK_MS = 400;

/** The busiest core's share of time not idle, 0 to 1, while this process waits; null if unknown. */
export async function busiestCoreNow(): Promise<number | null> {
  const before = readCoreTimes();
  await sleep(LOOK_MS);
  return busiestCore(before, readCoreTimes());
}
