import { linkAccount, linksOf, type Link } from "../../chain/link";
import type { Part } from "../../chain/part";
import { rigProblems, type Rig } from "../../chain/rig";
import { modeOf } from "../../ledger/catalogue";
import { usualDrill } from "../../drills/shape";
import { normal, seeded, type Random } from "../../simulate/noise";
import { summarise } from "../../stats/repeats";
import { resultOf } from "../../testing/measured";
import { part, rig } from "../../testing/rigs";
import type { Observation } from "../locate";
import { linkProblems } from "../narrows";

/**
 * Benches whose truth is known: a slow rig, a shelf, and hidden causes. Nothing here is shared with
 * what infers them but the ledger, and how often each cause occurs is not what the program believes.
 */
export interface MadeBench {
  seed: number;
  cause: Hidden;
  slow: Rig;
  shelf: Part[];
  /** What is true of the slow rig: every place that may be named. */
  right(at: unknown): boolean;
  /** What measuring a rig would give. @param cooled whether its drive was left to cool down before */
  measure(rig: Rig, cooled?: boolean): Observation;
  /** What a part of the slow rig lets through by itself, MB/s; as much as its ledger where nothing is wrong. */
  carries(part: Part): number;
  /** What the links of a rig let through, MB/s. */
  most(rig: Rig): number;
}

export const CAUSES = [
  "cable drops the link",
  "cable at fault",
  "port's own limit",
  "hub's own limit",
  "hub drops the link",
  "adapter's own limit",
  "enclosure's own limit",
  "drive's own limit",
  "a pair that works badly",
  "file system",
  "host",
  "driver mode",
  "heat",
  "as designed",
] as const;
export type Hidden = (typeof CAUSES)[number];

const GENERATIONS = ["usb-480m", "usb-5g", "usb-10g", "usb-20g"];
const haul = usualDrill("haul", "read");
const upTo = (top: number) => GENERATIONS.slice(0, top + 1);

/** What holds back at a place of a rig, MB/s; by the ids that have to be in it together. */
interface Limit {
  ids: string[];
  mbps: number;
  /** Only where they are next to each other, or joined by one cable. */
  meeting?: boolean;
}

/** A bench with one hidden cause, and now and then a second that lies elsewhere. */
export function makeBench(seed: number, cause: Hidden): MadeBench {
  for (let attempt = 0; ; attempt++) {
    const made = tryBench(seeded(seed * 7919 + attempt * 104_729), seed, cause);
    if (made) return made;
  }
}

const pick = <T>(random: Random, list: readonly T[]): T =>
  list[Math.floor(random() * list.length)]!;
const between = (random: Random, low: number, high: number) =>
  Math.exp(Math.log(low) + random() * Math.log(high / low));

