import fs from "node:fs";
import os from "node:os";
import path from "node:path";
import type { EngineEvent, RecordJob } from "@/core/run/protocol";
import type { Outside } from "../outside";
import { RECORDING } from "../away/run-folder";
import { record } from "./record";

/**
 * Records on a host for whoever follows: into the run's folder, in which this process is. The work begins in the
 * user's home, as whatever is typed there does.
 *
 * @throws Refusal, RunFailure
 */
export async function recordJob(
  { record: asked }: RecordJob,
  { tell, stop }: Pick<Outside, "tell" | "stop">,
): Promise<EngineEvent> {
  const out = path.resolve(RECORDING);
  let status: number | null = null;
  try {
    const told = (requests: number) => tell({ event: "recording", requests });
    ({ status } = await record({ ...asked, out, from: os.homedir(), stop, tell: told }));
    return { event: "done" };
  } finally {
    // What could not be recorded to its end is worth having until there.
    const found = fs.statSync(out, { throwIfNoEntry: false });
    if (found) tell({ event: "recorded", bytes: found.size, status });
  }
}
