import fsp from "node:fs/promises";
import { getSystemErrorName } from "node:util";
import { laneError, type Lanes } from "../lanes/lanes";
import { RunFailure } from "../refusal";
import type { Target } from "./target";

/**
 * Watches whether a target is still there. A drive that was unplugged or a directory that was removed
 * must not be measured on; one that does not answer at all must not hold up the sampling either, so
 * nothing waits for the answer.
 */
export class Presence {
  private asking = false;
  private gone = false;

  constructor(private readonly target: Target) {}

  /** Looks again, in the background. @throws RunFailure where the last look found nothing */
  check(): void {
    const { path, identity } = this.target;
    if (this.gone) {
      throw new RunFailure(
        `${path} went away during the run: it was removed or replaced, or its drive was unplugged or unmounted.`,
      );
    }
    if (this.asking) return;
    this.asking = true;
    fsp
      .lstat(path)
      .then(
        (stat) => {
          const device = stat.isSymbolicLink() && this.target.kind === "device";
          this.gone = !device && (stat.ino !== identity.ino || stat.dev !== identity.dev);
        },
        () => (this.gone = true),
      )
      .finally(() => (this.asking = false));
  }
}

/** @throws RunFailure in plain words where a lane's request failed */
export function throwLaneError(
  lanes: Pick<Lanes, "counters">,
  target: Target,
  doing: string,
): void {
  const number = laneError(lanes);
  if (number) throw failureOf(number, target, doing);
}

/** What an error number means for a run. */
export function failureOf(number: number, target: Target, doing: string): RunFailure {
  const name = getSystemErrorName(-number);
  const device = target.deviceName ? ` (${target.deviceName})` : "";
  return new RunFailure(
    name === "ENOSPC"
      ? `The drive of ${target.path}${device} filled up while ${doing}. What was being written is removed again; free some space, or ask for less.`
      : `The system reported ${name} while ${doing} on ${target.path}${device}: the drive failed, was unplugged, or refused the request.`,
  );
}
