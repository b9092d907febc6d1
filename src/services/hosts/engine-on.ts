import { createInterface } from "node:readline";
import { setTimeout as sleep } from "node:timers/promises";
import type { EngineEvent, Job, RecordJob, Sweep } from "@/core/run/protocol";
import type { Touch } from "@/core/run/touch";
import { DIED, goLine, STOP, TAKEN } from "@/engine/away/run-folder";
import type { EngineEnd, EngineProcess } from "../measuring/engine-process";
import type { ReadyHost } from "./ready";
import { withRecordings } from "./recordings-there";
import { runThere, type RunThere } from "./run-there";
import { startOn, type Remote, type RemoteEnd } from "./ssh";
import { HostProblem } from "./trouble";

/** A line that carries says so every five seconds; after so long without a word it is taken for cut. */
const SILENCE_MS = 20_000;
/** Between two tries to come back: at first, at most. */
const FIRST_MS = 500;
const MOST_MS = 15_000;
/** The run there ends by itself after an hour alone; its file is fetched a little longer. */
const GIVE_UP_MS = 3_900_000;

/** Failures that no waiting mends. */
const FINAL = new Set(["key-refused", "host-key-changed", "host-key-unknown"]);

/** A run on a host. */
export interface HostRun {
  /** Names its folder there. */
  id: string;
  /** What is to be done; null for a run that was begun before, and of which everything is to come again. */
  job: Job | Sweep | RecordJob | null;
  /** Fetches what lies in the run's folder once the run is over, before the folder goes; tried until it works. */
  fetch?: (folder: string) => Promise<void>;
}

/**
 * Starts the measuring process on a host. The run there does not hang on the line: where it is cut, what was told
 * meanwhile comes once the host is reached again, once and in order.
 *
 * @param tell called with every event but the last, in order
 * @param touched told when the line is cut, and when it carries again
 */
export function startEngineOn(
  ready: ReadyHost,
  hostRun: HostRun,
  tell: (event: EngineEvent) => void,
  touched: (touch: Touch) => void = () => undefined,
): EngineProcess {
  try {
    const run = new RunOn(ready, hostRun, tell, touched);
    return { stop: () => run.stop(), go: (repeat) => run.go(repeat), ended: run.ended() };
  } catch (error) {
    if (!(error instanceof HostProblem)) throw error;
    const { code, message: reason } = error;
    const nothing = () => undefined;
    const ended = Promise.resolve({ kind: "refused", code, reason } as const);
    return { stop: nothing, go: nothing, ended };
  }
}

class RunOn {
  private readonly folder: string;
  /** The number of the line that comes next. */
  private next = 0;
  private end: EngineEnd | null = null;
  private isStopping = false;
  /** What lets a repeat begin; said again after each cut. */
  private goes = "";
  private isOut = false;
  private isTaken = false;
  private remote: Remote | null = null;
  private heard = Date.now();
  private there: RunThere;
  private isFetched: boolean;

  constructor(
    private readonly ready: ReadyHost,
    private readonly hostRun: HostRun,
    private readonly tell: (event: EngineEvent) => void,
    private readonly touched: (touch: Touch) => void,
  ) {
    this.folder = `${ready.runs}/${hostRun.id}`;
    this.there = runThere(ready, hostRun.job);
    this.isFetched = hostRun.fetch === undefined;
  }

  stop(): void {
    this.isStopping = true;
    this.remote?.child.stdin.write(`${STOP}\n`);
  }

  go(repeat: number): void {
    this.goes = goLine(repeat);
    this.remote?.child.stdin.write(this.goes);
  }

  async ended(): Promise<EngineEnd> {
    const { job } = this.hostRun;
    if (job && "recordings" in job && Object.keys(job.recordings).length > 0) {
      try {
        this.there = runThere(this.ready, await withRecordings(this.ready, job));
      } catch (error) {
        const { code = "not-sent", message } = error as Error & { code?: string };
        return { kind: "refused", code, reason: message };
      }
    }
    return this.followed();
  }

  private async followed(): Promise<EngineEnd> {
    let pause = FIRST_MS;
    for (;;) {
      const before = this.next;
      const end = await this.listen();
      if (this.end) {
        await this.fetched();
        // The line was cut as the run ended: its folder may still be there.
        if (!this.isTaken) await this.listen();
        return this.end;
      }
      if (end.status !== null) return this.brokenOff(end.status, end.complaint);
      const { code, reason } = end.trouble;
      if (FINAL.has(code)) return { kind: this.next > 0 ? "interrupted" : "failed", reason };
      if (Date.now() - this.heard > GIVE_UP_MS)
        return {
          kind: "interrupted",
          reason: `For an hour ${this.ready.host} was not reached. ${reason}`,
        };
      if (!this.isOut) this.touched({ host: this.ready.host, outSince: this.heard, reason });
      this.isOut = true;
      if (this.isStopping && Date.now() - this.heard > SILENCE_MS)
        return { kind: "interrupted", reason: this.alone(reason) };
      pause = this.next > before ? FIRST_MS : Math.min(2 * pause, MOST_MS);
      await sleep(this.isStopping ? FIRST_MS : pause);
    }
  }

