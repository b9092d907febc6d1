import type { Part } from "../../chain/part";
import type { Rig } from "../../chain/rig";
import type { Random } from "../../simulate/noise";

/** What is hidden in made benches: each that a chain can have as often as its others. */
export const CAUSES = [
  "cable drops the link",
  "cable at fault",
  "port's own limit",
  "an end drops the link",
  "hub's own limit",
  "hub drops the link",
  "adapter's own limit",
  "enclosure's own limit",
  "network box's own limit",
  "drive's own limit",
  "a pair that works badly",
  "file system",
  "host",
  "driver mode",
  "heat",
  "as designed",
] as const;
export type Hidden = (typeof CAUSES)[number];

/** What holds back at a place of a rig, MB/s; by the ids that have to be in it together. */
export interface Limit {
  ids: string[];
  mbps: number;
  /** Where it holds a link at a slower mode: what that lets through is each pair of ends' own. */
  mode?: string;
  /** Only where they are next to each other, or joined by one cable. */
  meeting?: boolean;
}

/** Whether two parts of a chain stand next to each other, or are two ends that one cable joins. */
export function meet(chain: readonly Part[], a: string, b: string): boolean {
  const [i, j] = [a, b]
    .map((id) => chain.findIndex((one) => one.id === id))
    .toSorted((x, y) => x - y);
  if (i! < 0) return false;
  return j! - i! === 1 || (j! - i! === 2 && chain[i! + 1]!.kind === "cable");
}

export const pick = <T>(random: Random, list: readonly T[]): T =>
  list[Math.floor(random() * list.length)]!;
/** Evenly on a log scale. */
export const between = (random: Random, low: number, high: number) =>
  Math.exp(Math.log(low) + random() * Math.log(high / low));

/** The causes that a chain can have. */
export const causesIn = (chain: readonly Part[]): Hidden[] =>
  CAUSES.filter((cause) => {
    if (cause === "driver mode") return chain.every(({ kind }) => kind !== "network-box");
    return KINDS_OF[cause]?.some((kind) => chain.some((one) => one.kind === kind)) ?? true;
  });

/** Where a hidden cause lies, and how its place may be named. */
export interface Place {
  ids: string[];
  limit: number | null;
  right: (at: unknown) => boolean;
}

export interface Hiding {
  random: Random;
  chain: Part[];
  slow: Rig;
  share: () => number;
  /** The mode that a link drops to. */
  slower: string;
  /** What the slow rig gets out of that mode at a part. */
  atSlower: (partId: string) => number;
  best: number;
  limits: Limit[];
}

const KINDS_OF: Partial<Record<Hidden, Part["kind"][]>> = {
  "cable drops the link": ["cable"],
  "cable at fault": ["cable"],
  "port's own limit": ["host-port"],
  "hub's own limit": ["hub"],
  "hub drops the link": ["hub"],
  "an end drops the link": ["host-port", "adapter", "enclosure"],
  "adapter's own limit": ["adapter"],
  "enclosure's own limit": ["enclosure"],
  "network box's own limit": ["network-box"],
  "drive's own limit": ["drive"],
};

/** Hides a cause in a slow rig: its limit joins the others. */
export function hide(cause: Hidden, hiding: Hiding): Place {
  const { random, chain, slow, share, slower, atSlower, best, limits } = hiding;
  const same = (a: unknown, b: unknown) => JSON.stringify(a) === JSON.stringify(b);
  const kinds = KINDS_OF[cause];
  if (kinds) {
    const culprit = pick(
      random,
      chain.filter((one) => kinds.includes(one.kind)),
    );
    const drops = cause.includes("drops");
    const mbps = drops ? atSlower(culprit.id) : best * share();
    limits.push({ ids: [culprit.id], mbps, ...(drops ? { mode: slower } : {}) });
    return {
      ids: [culprit.id],
      limit: mbps,
      right: (at) => same(at, { part: culprit.id }),
    };
  }
  if (cause === "a pair that works badly") {
    const ids = pick(
      random,
      chain.flatMap((one, i) =>
        chain
          .slice(i + 1)
          .flatMap((other) => (meet(chain, one.id, other.id) ? [[one.id, other.id]] : [])),
      ),
    );
    const mbps = best * share();
    limits.push({ ids, mbps, meeting: true });
    return {
      ids,
      limit: mbps,
      right: (at) =>
        Boolean(at) &&
        same([...((at as { between?: string[] }).between ?? [])].sort(), ids.toSorted()),
    };
  }
  if (cause === "file system" || cause === "host") {
    const condition = cause === "host" ? "host" : "fileSystem";
    const mbps = best * share();
    limits.push({ ids: [`${condition} ${slow[condition]}`], mbps });
    return { ids: [], limit: mbps, right: (at) => same(at, { condition }) };
  }
  if (cause === "heat")
    return { ids: [], limit: null, right: (at) => same(at, { condition: "temperature" }) };
  if (cause === "driver mode")
    return { ids: [], limit: null, right: (at) => same(at, { condition: "transport" }) };
  return {
    ids: [],
    limit: null,
    right: (at) => Boolean(at) && "ledger" in (at as object),
  };
}
