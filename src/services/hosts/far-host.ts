import { setTimeout as sleep } from "node:timers/promises";
import { farReading, type HostLook } from "@/core/host/counters";
import type { FarReading } from "@/core/run/far-host";
import { askCounted } from "./ask-counted";
import { followCounters } from "./follow-counters";
import { HostProblem } from "./trouble";

/** More drives and interfaces than a host that serves a share has. */
const MOST_COUNTED = 32;
/** Before a host that did not answer is asked again. */
const AGAIN_MS = 5000;

/** Follows the far host of a share; what it did is told with how long ago that was, milliseconds. @returns ends it */
export type FollowFarHost = (
  host: string,
  heard: (reading: FarReading, agoMs: number) => void,
  said: (text: string) => void,
) => () => void;

/**
 * Follows what the host does that serves a share: its cores, its memory, and every drive and interface that it
 * counts. A shell there is enough; some two kilobytes a second cross the network for it.
 *
 * @param heard told what each second brought
 * @param said told in words when the host cannot be looked at, and when it can again
 */
export const followFarHost: FollowFarHost = (host, heard, said) => {
  let isOver = false;
  let isOut = false;
  let end = () => {
    isOver = true;
  };
  const troubled = (reason: string) => {
    if (!isOut) said(`The far host ${host} cannot be looked at. ${reason}`);
    isOut = true;
  };
  void (async () => {
    const names = await namesOn(host, troubled, () => isOver);
    if (isOver) return;
    let before: HostLook | null = null;
    /** From the host's own time to this process's, by the look that came the fastest. */
    let ahead = Infinity;
    end = followCounters(
      host,
      names,
      (look) => {
        if (isOut) said(`The far host ${host} is looked at again.`);
        isOut = false;
        // A line that the share itself fills carries looks late: the host's own clock says when each was taken.
        const arrived = performance.now();
        if (before && look.upMs < before.upMs) ahead = Infinity;
        ahead = Math.min(ahead, arrived - look.upMs);
        const reading = before && farReading(host, before, look);
        before = look;
        if (reading) heard(reading, arrived - look.upMs - ahead);
      },
      ({ reason }) => troubled(reason),
    );
  })();
  return () => end();
};

/** What a host counts; it is asked until it answers. */
async function namesOn(
  host: string,
  troubled: (reason: string) => void,
  isOver: () => boolean,
): Promise<string[]> {
  while (!isOver()) {
    try {
      const counted = await askCounted(host);
      return counted.map(({ name }) => name).slice(0, MOST_COUNTED);
    } catch (error) {
      troubled(error instanceof HostProblem ? error.message : String(error));
      await sleep(AGAIN_MS);
    }
  }
  return [];
}
