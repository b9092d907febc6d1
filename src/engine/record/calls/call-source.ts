import fs from "node:fs";
import { ROW, type RequestRows } from "@/core/recording/request";
import { counted } from "@/core/units/counted";
import type { Native } from "../../lanes/native";
import { Refusal } from "../../refusal";
import type { Source } from "../source";
import { openTrace } from "../trace-instance";
import { CallRecorder } from "./call-recorder";
import { CallEvents, callPoints, type Told } from "./points";

/** Nanoseconds in what a recording counts by (core/recording/request.ts). */
const TICK_NS = 100;

/**
 * What a program, and all that it begins, reads and writes in a folder: for file systems that have no block device,
 * as those of networks. The kernel's trace points of calls tell what is moved and when, and its notes of opened
 * files which call is of which file; neither content nor names are kept.
 *
 * @param process of the work, before it begins; null where there is none
 * @throws Refusal where there is none, no right to, or a kernel that tells nothing of calls
 */
export function callSource(place: string, process: number | null, native: Native): Source {
  const folder = fs.realpathSync(place);
  if (process === null)
    throw new Refusal(
      "not-a-target",
      `${place} is a folder: what a program reads and writes there is recorded while the program works. Name the program behind --.`,
    );
  const points = callPoints();
  if (!points.some(({ name }) => name.startsWith("syscalls/")))
    throw new Refusal(
      "unsupported",
      "This kernel tells nothing of calls (it was built without CONFIG_FTRACE_SYSCALLS). Record the block device instead.",
    );
  const trace = openTrace(points, process);
  try {
    return new Calls(folder, process, trace, native);
  } catch (error) {
    trace.remove();
    throw error;
  }
}

class Calls implements Source {
  readonly beganNs = Number(globalThis.process.hrtime.bigint());
  readonly head: Source["head"];
  readonly lost: () => number;
  readonly stop: () => void;
  private readonly recorder: CallRecorder;
  private readonly events: CallEvents;
  private readonly opens: unknown;
  private lostOpens = 0;
  private named = 0;
  private waiting: Told[] = [];

  constructor(
    folder: string,
    process: number,
    private readonly trace: ReturnType<typeof openTrace>,
    private readonly native: Native,
  ) {
    this.head = { device: folder, drive: mountOf(folder), deviceBytes: null, points: ["syscalls"] };
    this.lost = () => trace.lost() + this.lostOpens;
    this.stop = () => trace.stop();
    this.events = new CallEvents(trace);
    this.recorder = new CallRecorder(folder, process);
    // Stopped, it would keep everyone waiting who opens a file there.
    globalThis.process.on("SIGTSTP", stay);
    this.opens = listenTo(folder, native);
  }

  drain(): RequestRows {
    return this.taken(Number(globalThis.process.hrtime.bigint()), false);
  }

  end(): RequestRows {
    return this.taken(Infinity, true);
  }

  newPrograms(): string[] {
    const names = this.recorder.names.slice(this.named);
    this.named += names.length;
    return names;
  }

  /** Not looked at: a share that does not answer would hold up whoever asks. */
  gone(): null {
    return null;
  }

  missing(): string | null {
    const { mappedFiles } = this.recorder;
    return mappedFiles === 0
      ? null
      : `${counted(mappedFiles, "file")} of the folder ${mappedFiles === 1 ? "was" : "were"} mapped into memory; what was read or written that way is not in the recording.`;
  }

  counted(): Promise<null> {
    return Promise.resolve(null);
  }

  remove(): void {
    globalThis.process.off("SIGTSTP", stay);
    this.native.endOpens(this.opens);
    this.trace.remove();
  }

  /** What came before a moment is all there once every processor's buffer was emptied. */
  private taken(beforeNs: number, all: boolean): RequestRows {
    for (const pipe of this.trace.pipes)
      for (const told of this.events.in(this.native.eventsIn(pipe))) this.waiting.push(told);
    const { opens, lost } = this.native.takeOpens(this.opens);
    this.lostOpens += lost;
    this.recorder.opened(opens);
    this.waiting.sort((a, b) => a.ns - b.ns);
    const end = this.waiting.findIndex(({ ns }) => ns >= beforeNs);
    const ripe = this.waiting.splice(0, end < 0 ? this.waiting.length : end);
    for (const told of ripe) this.recorder.tell(told);
    this.recorder.forgetOthers(beforeNs);
    const rows = this.recorder.take(all);
    for (let i = 0; i < rows.length; i += ROW) {
      rows[i] = Math.max(0, Math.round((rows[i]! - this.beganNs) / TICK_NS));
      rows[i + 1] = Math.round(rows[i + 1]! / TICK_NS);
    }
    return rows;
  }
}

const stay = () => undefined;

function listenTo(folder: string, native: Native): unknown {
  try {
    return native.listenToOpens(folder);
  } catch (error) {
    const { code, message } = error as NodeJS.ErrnoException;
    if (code === "EPERM")
      throw new Refusal("no-permission", "The kernel tells of opened files to the superuser only.");
    throw new Refusal(
      "unsupported",
      `This kernel does not tell which files are opened: ${message}.`,
    );
  }
}

/** What a folder is mounted from, and as what: "depot:/radar, nfs4". */
function mountOf(folder: string): string | null {
  const { dev } = fs.statSync(folder, { bigint: true });
  // Numbers as man 5 proc_pid_mountinfo and makedev(3) have them.
  const major = ((dev >> 8n) & 0xfffn) | ((dev >> 32n) & ~0xfffn);
  const minor = (dev & 0xffn) | ((dev >> 12n) & ~0xffn);
  const lines = fs.readFileSync("/proc/self/mountinfo", "utf8").split("\n");
  const line = lines.findLast((one) => one.split(" ")[2] === `${major}:${minor}`);
  const [type, source] = line?.split(" - ")[1]?.split(" ") ?? [];
  return type ? `${source}, ${type}` : null;
}
