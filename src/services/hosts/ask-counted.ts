import { COUNTED_BEGIN, COUNTED_QUESTION, countedIn, type CountedName } from "@/core/host/counted";
import { HostProblem } from "./trouble";
import { startOn } from "./ssh";

/** More than any host lists. */
const MOST_TEXT = 1e6;
/** A shell that takes longer waits for something. */
const MOST_MS = 30_000;

/** The drives and interfaces whose traffic a host counts; a shell there is enough. @throws HostProblem */
export async function askCounted(host: string): Promise<CountedName[]> {
  const { child, ended } = startOn(host, `exec sh -c '${COUNTED_QUESTION}'`, MOST_MS);
  child.stdin.end();
  let text = "";
  child.stdout.on("data", (chunk: Buffer) => {
    text += chunk.toString();
    if (text.length > MOST_TEXT) child.kill();
  });
  const end = await ended;
  if (end.status === null) throw new HostProblem(end.trouble.code, end.trouble.reason);
  if (!text.includes(COUNTED_BEGIN))
    throw new HostProblem("broken", `The shell on ${host} did not answer what it was asked.`);
  return countedIn(text);
}
