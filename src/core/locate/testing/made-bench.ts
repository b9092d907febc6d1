import { linkAccount, linksOf, type Link } from "../../chain/link";
import type { Part } from "../../chain/part";
import { rigProblems, type Rig } from "../../chain/rig";
import { modeOf } from "../../ledger/catalogue";
import { usualDrill } from "../../drills/shape";
import { normal, seeded, type Random } from "../../simulate/noise";
import { summarise } from "../../stats/repeats";
import { briefResultOf } from "../../testing/measured";
import { rig } from "../../testing/rigs";
import type { Observation } from "../locate";
import { linkProblems } from "../../chain/bottleneck";
import { between, causesIn, hide, meet, pick, type Hidden, type Limit } from "./hidden-cause";
import { madeParts, type MadeParts } from "./made-parts";

/**
 * Benches whose truth is known: a slow rig, a shelf, and hidden causes. Nothing here is shared with
 * what infers them but the ledger, and how often each cause occurs is not what the program believes.
 */
export interface MadeBench {
  seed: number;
  cause: string;
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

const haul = usualDrill("haul", "read");

/** Attempts at a cause in a chain that it may not fit, before another chain is taken. */
const ATTEMPTS = 200;

/** A bench with one hidden cause that its chain can have, and now and then a second that lies elsewhere. */
export function makeBench(seed: number): MadeBench {
  for (let chain = 0; ; chain++) {
    const random = seeded(seed * 7919 + chain * 15_485_863);
    const parts = madeParts(random);
    const cause = pick(random, causesIn(parts.chain));
    for (let attempt = 0; attempt < ATTEMPTS; attempt++) {
      const made = tryBench(random, seed, parts, cause);
      if (made) return made;
    }
  }
}

function tryBench(
  random: Random,
  seed: number,
  { chain: usual, spares, modes }: MadeParts,
  cause: Hidden,
): MadeBench | null {
  // What is as designed is so by a cable of an older kind, or by nothing at all.
  const older = cause === "as designed" && random() < 0.6 ? modes.slice(0, -1) : null;
  const chain = usual.map((one, i) =>
    older && i === 1 ? { ...one, connectors: [{ side: "through" as const, modes: older }] } : one,
  );
  const drive = chain.at(-1)!;

  const fileSystem = pick(random, ["ext4", "exFAT", "NTFS", "APFS"]);
  const host = pick(random, ["field laptop", "desk machine"]);
  const slow: Rig = {
    ...rig(chain),
    fileSystem,
    host,
    id: "slow",
    name: "slow",
    transport: cause === "driver mode" ? "usb-unqueued" : null,
  };
  if (rigProblems(slow).length > 0 || linkProblems(slow).length > 0) return null;

  const best = designed(slow, () => 0.5);
  const share = () => between(random, 0.2, 0.72);
  const limits: Limit[] = [];
  const slower = modes.at(random() < 0.8 ? -2 : -3) ?? modes[0]!;
  const shares = new Map<string, number>();
  const shareOf = ({ upper, cables, lower }: Link) => {
    const key = [upper, ...cables, lower].map(({ id }) => id).join();
    if (!shares.has(key)) shares.set(key, random());
    return shares.get(key)!;
  };
  /** What a rig gets out of a mode that the links of a part run at. */
  const atMode = (one: Rig, partId: string, mode: string) =>
    Math.min(
      ...linksOf(one)
        .filter((link) => modes.includes(link.mode!.id) && touches(link, partId))
        .map((link) => {
          const { attainable } = linkAccount(one, link, modeNamed(link, mode), "read");
          return attainable.low + shareOf(link) * (attainable.high - attainable.low);
        }),
    );
  const atSlower = (partId: string) => atMode(slow, partId, slower);
  const places = hide(cause, { random, chain, slow, share, slower, atSlower, best, limits });
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
    const rates = held.map(({ ids: [id], mbps, mode }) => (mode ? atMode(one, id!, mode) : mbps));
    return Math.min(designed(one, shareOf), ...rates);
  };
  // Some systems report how a link came up, and some drives how warm they are, guilty or not.
  const reports = cause.includes("drops") && random() < 0.4;
  const warm = cause === "heat" || random() < 0.15;
  const heated = best * share();
  const measure = (made: Rig, cooled = false): Observation => {
    const one = reports ? reported(made, places.ids[0]!, slower) : made;
    const hot = warm && !cooled;
    const most = cause === "heat" && hot && one.parts.includes(drive) ? heated : Infinity;
    const rate = Math.min(most, capacity(made)) * Math.exp(setUp * normal(random));
    const repeats = 2 + Math.floor(random() * 3);
    const rates = Array.from({ length: repeats }, () => rate * Math.exp(noise * normal(random)));
    const key = `${one.parts.map(({ id }) => id).join()} ${one.fileSystem} ${one.host} ${one.transport}`;
    return {
      rig: one,
      drill: haul,
      doubtful: false,
      measurementIds: [key],
      repeats: summarise(rates),
      ...(warm
        ? { results: rates.map((mbps) => briefResultOf(mbps, { startCelsius: hot ? 68 : 41 })) }
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
  const link = linksOf(one).find((each) => touches(each, partId));
  return link ? { ...one, settled: [{ partId: link.lower.id, mode, by: "system" }] } : one;
}

const touches = ({ upper, cables, lower }: Link, partId: string) =>
  [upper, ...cables, lower].some(({ id }) => id === partId);

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
