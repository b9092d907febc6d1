import { startOn } from "./ssh";
import { HostProblem } from "./trouble";

/** A shell that takes longer waits for something. */
const MOST_MS = 60_000;
/** More than any host says. */
const MOST_TEXT = 1e6;

/**
 * Asks the shell of a host.
 *
 * @param question for any POSIX shell, without single quotes
 * @param input comes in on its standard input: what may hold any sign is no part of a command
 * @returns all that was said, greetings included
 * @throws HostProblem where the host is not reached
 */
export async function shellSaid(host: string, question: string, input = ""): Promise<string> {
  const { child, ended } = startOn(host, `exec sh -c '${question}'`, MOST_MS);
  child.stdin.end(input);
  let text = "";
  child.stdout.on("data", (chunk: Buffer) => {
    text += chunk.toString();
    if (text.length > MOST_TEXT) child.kill();
  });
  const end = await ended;
  if (end.status === null) throw new HostProblem(end.trouble.code, end.trouble.reason);
  return text;
}
