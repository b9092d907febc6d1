import * as z from "zod";
import { isCoreFull } from "./full-core";
import { formatPercent } from "../units/number";

const share = z.number().min(0).max(1);

/** How busy a host was while it was looked at. */
export const HostLoad = z.object({
  seconds: z.number().nonnegative(),
  /** The core that was busiest on the whole, and its shares; null where nothing was seen of the cores. */
  core: z
    .object({ number: z.number().int().nonnegative(), now: share, mean: share, peak: share })
    .nullable(),
  /** Most of its memory that was in use; null where that is not said. */
  memory: share.nullable(),
});
export type HostLoad = z.infer<typeof HostLoad>;

/** A host that is watched, as it stands now. */
export const WatchedHostLoad = z.object({
  host: z.string(),
  load: HostLoad,
  /** Why nothing is heard of it; null while something is. */
  trouble: z.string().nullable(),
});
export type WatchedHostLoad = z.infer<typeof WatchedHostLoad>;

/** Whether a host's busiest core had no time left: what goes through the host goes no faster. */
export const isHostFull = ({ core }: HostLoad): boolean =>
  core !== null && isCoreFull({ busiestCore: core.mean });

/** How busy a host is now and was before, in a line; empty where nothing is known of that. */
export function loadNowWords(load: HostLoad): string {
  const { core, memory } = load;
  if (!core || isHostFull(load)) return loadWords(load);
  const { number, now, mean, peak } = core;
  return [
    `core ${number} is ${formatPercent(now)} busy now, ${formatPercent(mean)} in the mean, ${formatPercent(peak)} in its busiest second`,
    ...(memory === null ? [] : [`${formatPercent(memory)} of its memory is in use`]),
  ].join("; ");
}

/** How busy a host was, in a line; empty where nothing is known of that. */
export function loadWords(load: HostLoad): string {
  const { core, memory } = load;
  const used = memory === null ? [] : [`${formatPercent(memory)} of its memory was in use`];
  if (!core) return used.join("");
  const full = isHostFull(load)
    ? "had no time left: what goes through this host goes no faster"
    : `was busy ${formatPercent(core.mean)} of the time, ${formatPercent(core.peak)} in its busiest second`;
  return [`core ${core.number} ${full}`, ...used].join("; ");
}