function tryBench(random: Random, seed: number, cause: Hidden): MadeBench | null {
  const generation = random() < 0.7 ? 2 : 3;
  const withHub = cause.startsWith("hub") || (!cause.startsWith("adapter") && random() < 0.35);
  const withAdapter = cause.startsWith("adapter") || (!withHub && random() < 0.2);
  const modes = upTo(generation);
  let count = 0;
  const make = (kind: Part["kind"], connectors: Parameters<typeof part>[2], more = {}) => ({
    ...part(kind, `${kind}-${++count}`, connectors, more),
  });
  const port = () => make("host-port", { down: modes });
  const cable = (top = generation) => make("cable", { through: upTo(top) });
  const hub = () => make("hub", { up: modes, down: modes });
  const fast = generation === 3 ? "pcie-3.0-x4" : "pcie-3.0-x2";
  const box = () => make("enclosure", { up: modes, down: [fast] });
  const disk = (said: boolean, native: number) =>
    make("drive", { up: [fast] }, said ? { limits: { read: native } } : {});
  const adapter = () => make("adapter", { up: modes, down: modes });

  const drive = disk(random() < 0.4, 3500);
  const chain: Part[] = [
    ...[port(), cable(cause === "as designed" && random() < 0.6 ? generation - 1 : generation)],
    ...(withHub ? [hub(), cable()] : withAdapter ? [adapter(), cable()] : []),
    ...[box(), drive],
  ];
  const spares: Part[] = [];
  const room = 12 - chain.length;
  const add = (chance: number, one: () => Part) => {
    if (spares.length < room && random() < chance) spares.push(one());
  };
  add(0.95, cable);
  add(0.6, cable);
  add(0.7, port);
  add(0.75, box);
  add(0.7, () => disk(random() < 0.4, 3500));
  if (withHub) add(0.6, hub);
  if (withAdapter) add(0.6, adapter);
  if (withHub || withAdapter) add(0.4, cable);
  add(0.3, box);

  const fileSystem = pick(random, ["ext4", "exFAT", "NTFS", "APFS"]);
  const host = pick(random, ["field laptop", "desk machine"]);
  const slow: Rig = {
    ...rig(chain),
    ...{ fileSystem, host, id: "slow", name: "slow" },
    transport: cause === "driver mode" ? "usb-unqueued" : null,
  };
  if (rigProblems(slow).length > 0 || linkProblems(slow).length > 0) return null;

  const best = designed(slow, () => 0.5);
  const share = () => between(random, 0.2, 0.72);
  const limits: Limit[] = [];
  const down = Math.max(0, generation - (random() < 0.8 ? 1 : 2));
  const lowerMode = () => {
    const link = linksOf(slow)[0]!;
    const { attainable } = linkAccount(slow, link, modeNamed(link, GENERATIONS[down]!), "read");
    return between(random, attainable.low, attainable.high);
  };
  const find = (kind: Part["kind"]) =>
    pick(
      random,
      chain.filter((one) => one.kind === kind),
    );
  const places = hide(cause, { random, chain, slow, find, share, lowerMode, best, limits });
  // A second cause that lies elsewhere, and is weaker.
  if (cause !== "as designed" && cause !== "driver mode" && random() < 0.2) {
    const other = pick(random, chain);
    if (!places.ids.includes(other.id))
      limits.push({ ids: [other.id], mbps: (limits[0]?.mbps ?? best) * between(random, 1.25, 2) });
  }
  // Spares are not always what they say either.
  for (const spare of spares)
    if (random() < 0.12) limits.push({ ids: [spare.id], mbps: best * between(random, 0.15, 0.8) });
  // What a drive or an enclosure does not say of itself is often above all this, and matters not.
  for (const one of [...chain, ...spares])
    if (one.kind === "drive" && !one.limits.read)
      limits.push({ ids: [one.id], mbps: best * between(random, 1.15, 3) });

  const noise = between(random, 0.01, 0.06);
  const setUp = between(random, 0.003, 0.03);
  const shares = new Map<string, number>();
  const shareOf = ({ upper, cables, lower }: Link) => {
    const key = [upper, ...cables, lower].map(({ id }) => id).join();
    if (!shares.has(key)) shares.set(key, random());
    return shares.get(key)!;
  };
  const capacity = (one: Rig) => {
    const ids = new Set([
      ...one.parts.map(({ id }) => id),
      `fileSystem ${one.fileSystem}`,
      `host ${one.host}`,
    ]);
    const held = limits.filter(
      (limit) =>
        limit.ids.every((id) => ids.has(id)) &&
        (!limit.meeting || meet(one.parts, limit.ids[0]!, limit.ids[1]!)),
    );
    return Math.min(designed(one, shareOf), ...held.map(({ mbps }) => mbps));
  };
  // Some systems report how a link came up, and some drives how warm they are, guilty or not.
  const reports = cause.includes("drops") && random() < 0.4;
  const warm = cause === "heat" || random() < 0.15;
  const heated = best * share();
  const measure = (made: Rig, cooled = false): Observation => {
    const one = reports ? reported(made, places.ids[0]!, GENERATIONS[down]!) : made;
    const hot = warm && !cooled;
    const most = cause === "heat" && hot && one.parts.includes(drive) ? heated : Infinity;
    const rate = Math.min(most, capacity(made)) * Math.exp(setUp * normal(random));
    const repeats = 2 + Math.floor(random() * 3);
    const rates = Array.from({ length: repeats }, () => rate * Math.exp(noise * normal(random)));
    const key = `${one.parts.map(({ id }) => id).join()} ${one.fileSystem} ${one.host} ${one.transport}`;
    return {
      ...{ rig: one, drill: haul, doubtful: false, measurementIds: [key] },
      repeats: summarise(rates),
      ...(warm
        ? { results: rates.map((mbps) => resultOf(mbps, { startCelsius: hot ? 68 : 41 })) }
        : {}),
    };
  };
  // The hidden cause has to be what holds the slow rig back.
  const least = Math.min(
    ...limits.filter(({ ids }) => inRig(slow, ids)).map(({ mbps }) => mbps),
    Infinity,
  );
  const own = cause === "heat" ? heated : (places.limit ?? Infinity);
  if (
    cause !== "as designed" &&
    cause !== "driver mode" &&
    (own > least * 1.001 || own > designed(slow, shareOf) * 0.8)
  )
    return null;
  if (
    (cause === "as designed" || cause === "driver mode") &&
    least < designed(slow, shareOf) * 1.15
  )
    return null;
  const most = (one: Rig) => designed(one, shareOf);
  const carries = ({ id }: Part) =>
    Math.min(
      most(slow),
      ...limits.filter(({ ids }) => ids.length === 1 && ids[0] === id).map(({ mbps }) => mbps),
    );
  const shelf = [...chain, ...spares];
  return { seed, cause, slow, shelf, right: places.right, measure, carries, most };
}

