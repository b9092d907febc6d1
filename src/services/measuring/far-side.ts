import type { FarReading } from "@/core/run/far-host";
import type { FollowFarHost } from "../hosts/far-host";
import { keepMoment, keepReading, momentNow, noted, type Active } from "./active";
import type { Keeper } from "./keeper";

/** Follows a far host; null where that is no host of the bench. */
export type FollowFar = (...asked: Parameters<FollowFarHost>) => ReturnType<FollowFarHost> | null;

/** Keeps what the far host does with the runs of a measurement. @returns ends it; null where it is not followed */
export const followFarSide = (
  active: Active,
  keeper: Keeper,
  farHost: string,
  follow: FollowFar,
): (() => void) | null =>
  follow(
    farHost,
    (far, agoMs) => hear(active, keeper, far, agoMs),
    (text) => say(active, keeper, text),
  );

/** Before a run's first counted moment it says nothing of the run. */
function hear(active: Active, keeper: Keeper, far: FarReading, agoMs: number): void {
  const { run } = active;
  if (!run?.at) return;
  const ms = momentNow(run) - agoMs;
  if (ms < 0) return;
  keepReading(active, keeper, { ms, engine: null, machine: null, celsius: {}, far });
}

/** What is said before a run begins stands at its beginning; that all is well again takes it back. */
function say(active: Active, keeper: Keeper, text: string): void {
  const { run } = active;
  if (run) keepMoment(active, keeper, noted(momentNow(run), text));
  else active.saidOfFar = active.saidOfFar ? null : text;
}
