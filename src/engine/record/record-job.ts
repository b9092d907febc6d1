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
  const { status } = await record({
    ...asked,
    out,
    from: os.homedir(),
    stop,
    tell: (requests) => tell({ event: "recording", requests }),
  });
  tell({ event: "recorded", bytes: fs.statSync(out).size, status });
  return { event: "done" };
}
