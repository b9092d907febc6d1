import { createHash } from "node:crypto";
import fs from "node:fs";
import path from "node:path";
import type { HostFacts } from "@/core/host/host-facts";
import { keepThere, sendThere } from "./keep-there";
import { HostProblem } from "./trouble";

/** The program as it was built for this machine's kind, and a shell's script that compiles it there. */
const BUILT = "nerrit-measure";
const SOURCE = "compile-there.sh";
/** What follows the program's runs there. */
const FOLLOW = "follow.sh";
const PROGRAM = "The small measuring program";

/**
 * Takes a file in and keeps it where it runs. Arguments are the folder to make and the file's size. Any POSIX shell
 * (IEEE Std 1003.1, Shell and Utilities) reads it; no sign in it is one that the tester's own shell there reads.
 */
const TAKE_IN = [
  "umask 077",
  "d=$1.$$",
  'gone() { rm -rf "$d"; }; trap gone EXIT',
  'mkdir -p "$d" && cat >"$d/nerrit-measure" || exit 3',
  '[ "$(wc -c <"$d/nerrit-measure")" -eq "$2" ] || exit 3',
  'chmod 700 "$d/nerrit-measure" && "$d/nerrit-measure" --version || exit 3',
  '[ -d "$1" ] || mv "$d" "$1"',
].join("; ");

const built = (dist: string, name: string): Buffer | null => {
  const file = path.join(/* turbopackIgnore: true */ dist, "programs", name);
  return fs.existsSync(file) ? fs.readFileSync(file) : null;
};
const named = (what: string, bytes: Buffer): string =>
  `${what}-${createHash("sha256").update(bytes).digest("hex").slice(0, 16)}`;

/**
 * Puts the script onto a host that follows the program's runs, unless it is there.
 *
 * @returns its path there
 * @throws HostProblem where it cannot be written
 */
export async function putFollow(host: string, facts: HostFacts, dist: string): Promise<string> {
  const bytes = built(dist, FOLLOW);
  if (!bytes) throw new HostProblem("not-sent", "The small measuring program was not built here.");
  return keepThere(host, facts, { name: named("follow", bytes), bytes, what: PROGRAM });
}

/**
 * Puts the small measuring program onto a host, unless it is there: as it was built here where that runs, else
 * compiled there.
 *
 * @param isOwnKind whether the host's processor is of this machine's kind
 * @returns its path there
 * @throws HostProblem where neither works
 */
export async function putProgram(
  host: string,
  { cache, compiler }: HostFacts,
  dist: string,
  isOwnKind: boolean,
): Promise<string> {
  const { folder, kept } = cache!;
  const program = isOwnKind ? built(dist, BUILT) : null;
  const source = compiler ? built(dist, SOURCE) : null;
  const ways = [
    program && { bytes: program, command: ["-c", TAKE_IN, "sh"], last: String(program.length) },
    source && { bytes: source, command: ["-s"], last: compiler! },
  ].filter((way) => way !== null);
  let problem = new HostProblem("not-sent", `No measuring program runs on ${host}.`);
  for (const { bytes, command, last } of ways) {
    const name = named("program", bytes);
    const place = path.posix.join(folder, name);
    try {
      if (!kept.includes(name))
        await sendThere(host, ["exec", "sh", ...command, place, last], {
          bytes,
          what: PROGRAM,
          folder,
        });
      return `${place}/nerrit-measure`;
    } catch (error) {
      if (!(error instanceof HostProblem) || error.code !== "not-sent") throw error;
      problem = error;
    }
  }
  throw problem;
}
