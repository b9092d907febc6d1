import { execFileSync } from "node:child_process";
import { preload } from "./preload";

/** The surroundings of a process whose clock of the day is set back by an hour after so many seconds. */
export const clockThatJumps = (seconds: number): Record<string, string> => ({
  LD_PRELOAD: preload("clock.c"),
  CLOCK_JUMPS_AFTER: String(seconds),
});

/** Why a program's clock cannot be set back here; null where it can. */
export function whyNoClock(): string | null {
  // The first look comes well before the jump, also where the machine is busy.
  const ask =
    "const a = Date.now(); setTimeout(() => console.log(Date.now() - a), 3000 - performance.now())";
  try {
    const env = { ...process.env, ...clockThatJumps(2) };
    const moved = Number(execFileSync(process.execPath, ["-e", ask], { env, encoding: "utf8" }));
    return moved < -3_000_000 ? null : "the runtime asks its clock in another way";
  } catch (error) {
    return `needs a C compiler (${String(error).split("\n")[0]})`;
  }
}
