import { createInterface } from "node:readline";
import { setTimeout as sleep } from "node:timers/promises";
import { countersQuestion, LookReader, type HostLook } from "@/core/host/counters";
import { startOn, type Remote } from "./ssh";
import type { HostTrouble } from "./trouble";

/** Before a line that was cut is tried again. */
const AGAIN_MS = 2000;
/** Looks come every second; after so long without one the line is taken for cut. */
const SILENCE_MS = 15_000;
/** What a host's shell does at a login may take so long before the first look. */
const LOGIN_MS = 60_000;

/**
 * Follows the counters of a host that needs no more than a shell.
 *
 * @param names drives and interfaces there
 * @param heard told each look, in order
 * @param troubled told whenever the line is cut; what is counted goes on there, so nothing is missing afterwards
 * @returns ends it
 */
export function followCounters(
  host: string,
  names: readonly string[],
  heard: (look: HostLook) => void,
  troubled: (trouble: HostTrouble) => void,
): () => void {
  let remote: Remote | null = null;
  let isOver = false;
  const command = `exec sh -c '${countersQuestion(names)}'`;
  void (async () => {
    while (!isOver) {
      remote = startOn(host, command);
      const { child, ended } = remote;
      let silent = setTimeout(() => child.kill("SIGKILL"), LOGIN_MS);
      const reader = new LookReader();
      createInterface({ input: child.stdout }).on("line", (line) => {
        const look = reader.take(line);
        if (!look || isOver) return;
        clearTimeout(silent);
        silent = setTimeout(() => child.kill("SIGKILL"), SILENCE_MS);
        heard(look);
      });
      const end = await ended;
      clearTimeout(silent);
      if (isOver) return;
      troubled(
        end.status === null
          ? end.trouble
          : {
              code: "broken",
              reason: `The shell on ${host} ended. ${end.complaint.slice(-200)}`.trim(),
            },
      );
      await sleep(AGAIN_MS);
    }
  })();
  return () => {
    isOver = true;
    remote?.child.kill();
  };
}
