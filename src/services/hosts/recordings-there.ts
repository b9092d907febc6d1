import fs from "node:fs";
import type { Job } from "@/core/run/protocol";
import { keepThere } from "./keep-there";
import type { ReadyHost } from "./ready";

/**
 * Puts the recordings that a job does again onto a host, each once.
 *
 * @returns the job with their places there
 * @throws HostProblem where one cannot be put there
 */
export async function withRecordings({ host, facts }: ReadyHost, job: Job): Promise<Job> {
  const recordings: Job["recordings"] = {};
  for (const [sha256, file] of Object.entries(job.recordings)) {
    const name = `recording-${sha256.slice(0, 16)}`;
    const bytes = fs.readFileSync(/* turbopackIgnore: true */ file);
    recordings[sha256] = await keepThere(host, facts, { name, bytes, what: "The recording" });
  }
  return { ...job, recordings };
}
