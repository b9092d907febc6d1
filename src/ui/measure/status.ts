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
