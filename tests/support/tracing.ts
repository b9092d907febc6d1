import fs from "node:fs";
import path from "node:path";
import { tracingFolder } from "@/engine/record/trace-instance";

/** Why requests cannot be recorded here; null where they can. */
export function whyNoTracing(): string | null {
  try {
    const points = ["block_io_start", "block_rq_issue"];
    const there = points.some((point) =>
      fs.existsSync(path.join(tracingFolder(), "events/block", point)),
    );
    return there ? null : "needs a kernel that tells of requests";
  } catch (error) {
    return (error as Error).message;
  }
}

/** Whether a recorder's own instance of the kernel's tracing is there. @param pid of the recorder */
export const hasInstance = (pid: number): boolean =>
  fs
    .readdirSync(path.join(tracingFolder(), "instances"))
    .some((name) => name.startsWith(`nerrit-record-${pid}-`));
