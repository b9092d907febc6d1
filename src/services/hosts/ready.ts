import path from "node:path";
import type { HostFacts } from "@/core/host/host-facts";
import { lacksOf, measuredBy } from "@/core/host/lacks";
import { askHost } from "./ask";
import { packEngine, SEE_TO_LANES, UNPACK } from "./pack";
import { putFollow, putProgram } from "./program-there";
import { commandOf, startOn, type RemoteEnd } from "./ssh";
import { HostProblem } from "./trouble";

interface Ready {
  host: string;
  facts: HostFacts;
  /** Where runs have their folders there. */
  runs: string;
}

/** A host on which the whole measuring process lies. */
export interface EngineReady extends Ready {
  by: "engine";
  /** The runtime there. */
  node: string;
  /** The measuring process there. */
  engine: string;
}

/** A host without the runtime, on which the small measuring program lies. */
export interface ProgramReady extends Ready {
  by: "program";
  program: string;
  /** The shell's script there that follows its runs. */
  follow: string;
}

/** A host that can be measured on. */
export type ReadyHost = EngineReady | ProgramReady;

/** This machine's processor, as a host names it (uname(1), -m). */
export const ownArchitecture = (): string =>
  ({ x64: "x86_64", arm64: "aarch64", arm: "armv7l", ia32: "i686" })[process.arch as string] ??
  process.arch;

/**
 * Makes a host ready to measure: finds out what it has, and sends what measures unless it is there.
 *
 * @param dist where measuring process and program were built here
 * @throws HostProblem where the host is not reached, or lacks what measuring needs
 */
export async function readyHost(host: string, dist: string): Promise<ReadyHost> {
  const facts = await askHost(host);
  if ("code" in facts) throw new HostProblem(facts.code, facts.reason);
  const by = measuredBy(facts, ownArchitecture());
  if (by === null || !facts.cache) {
    const [lack] = lacksOf(facts, ownArchitecture());
    throw new HostProblem(
      "lacks",
      `Nothing can be measured on ${host}. ${lack!.what} ${lack!.without}`,
    );
  }
  const runs = path.posix.join(facts.cache.folder, "runs");
  if (by === "engine") return putEngine({ host, facts, runs }, dist);
  const isOwnKind = facts.architecture === ownArchitecture();
  const program = await putProgram(host, facts, dist, isOwnKind);
  const follow = await putFollow(host, facts, dist);
  return { by, host, facts, runs, program, follow };
}

async function putEngine(about: Ready, dist: string): Promise<EngineReady> {
  const { host, facts } = about;
  const pack = packEngine(dist, facts.architecture === ownArchitecture());
  const { folder, kept } = facts.cache!;
  const name = `engine-${pack.sha256.slice(0, 16)}`;
  const place = path.posix.join(folder, name);
  const node = facts.node!.path;
  const ready: EngineReady = { by: "engine", ...about, node, engine: `${place}/engine.mjs` };
  if (kept.includes(name)) return ready;
  const command = ["exec", node, "-e", UNPACK, place, pack.sha256];
  const { child, ended } = startOn(host, commandOf(command));
  child.stdout.resume();
  child.stdin.end(pack.bytes);
  const end = await ended;
  if (end.status !== 0) throw new HostProblem("not-sent", notSent(host, folder, end));
  await seeToLanes(ready, place);
  return ready;
}

/** The compiled part is compiled there where this machine's does not run; how that ends is no matter to what works without it. */
async function seeToLanes({ host, node, facts }: EngineReady, place: string): Promise<void> {
  const command = ["exec", node, "-e", SEE_TO_LANES, place, facts.compiler ?? ""];
  const { child, ended } = startOn(host, commandOf(command));
  child.stdout.resume();
  child.stdin.end();
  const end = await ended;
  if (end.status === null) throw new HostProblem(end.trouble.code, end.trouble.reason);
}

function notSent(host: string, folder: string, end: RemoteEnd): string {
  if (end.status === null) return end.trouble.reason;
  const last = end.complaint.split("\n").findLast((line) => /Error|space|denied/i.test(line));
  return `The measuring process could not be put into ${folder} on ${host}${last ? `: ${last.trim()}` : "."}`;
}