/** A rig as a system reports it whose link with one part in it came up at a slower mode. */
function reported(one: Rig, partId: string, mode: string): Rig {
  const link = linksOf(one).find(({ upper, cables, lower }) =>
    [upper, ...cables, lower].some(({ id }) => id === partId),
  );
  return link ? { ...one, settled: [{ partId: link.lower.id, mode, by: "system" }] } : one;
}

/** Whether two parts of a chain stand next to each other, or are two ends that one cable joins. */
function meet(chain: readonly Part[], a: string, b: string): boolean {
  const [i, j] = [a, b]
    .map((id) => chain.findIndex((one) => one.id === id))
    .toSorted((x, y) => x - y);
  if (i! < 0) return false;
  return j! - i! === 1 || (j! - i! === 2 && chain[i! + 1]!.kind === "cable");
}

const inRig = (one: Rig, ids: readonly string[]) =>
  ids.every(
    (id) =>
      one.parts.some((part_) => part_.id === id) ||
      id === `fileSystem ${one.fileSystem}` ||
      id === `host ${one.host}`,
  );

/** What the links of a rig let through, each by its own share of its band. */
function designed(one: Rig, shareOf: (link: Link) => number): number {
  const links = linksOf(one).map((link) => {
    const { attainable } = linkAccount(one, link, link.mode!, "read");
    return attainable.low + shareOf(link) * (attainable.high - attainable.low);
  });
  const said = one.parts.map(({ limits }) => (limits.read ?? Infinity) * 0.97);
  return Math.min(...links, ...said);
}

const modeNamed = (link: Link, id: string) => ({ ...link.mode!, ...modeOf(id) });

interface Place {
  ids: string[];
  limit: number | null;
  right: (at: unknown) => boolean;
}

interface Hiding {
  random: Random;
  chain: Part[];
  slow: Rig;
  find: (kind: Part["kind"]) => Part;
  share: () => number;
  lowerMode: () => number;
  best: number;
  limits: Limit[];
}

const KIND_OF: Partial<Record<Hidden, Part["kind"]>> = {
  "cable drops the link": "cable",
  "cable at fault": "cable",
  "port's own limit": "host-port",
  "hub's own limit": "hub",
  "hub drops the link": "hub",
  "adapter's own limit": "adapter",
  "enclosure's own limit": "enclosure",
  "drive's own limit": "drive",
};

function hide(cause: Hidden, hiding: Hiding): Place {
  const { random, chain, slow, find, share, lowerMode, best, limits } = hiding;
  const same = (a: unknown, b: unknown) => JSON.stringify(a) === JSON.stringify(b);
  const kind = KIND_OF[cause];
  if (kind) {
    const culprit = find(kind);
    const mbps = cause.includes("drops") ? lowerMode() : best * share();
    limits.push({ ids: [culprit.id], mbps });
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