  private alone(reason: string): string {
    return `${this.ready.host} is out of touch, so the run there could not be stopped. It ends by itself within an hour, and leaves nothing on the drive. ${reason}`;
  }

  private brokenOff(status: number, complaint: string): EngineEnd {
    const reason = this.there.refusal(status, complaint);
    return reason === null
      ? { kind: "interrupted", reason: this.gone(complaint) }
      : { kind: "refused", code: "program", reason: `${this.ready.host}: ${reason}` };
  }

  private gone(complaint: string): string {
    const { host } = this.ready;
    const what =
      this.next === 0
        ? `The measuring process could not be started on ${host}.`
        : `The measuring process on ${host} ended before the run was over: it was ended, or ${host} was started anew.`;
    return `${what} ${complaint.slice(-500)}`.trim();
  }

  /** Follows the run until the line is cut, or the run is over. */
  private async listen(): Promise<RemoteEnd> {
    const { host } = this.ready;
    // After the end only its last line is asked for again, to be taken.
    const from = this.end ? this.next - 1 : this.next;
    const remote = startOn(host, this.there.command(this.folder, from));
    this.remote = remote;
    remote.child.stdin.write(
      `${this.there.order}${this.goes}${this.isStopping ? `${STOP}\n` : ""}`,
    );
    let word = Date.now();
    let isSilent = false;
    const watch = setInterval(() => {
      if (Date.now() - word < SILENCE_MS) return;
      isSilent = true;
      remote.child.kill("SIGKILL");
    }, 1000);
    remote.child.stdout.on("data", () => (word = this.heard = Date.now()));
    const lines = createInterface({ input: remote.child.stdout });
    lines.on("line", (line) => this.take(line, remote));
    const end = await remote.ended;
    clearInterval(watch);
    this.remote = null;
    // Whoever follows the run there ends well where its line was cut, and that may still get through.
    if (!isSilent && end.status !== 0) return end;
    const reason = isSilent
      ? `Nothing was heard of ${host} for ${SILENCE_MS / 1e3} s.`
      : `The line to ${host} ended.`;
    return { status: null, trouble: { code: "broken", reason } };
  }

  private take(line: string, remote: Remote): void {
    const found = /^(\d+) (\{.*)$/.exec(line);
    if (this.end) return void (this.isFetched && this.taken(remote));
    if (line === DIED) {
      this.end = { kind: "interrupted", reason: this.gone("") };
      return this.afterEnd(remote);
    }
    if (!found || Number(found[1]) !== this.next) return;
    const document = parsed(found[2]!);
    if (document === null) return void remote.child.kill(); // cut in its middle: it comes again
    this.next += 1;
    if (this.isOut) this.touched({ host: this.ready.host, outSince: null, reason: null });
    this.isOut = false;
    for (const told of this.there.heard(document)) {
      if (told.event === "done" || told.event === "stopped") this.end = { kind: told.event };
      else if (told.event === "refused") this.end = { ...told, kind: "refused" };
      else if (told.event === "failed") this.end = { ...told, kind: "failed" };
      else this.tell(told);
    }
    if (this.end) this.afterEnd(remote);
  }

  private afterEnd(remote: Remote): void {
    if (this.isFetched) this.taken(remote);
    else remote.child.stdin.end(); // what lies there is fetched first
  }

  /** Fetches what is to be fetched; a line that is cut meanwhile is waited for. */
  private async fetched(): Promise<void> {
    for (let pause = FIRST_MS; !this.isFetched; pause = Math.min(2 * pause, MOST_MS)) {
      try {
        await this.hostRun.fetch!(this.folder);
        this.isFetched = true;
      } catch (error) {
        const { host } = this.ready;
        const reason = (error as Error).message;
        if (!(error instanceof HostProblem) || Date.now() - this.heard > GIVE_UP_MS) {
          const kept = `What was recorded is still in ${this.folder} on ${host}.`;
          this.end = { kind: "failed", reason: `${reason} ${kept}` };
          this.isFetched = this.isTaken = true;
          return;
        }
        if (!this.isOut) this.touched({ host, outSince: Date.now(), reason });
        this.isOut = true;
        await sleep(pause);
      }
    }
    if (this.isOut) this.touched({ host: this.ready.host, outSince: null, reason: null });
    this.isOut = false;
  }

  /** Nothing is needed there any more. */
  private taken(remote: Remote): void {
    remote.child.stdin.end(`${TAKEN}\n`);
    void remote.ended.then(({ status }) => (this.isTaken ||= status === 0));
  }
}

function parsed(text: string): unknown {
  try {
    return JSON.parse(text);
  } catch {
    return null;
  }
}
