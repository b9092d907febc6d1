import type { Origin } from "@/core/study/measurement";
import type { RunStatus } from "@/core/drills/request";

/** How a measurement or a run stands, in words. */
export const STATUS_WORDS: Record<RunStatus, string> = {
  preparing: "preparing",
  running: "measuring",
  done: "done",
  stopped: "stopped by you",
  refused: "refused",
  failed: "failed",
  interrupted: "interrupted",
};

/** How it stands; where it does not come from the engine here, where it comes from. */
export const stateOf = ({ origin, status }: { origin: Origin; status: RunStatus }): string =>
  origin === "measured"
    ? STATUS_WORDS[status]
    : status === "done"
      ? origin
      : `${origin}, ${STATUS_WORDS[status]}`;
