import { createHash } from "node:crypto";
import fs from "node:fs";
import os from "node:os";
import path from "node:path";
import type { PlanRoom } from "@/services/plans/plan-file";
import { recordedFrom } from "@/services/elsewhere/runs-file";
import { measurementsOf } from "@/services/studies/studies";
import type { PlanFile } from "@/core/exchange/plan-file";
import { runsFile } from "@/core/exchange/runs-file";
import { stateFolder } from "@/engine/state-folder";
import { writeAgain } from "../measuring/out-file";

/** Where a plan's runs lie until all of them stand in its file: the same for the same plan and file. */
export function folderFor(asked: PlanFile, out: string): string {
  const name = createHash("sha256")
    .update(JSON.stringify([asked, path.resolve(out)]))
    .digest("hex")
    .slice(0, 24);
  const folder = path.join(stateFolder("plans"), name);
  try {
    fs.mkdirSync(path.dirname(folder), { recursive: true, mode: 0o700 });
    fs.accessSync(path.dirname(folder), fs.constants.W_OK);
    return folder;
  } catch {
    return path.join(os.tmpdir(), `nerrit-plan-${name}`);
  }
}

/** The file that a plan's runs are written to, each as it ends. */
export class RunsKept {
  private written = 0;
  /** Why the runs so far could not be written; null where they stand in the file. */
  trouble: string | null = null;

  constructor(
    private readonly room: PlanRoom,
    private readonly file: string | null,
  ) {}

  /** Writes all runs that ended, where there are more of them than in the file; never throws. */
  write(): void {
    if (this.file === null) return;
    const { store, studyId } = this.room;
    const ended = measurementsOf(store, studyId)
      .toReversed()
      .filter(({ runs, status }) => runs.length > 0 && status !== "running");
    if (ended.length === this.written && !this.trouble) return;
    try {
      writeAgain(this.file, runsFile(ended.map(({ id }) => recordedFrom(store, id))));
      this.written = ended.length;
      this.trouble = null;
    } catch (error) {
      const { message } = error as Error;
      if (!this.trouble) process.stderr.write(`${message}; the plan goes on\n`);
      this.trouble = message;
    }
  }
}
