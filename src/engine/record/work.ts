import { spawn } from "node:child_process";
import { once } from "node:events";
import fs from "node:fs";
import os from "node:os";
import path from "node:path";
import type { Writable } from "node:stream";
import { Refusal } from "../refusal";

/** Work that waits to be let go. */
export interface Work {
  /** The process that will do it, with all that it begins. */
  pid: number;
  /** Lets it go. @returns its exit status, 128 and the signal's number as shells count them */
  begin(): Promise<number>;
}

/** Whether a command names a program, as a shell looks for one. */
function isThere(command: string): boolean {
  const places = command.includes("/")
    ? [command]
    : (process.env.PATH ?? "").split(":").map((folder) => path.join(folder, command));
  return places.some((place) => {
    try {
      fs.accessSync(place, fs.constants.X_OK);
      return fs.statSync(place).isFile();
    } catch {
      return false;
    }
  });
}

/** A shell that waits for a line, and becomes the work; it ends where nobody is there any more to say the line. */
const HELD = 'read -r _ <&3 || exit; exec 3<&-; exec "$@"';

/**
 * Prepares work that has not begun yet, so that it can be listened to from its first call on.
 *
 * @param stop ends it
 * @param from the folder that it begins in; this process's own where it is left out
 * @throws Refusal where no process can be begun
 */
export async function prepare(
  [command, ...args]: readonly string[],
  stop: AbortSignal,
  from?: string,
): Promise<Work> {
  if (!isThere(command!))
    throw new Refusal("not-a-target", `${command} could not be begun: there is no such program.`);
  const child = spawn("/bin/sh", ["-c", HELD, "sh", command!, ...args], {
    stdio: ["inherit", "inherit", "inherit", "pipe"],
    cwd: from,
  });
  const end = () => child.kill("SIGTERM");
  stop.addEventListener("abort", end, { once: true });
  const over = new Promise<number>((resolve, reject) => {
    child.once("error", (error) =>
      reject(new Refusal("not-a-target", `${command} could not be begun: ${error.message}`)),
    );
    child.once("close", (code, signal) =>
      resolve(code ?? 128 + (signal ? os.constants.signals[signal] : 0)),
    );
  });
  over.catch(() => undefined); // asked for once it has begun
  await Promise.race([once(child, "spawn"), over]);
  const gate = child.stdio[3] as Writable;
  gate.on("error", () => undefined); // it may be over before it was let go
  return {
    pid: child.pid!,
    begin: () => {
      gate.end("\n");
      return over;
    },
  };
}
