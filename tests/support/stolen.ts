import fs from "node:fs";
import { setTimeout as sleep } from "node:timers/promises";

/**
 * Seconds of processor time that other guests of the same host took from this machine since it came up
 * (steal, proc(5)); 0 where the machine is nobody's guest.
 */
export function stolenSeconds(): number {
  const ticks = fs.readFileSync("/proc/stat", "utf8").split("\n")[0]!.split(/\s+/);
  return Number(ticks[8] ?? 0) / 100;
}

/** Waits until nothing was stolen for a while, two minutes at most. */
export async function nothingStolen(): Promise<void> {
  let before = stolenSeconds();
  for (let i = 0; i < 40; i++) {
    await sleep(3000);
    const now = stolenSeconds();
    if (now - before < 0.03) return;
    before = now;
  }
}
