import path from "node:path";
import * as z from "zod";
import { countedOnHost } from "@/core/host/counted";
import { MOST_LISTED, type Looked } from "@/core/watch/tally";
import { SystemTree } from "@/engine/probe/tree";
import { Refusal } from "@/engine/refusal";
import { findSource, type Source } from "@/engine/watch/source";
import { notKnown } from "../hosts/machines";
import { HostProblem } from "../hosts/trouble";
import { byHost, WatchedHost, type TimedSource } from "../hosts/watched-host";
import { checked, Problem } from "../problem";
import { systemRoot } from "../plugged/system-root";

/** So many are watched closely at once; of more each look would cost what it is to show. */
const CLOSELY = 8;

const WatchQuery = z
  .object({
    names: z
      .array(z.string().min(1).max(200))
      .min(1, "name a drive or an interface")
      .max(MOST_LISTED, `at most ${MOST_LISTED} at once`),
    /** The kernel's counters are kept no finer than ten times a second. */
    everyMs: z.coerce
      .number()
      .int()
      .min(100, "at most ten times a second")
      .max(10_000)
      .default(200),
  })
  .refine(({ names, everyMs }) => names.length <= CLOSELY || everyMs >= 1000, {
    path: ["names"],
    message: "at most eight at once, or once a second",
  });

/** The kernel's tree, read without waking a disk. */
export const quietTree = () => new SystemTree(path.resolve(systemRoot()), { quiet: true });

/** Network interfaces that can be watched. */
export const interfaces = (): Promise<string[]> => quietTree().list("/sys/class/net");

/** What is watched, how often it is looked at, and the hosts that count some of it. */
export interface Watched {
  sources: (Source | TimedSource)[];
  everyMs: number;
  hosts: WatchedHost[];
  /** When the watching began, on the monotonic clock. */
  begun: number;
}

/**
 * Finds what is to be watched.
 *
 * @param isHost whether a name is one of the bench's hosts
 * @throws Problem naming the first that the system counts nothing for
 */
export async function findSources(
  query: URLSearchParams,
  isHost: (name: string) => boolean = () => false,
): Promise<Watched> {
  const { names, everyMs } = checked(WatchQuery, {
    names: query.getAll("name"),
    everyMs: query.get("every") ?? undefined,
  });
  const tree = quietTree();
  const begun = performance.now();
  const hosts = [...byHost(names.flatMap((name) => countedOnHost(name) ?? []))].map(
    ([host, counted]) => {
      if (!isHost(host)) throw notKnown(host);
      return new WatchedHost(host, counted, () => begun);
    },
  );
  try {
    const there = await Promise.all(hosts.map((host) => host.sources()));
    const byName = new Map(there.flat().map((source) => [source.name, source]));
    const sources = names.map((name) => byName.get(name) ?? findSource(tree, name));
    return { sources: await Promise.all(sources), everyMs, hosts, begun };
  } catch (error) {
    for (const host of hosts) host.stop();
    if (error instanceof Refusal || error instanceof HostProblem)
      throw new Problem(422, error.message);
    throw error;
  }
}

/** Looks at sources again and again. @returns ends the watching */
export function watchSources(
  { sources, everyMs, hosts, begun }: Watched,
  tell: (looked: Looked) => void,
): () => void {
  let over = false;
  let timer: NodeJS.Timeout;
  const look = async () => {
    const counts = await Promise.all(sources.map((source) => source.count()));
    if (over) return;
    tell({
      ms: performance.now() - begun,
      counts,
      ...(hosts.length === 0
        ? {}
        : {
            at: sources.map((source) => ("at" in source ? source.at() : null)),
            hosts: hosts.map(({ now }) => now),
          }),
    });
    timer = setTimeout(() => void look(), everyMs);
  };
  void look();
  return () => {
    over = true;
    clearTimeout(timer);
    for (const host of hosts) host.stop();
  };
}
