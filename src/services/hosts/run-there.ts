import { orderOfJob } from "@/core/exchange/job-order";
import { ProgramEvents } from "@/core/exchange/program-events";
import { EngineEvent, type Job, type RecordJob, type Sweep } from "@/core/run/protocol";
import { FOUND } from "@/engine/away/run-folder";
import type { EngineReady, ProgramReady, ReadyHost } from "./ready";
import { commandOf } from "./ssh";
import { HostProblem } from "./trouble";

/** The status of follow.sh where the program began no run: it says why on standard error. */
const NOT_BEGUN = 4;

/** What may be asked of a host. */
type HostJob = Job | Sweep | RecordJob;

/** How a run is begun and followed on a host. */
export interface RunThere {
  /** Follows the run of a folder from a line on, and begins it where there is none yet. */
  command(folder: string, from: number): string;
  /** Is sent first. */
  order: string;
  /** What a line tells. */
  heard(document: unknown): EngineEvent[];
  /** Why the run was refused, by how the command ended; null where it was not. */
  refusal(status: number, complaint: string): string | null;
}

/**
 * @param job what is to be done; null for a run that was begun before
 * @throws HostProblem where the host cannot do that
 */
export const runThere = (ready: ReadyHost, job: HostJob | null): RunThere =>
  ready.by === "engine" ? byEngine(ready, job) : byProgram(ready, job);

const byEngine = ({ node, engine }: EngineReady, job: HostJob | null): RunThere => ({
  command: (folder, from) =>
    commandOf(["exec", node, engine, "follow", folder, String(from), ...(job ? [] : [FOUND])]),
  order: `${JSON.stringify(job)}\n`,
  heard(document) {
    const event = EngineEvent.safeParse(document);
    return event.success ? [event.data] : []; // of no kind that is known; the next ones stand for themselves
  },
  refusal: () => null,
});

function byProgram({ host, program, follow }: ProgramReady, job: HostJob | null): RunThere {
  if (job && "record" in job)
    throw new HostProblem(
      "lacks",
      `${host} has no Node, and recording needs the measuring process.`,
    );
  const events = new ProgramEvents(job && "program" in job ? job.program : null);
  const last = job ? [] : [FOUND];
  return {
    command: (folder, from) =>
      commandOf(["exec", "sh", follow, program, folder, String(from), ...last]),
    order: job && "program" in job ? orderLines(host, job) : "\n\n\n\n",
    heard: (document) => events.take(document),
    refusal: (status, complaint) =>
      status === NOT_BEGUN ? complaint.replace(/^nerrit-measure: /gm, "").trim() : null,
  };
}

/** The folder, which way and where the other end of a copy is, and the order: a line each. */
function orderLines(host: string, job: Job): string {
  try {
    const { text, target, other } = orderOfJob(job);
    const lines = [target, other?.way ?? "", other?.path ?? "", text];
    if (lines.some((line) => line.includes("\n"))) throw new RangeError("a path has several lines");
    return lines.map((line) => `${line}\n`).join("");
  } catch (error) {
    if (!(error instanceof RangeError)) throw error;
    throw new HostProblem("lacks", `${host} has no Node, and ${error.message}.`);
  }
}
