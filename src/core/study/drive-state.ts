import type { Conditions } from "../run/result";

/** States of a drive that last until somebody does something about them, and that slow its writing. */
export type LastingState = "fill" | "writeCache";

/**
 * From this share in use on a flash drive has little left that it could have erased in advance, and
 * writes at the rate at which it clears; below it that shows only after long writing.
 */
const NEARLY_FULL = 0.9;
/** What the kernel calls a cache that answers only when the medium has it (sysfs, queue/write_cache). */
const CACHE_OFF = "write through";

/** The states that a run was made in, as far as the system told them. */
export function lastingStates(conditions: Conditions | null | undefined): LastingState[] {
  const { freeBytes = null, deviceBytes = null, writeCache = null } = conditions ?? {};
  const used = freeBytes !== null && deviceBytes ? 1 - freeBytes / deviceBytes : 0;
  return [
    ...(used >= NEARLY_FULL ? (["fill"] as const) : []),
    ...(writeCache === CACHE_OFF ? (["writeCache"] as const) : []),
  ];
}

/** A core that was so busy before a run, as a share of its time, was busy with other programs. */
const BUSY_BEFORE = 0.8;
/** Where nobody looked at the cores: the system's load a core from which on it was not idle. */
const LOADED = 0.5;

/** Whether other programs kept the host busy just before a run, as far as the system told. */
export function wasHostBusy(conditions: Conditions | null | undefined): boolean {
  const { busiestCoreBefore, loadAtStart = 0, cores = 1 } = conditions ?? {};
  return typeof busiestCoreBefore === "number"
    ? busiestCoreBefore >= BUSY_BEFORE
    : loadAtStart > LOADED * Math.max(1, cores);
}
