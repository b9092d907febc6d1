import { spawn } from "node:child_process";
import { once } from "node:events";
import fs from "node:fs";
import net from "node:net";
import { createInterface } from "node:readline";
import { setTimeout as sleep } from "node:timers/promises";
import { DIED, JOB, LINES, SOCKET, TAKEN } from "./run-folder";

/** How often it is said that the line still carries. */
const BEAT_MS = 5000;
/** How often is looked whether a process that was just begun listens. */
const LOOK_MS = 20;

/**
 * The end of the line on a host: begins the run where there is none of that folder yet, and passes on what it
 * tells, from a line on. It may be cut off at any time; the run is another process's.
 *
 * @param engine the measuring process's own file
 * @param from the number of the first line that is missing
 * @param isFound whether the run was begun before: then none begins where there is none any more
 */
export async function follow(
  engine: string,
  folder: string,
  from: number,
  isFound = false,
): Promise<void> {
  const beat = setInterval(() => process.stdout.write("\n"), BEAT_MS);
  process.stdout.on("error", () => process.exit(0));
  // Whatever happens to the line is its end, and none of the run's.
  const input = createInterface({ input: process.stdin }).on("error", () => process.exit(0));
  const asked = input[Symbol.asyncIterator]();
  const job = (await asked.next()).value as string | undefined;
  if (job === undefined) return process.exit(0); // cut off before anything was asked
  if (isFound && !fs.existsSync(`${folder}/${JOB}`)) {
    process.stdout.write(`${DIED}\n`, () => process.exit(0));
    return;
  }
  if (!isFound && from === 0 && begin(folder, job)) startKeeper(engine, folder);
  process.chdir(folder);
  const socket = await connected();
  if (socket) {
    socket.pipe(process.stdout, { end: false });
    socket.write(`from ${from}\n`);
  } else {
    rest(from);
  }
  void (async () => {
    for await (const line of { [Symbol.asyncIterator]: () => asked }) {
      if (socket?.writable) socket.write(`${line}\n`);
      else if (line === TAKEN) remove(folder);
    }
    process.exit(0); // the line is cut
  })();
  if (socket) {
    await once(socket, "close").catch(() => undefined);
    clearInterval(beat);
    // A process that died has left in the file what it had told.
    if (fs.existsSync(LINES)) rest(from);
    else process.stdout.write("", () => process.exit(0)); // all of it was taken
  }
}

/** What is in the file of a run whose process is gone; without an end it died, and there is no more to come. */
function rest(from: number): void {
  if (!passOn(from)) process.stdout.write(`${DIED}\n`);
}

/** @returns whether this is the first to come with that job */
function begin(folder: string, job: string): boolean {
  try {
    fs.mkdirSync(folder, { recursive: true, mode: 0o700 });
    fs.writeFileSync(`${folder}/${JOB}`, job, { flag: "wx", mode: 0o600 });
    return true;
  } catch (error) {
    if ((error as NodeJS.ErrnoException).code === "EEXIST") return false;
    throw error;
  }
}

/** Out of the session, so that its end does not end the run. */
function startKeeper(engine: string, folder: string): void {
  const output = fs.openSync(`${folder}/complaint`, "a", 0o600);
  spawn(process.execPath, [engine, "keep", folder], {
    detached: true,
    stdio: ["ignore", output, output],
  }).unref();
}

/** The run's process; null where it is over. */
async function connected(): Promise<net.Socket | null> {
  const begun = Date.now();
  for (;;) {
    const socket = net.connect(SOCKET);
    try {
      await once(socket, "connect");
      socket.on("error", () => socket.destroy());
      return socket;
    } catch {
      socket.destroy();
      // A run that has told something has listened before: its process is gone.
      if (fs.existsSync(LINES) || Date.now() - begun > 20_000) return null;
      await sleep(LOOK_MS);
    }
  }
}

/** The events that end a run (core/run/protocol.ts). */
const LAST = /^\d+ \{"event":"(done|stopped|refused|failed)"/;

/**
 * Passes on what the file holds, from a line on.
 *
 * @returns whether the run's end is in it
 */
function passOn(from: number): boolean {
  let text = "";
  try {
    text = fs.readFileSync(LINES, "utf8");
  } catch {
    return false;
  }
  const lines = text.split("\n");
  for (const line of lines)
    if (Number(/^(\d+) \{/.exec(line)?.[1] ?? -1) >= from) process.stdout.write(`${line}\n`);
  return lines.some((line) => LAST.test(line));
}

function remove(folder: string): void {
  fs.rmSync(folder, { recursive: true, force: true });
}
