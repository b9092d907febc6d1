import path from "node:path";
import type { HostFacts } from "@/core/host/host-facts";
import { commandOf, startOn } from "./ssh";
import { HostProblem } from "./trouble";

/**
 * Keeps what comes in under a name, once it is whole. Arguments are the name and the size. Any POSIX shell
 * (IEEE Std 1003.1, Shell and Utilities) reads it; no sign in it is one that the tester's own shell there reads.
 */
const KEEP = [
  "umask 077",
  "t=$1.$$",
  'gone() { rm -f "$t"; }; trap gone EXIT',
  'mkdir -p "${1%/*}" && cat >"$t" || exit 3',
  '[ "$(wc -c <"$t")" -eq "$2" ] && mv "$t" "$1" || exit 3',
].join("; ");

/**
 * Keeps a file in the cache folder of a host, unless one of that name is there.
 *
 * @param name by its content: what has the same name is the same
 * @param what it is, for whoever reads that it cannot be put there
 * @returns its path there
 * @throws HostProblem where it cannot be written
 */
export async function keepThere(
  host: string,
  { cache }: Pick<HostFacts, "cache">,
  { name, bytes, what }: { name: string; bytes: Buffer; what: string },
): Promise<string> {
  const place = path.posix.join(cache!.folder, name);
  if (cache!.kept.includes(name)) return place;
  const command = ["exec", "sh", "-c", KEEP, "sh", place, String(bytes.length)];
  await sendThere(host, command, { bytes, what, folder: cache!.folder });
  return place;
}

/** Sends something to a command there that takes it in. @throws HostProblem where that does not work */
export async function sendThere(
  host: string,
  command: string[],
  { bytes, what, folder }: { bytes: Buffer; what: string; folder: string },
): Promise<void> {
  const { child, ended } = startOn(host, commandOf(command));
  child.stdout.resume();
  child.stdin.end(bytes);
  const end = await ended;
  if (end.status === null) throw new HostProblem(end.trouble.code, end.trouble.reason);
  if (end.status === 0) return;
  const why = end.complaint.split("\n").at(-1);
  throw new HostProblem(
    "not-sent",
    `${what} could not be put into ${folder} on ${host}${why ? `: ${why}` : ""}.`,
  );
}
