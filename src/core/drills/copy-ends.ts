import type { Drill } from "./drill";

/**
 * The two ends of a copy, by the drill's direction: a drill that reads copies away from the rig's drive,
 * one that writes copies to that drive.
 *
 * @param targets of the run: the rig's drive first, then the other end where there is one
 * @returns null for an end that lies on no target: files that are made up, or bytes that are only read
 */
export function copyEnds(
  targets: readonly string[],
  direction: Drill["direction"],
): { from: string | null; to: string | null } {
  const [here = null, other = null] = targets;
  return direction === "read" ? { from: here, to: other } : { from: other, to: here };
}

/** A side counts as the one that was waited for from a twentieth of the time on, and twice the other. */
export function waitedFor(fromMs: number, toMs: number, ms: number): "from" | "to" | "neither" {
  const [more, less] = [Math.max(fromMs, toMs), Math.min(fromMs, toMs)];
  if (more < ms / 20 || more < 2 * less) return "neither";
  return fromMs > toMs ? "from" : "to";
}
