import type { DrillDirection } from "@/core/drills/kind";

/** Which way a drill moves data, in words. */
export const WAYS: Record<DrillDirection, string> = {
  read: "reading",
  write: "writing",
  mixed: "reading and writing",
};
