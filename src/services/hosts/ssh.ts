import { spawn, type ChildProcessWithoutNullStreams } from "node:child_process";
import { HostName } from "@/core/units/host-name";
import { tooLate, troubleIn, type HostTrouble } from "./trouble";

/**
 * What every connection is made with (ssh_config(5)): the tester's own configuration and keys, but no question
 * at a terminal, no forwarding, no command of the configuration's, and an end where nothing answers any more.
 */
const ALWAYS = [
  ["BatchMode", "yes"],
  ["ClearAllForwardings", "yes"],
  ["ForwardAgent", "no"],
  ["ForwardX11", "no"],
  ["PermitLocalCommand", "no"],
  ["RemoteCommand", "none"],
  ["RequestTTY", "no"],
  // A connection that the tester holds open already is used, and none is left open by this one.
  ["ControlMaster", "no"],
  ["ConnectTimeout", "15"],
  ["ServerAliveInterval", "5"],
  ["ServerAliveCountMax", "3"],
  // Greetings are no matter of ours; failures are told at this level.
  ["LogLevel", "ERROR"],
] as const;

/** A process on a host, as one of this machine's. */
export interface Remote {
  child: ChildProcessWithoutNullStreams;
  /** How it ended: its status there, or why it was not reached. */
  ended: Promise<RemoteEnd>;
}

export type RemoteEnd =
  | { status: number; complaint: string }
  /** The way there failed, or the line broke. */
  | { status: null; trouble: HostTrouble };

/**
 * Arguments of the SSH client for a command on a host. The name is an argument behind "--", and one that could be
 * read as anything else is refused.
 *
 * @param command for the tester's shell there: words that need no more than single quotes
 * @throws ZodError where that is no name of a host
 */
export function sshArguments(host: string, command: string): string[] {
  const config = process.env.NERRIT_SSH_CONFIG;
  return [
    ...(config ? ["-F", config] : []),
    ...ALWAYS.flatMap(([key, value]) => ["-o", `${key}=${value}`]),
    "--",
    HostName.parse(host),
    command,
  ];
}

/**
 * Starts a command on a host with the system's own SSH client.
 *
 * @param mostMs after so long it is ended, and that is its trouble; null for a command that may take any time
 */
export function startOn(host: string, command: string, mostMs: number | null = null): Remote {
  // Out of the terminal's reach: Ctrl-C is told to the run by its line, which it must not cut.
  const child = spawn("ssh", sshArguments(host, command), {
    stdio: ["pipe", "pipe", "pipe"],
    detached: true,
  });
  child.stdin.on("error", () => undefined); // it may have ended already; `ended` tells
  let complaint = "";
  child.stderr.on("data", (chunk: Buffer) => {
    complaint = (complaint + chunk.toString()).slice(-4000);
  });
  let isLate = false;
  const late = () => (isLate = child.kill("SIGKILL"));
  const timer = mostMs === null ? undefined : setTimeout(late, mostMs);
  const ended = new Promise<RemoteEnd>((resolve) => {
    child.once("error", (error) =>
      resolve({
        status: null,
        trouble: troubleIn(host, `ssh could not be started: ${error.message}`),
      }),
    );
    child.once("close", (status, signal) => {
      clearTimeout(timer);
      if (isLate) return resolve({ status: null, trouble: tooLate(host, mostMs!) });
      // The client's own failures have this status (ssh(1), EXIT STATUS); a process there hardly ever.
      if (status === 255 || status === null)
        resolve({
          status: null,
          trouble: troubleIn(host, complaint || (signal ? `ssh was ended by ${signal}` : "")),
        });
      else resolve({ status, complaint: complaint.trim() });
    });
  });
  return { child, ended };
}

/** The first word as it is, the others held together. */
export const commandOf = ([first, ...others]: readonly string[]): string =>
  [first, ...others.map(quoted)].join(" ");

/** A word of a command for whatever shell is there: in single quotes, and without what those do not hold. */
export function quoted(word: string): string {
  if (/['\n\r\0\\!]/.test(word))
    throw new RangeError(`${JSON.stringify(word)} cannot be handed to a shell of unknown kind`);
  return `'${word}'`;
}
