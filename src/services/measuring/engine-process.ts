import { spawn } from "node:child_process";
import path from "node:path";
import { createInterface } from "node:readline";
import { goLine } from "@/engine/away/run-folder";
import { EngineEvent, type BallastJob, type Job, type Sweep } from "@/core/run/protocol";

/** How a measuring process ended. */
export type EngineEnd =
  | { kind: "done" | "stopped" }
  | { kind: "refused"; code: string; reason: string }
  | { kind: "failed" | "interrupted"; reason: string };

export interface EngineProcess {
  /** Asks it to stop; it ends within a moment and cleans up after itself. */
  stop(): void;
  /** Lets a repeat begin that waits for it (Job.gated). */
  go(repeat: number): void;
  ended: Promise<EngineEnd>;
}

/** How long a process may take to end after it said how its run ended. */
const GRACE_MS = 4000;

/**
 * Where the bundled measuring process lies, for a program that runs in the project's folder; NERRIT_ENGINE
 * names a stand-in (scripts/benchmarks/stand-in-engine.mjs).
 */
const BUNDLED =
  process.env.NERRIT_ENGINE ||
  path.join(/* turbopackIgnore: true */ process.cwd(), "dist", "engine.mjs");

/**
 * Starts a measuring process on a job.
 *
 * Its input is kept open for as long as this process lives: when the parent dies the process reads
 * the end of its input, stops and cleans up.
 *
 * @param tell called with every event but the last, in order
 * @param file the bundled engine
 */
export function startEngine(
  job: Job | Sweep | BallastJob,
  tell: (event: EngineEvent) => void,
  file = BUNDLED,
): EngineProcess {
  const child = spawn(process.execPath, [file], { stdio: ["pipe", "pipe", "pipe"] });
  child.stdin.on("error", () => undefined); // it may have ended already; `ended` tells
  child.stdin.write(`${JSON.stringify(job)}\n`);
  let complaint = "";
  child.stderr.on("data", (chunk: Buffer) => {
    complaint = (complaint + chunk.toString()).slice(-2000);
  });

  let end: EngineEnd | null = null;
  const lines = createInterface({ input: child.stdout });
  lines.on("line", (line) => {
    const parsed = parseEvent(line);
    if (!parsed) return;
    if (parsed.event === "done" || parsed.event === "stopped") end = { kind: parsed.event };
    else if (parsed.event === "refused") end = { ...parsed, kind: "refused" };
    else if (parsed.event === "failed") end = { ...parsed, kind: "failed" };
    else return tell(parsed);
    setTimeout(() => letGo(), GRACE_MS).unref();
  });

  /**
   * A process whose requests a drive does not answer cannot end before it does. It has said how the
   * run ended, holds nothing but its own nameless file, and is waited for no longer.
   */
  let letGo = () => undefined as void;

  const drained = new Promise<void>((resolve) => lines.once("close", resolve));
  const ended = new Promise<EngineEnd>((resolve) => {
    letGo = () => {
      if (child.exitCode !== null || child.signalCode !== null) return;
      child.unref();
      child.kill("SIGKILL"); // the system ends it as soon as it can
      for (const pipe of [child.stdin, child.stdout, child.stderr]) pipe.destroy();
      resolve(end!);
    };
    child.once("error", (error) => resolve({ kind: "failed", reason: cannotStart(error) }));
    child.once("close", async (status, signal) => {
      await drained;
      const how = signal ? `was ended by ${signal}` : `ended with status ${status}`;
      resolve(
        end ?? {
          kind: "interrupted",
          reason: `The measuring process ${how} before the run was over.${complaint ? ` It said: ${complaint.trim()}` : ""}`,
        },
      );
    });
  });
  return {
    stop: () => void child.stdin.write("stop\n"),
    go: (repeat) => void child.stdin.write(goLine(repeat)),
    ended,
  };
}

const cannotStart = (error: Error) =>
  `The measuring process could not be started: ${error.message}`;

function parseEvent(line: string): EngineEvent | null {
  try {
    return EngineEvent.parse(JSON.parse(line));
  } catch {
    return null; // a line cut short by the process's death
  }
}
