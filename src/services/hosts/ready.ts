import path from "node:path";
import { Answer, type Question } from "@/core/host/question";
import type { HostFacts } from "@/core/host/host-facts";
import { isMeasurable, lacksOf } from "@/core/host/lacks";
import { askHost } from "./ask";
import { packEngine, SEE_TO_LANES, UNPACK } from "./pack";
import { quoted, startOn, type RemoteEnd } from "./ssh";

/** A host on which the measuring process lies. */
export interface ReadyHost {
  host: string;
  facts: HostFacts;
  /** The runtime there. */
  node: string;
  /** The measuring process there. */
  engine: string;
  /** Where runs have their folders there. */
  runs: string;
}

/** A host cannot be used as it is asked for. */
export class HostProblem extends Error {
  constructor(
    readonly code: string,
    message: string,
  ) {
    super(message);
  }
}

/** This machine's processor, as a host names it (uname(1), -m). */
export const ownArchitecture = (): string =>
  ({ x64: "x86_64", arm64: "aarch64", arm: "armv7l", ia32: "i686" })[process.arch as string] ??
  process.arch;

/**
 * Makes a host ready to measure: finds out what it has, and sends the measuring process unless it is there.
 *
 * @param dist where the measuring process was built here
 * @throws HostProblem where the host is not reached, or lacks what measuring needs
 */
export async function readyHost(host: string, dist: string): Promise<ReadyHost> {
  const facts = await askHost(host);
  if ("code" in facts) throw new HostProblem(facts.code, facts.reason);
  if (!isMeasurable(facts) || !facts.cache) {
    const [lack] = lacksOf(facts, ownArchitecture());
    throw new HostProblem(
      "lacks",
      `Nothing can be measured on ${host}. ${lack!.what} ${lack!.without}`,
    );
  }
  const pack = packEngine(dist, facts.architecture === ownArchitecture());
  const { folder, kept } = facts.cache;
  const name = `engine-${pack.sha256.slice(0, 16)}`;
  const place = path.posix.join(folder, name);
  const node = facts.node!.path;
  const ready = {
    host,
    facts,
    node,
    engine: `${place}/engine.mjs`,
    runs: path.posix.join(folder, "runs"),
  };
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
async function seeToLanes({ host, node, facts }: ReadyHost, place: string): Promise<void> {
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

/** The first word as it is, the others held together. */
export const commandOf = ([first, ...others]: readonly string[]): string =>
  [first, ...others.map(quoted)].join(" ");

/** A measuring process that says nothing for so long is asked no longer. */
const MOST_MS = 60_000;
/** What a host's shell answers before the answer itself is passed over. */
const MOST_ANSWER = 20e6;

/** Asks the measuring process on a host. @throws HostProblem where it does not answer */
export async function askOn(ready: ReadyHost, question: Question): Promise<Answer> {
  const { child, ended } = startOn(
    ready.host,
    commandOf(["exec", ready.node, ready.engine, "ask"]),
    MOST_MS,
  );
  let text = "";
  child.stdout.on("data", (chunk: Buffer) => {
    text += chunk.toString();
    if (text.length > MOST_ANSWER) child.kill();
  });
  child.stdin.end(`${JSON.stringify(question)}\n`);
  const end = await ended;
  for (const line of text.split("\n").toReversed()) {
    try {
      return Answer.parse(JSON.parse(line));
    } catch {
      // A greeting, or a line cut short.
    }
  }
  throw new HostProblem(
    "broken",
    end.status === null
      ? end.trouble.reason
      : `${ready.host} did not answer what it was asked. ${end.complaint.slice(-300)}`.trim(),
  );
}
