import type { Part } from "../../chain/part";
import type { Rig } from "../../chain/rig";
import { usualDrill } from "../../drills/shape";
import { normal, seeded, type Random } from "../../simulate/noise";
import { summarise } from "../../stats/repeats";
import { part, rig } from "../../testing/rigs";
import type { Observation } from "../locate";
import { between } from "./hidden-cause";
import type { MadeBench } from "./made-bench";

/**
 * Benches of small requests whose truth is known. Here the times of all parts add up, one request after
 * another or many at once, and bridges, drives and hosts take only so many a second: the program knows
 * of none of that but what the ledger foresees.
 */
export const SMALL_CAUSES = [
  "enclosure takes its time",
  "enclosure takes few a second",
  "hub takes its time",
  "host-port takes its time",
  "file system takes its time",
  "host takes its time",
  "drive takes its time",
  "drive is a disk",
  "cable drops to high speed",
  "driver that cannot queue",
] as const;
type SmallCause = (typeof SMALL_CAUSES)[number];

const MODES = ["usb-480m", "usb-5g", "usb-10g"];
const SLOT = ["pcie-3.0-x4"];
const BLOCK = 4096;
/** MB/s that good hardware gets of high speed, and microseconds that a request waits for its frames. */
const HIGH_SPEED = { mbps: 38, us: 375 };
const OLD_HOST = "old desk";
const SLOW_FILES = "NTFS";

/** What a part takes of each request, microseconds, and how many a second it takes on at most. */
interface Toll {
  us: number;
  most: number;
}

/** What is true of a bench. */
interface Truth {
  tolls: ReadonlyMap<string, Toll>;
  /** Of the driver, of a host that is slow, and of a file system that is, microseconds. */
  driver: number;
  host: number;
  files: number;
  /** The cable that comes up at high speed only. */
  dropping: string | null;
}

/** A bench whose slow rig is held back by one cause, each kind in turn. */
export function makeSmallBench(seed: number): MadeBench {
  const cause = SMALL_CAUSES[seed % SMALL_CAUSES.length]!;
  for (let attempt = 0; ; attempt++) {
    const random = seeded(scattered(seed) + attempt);
    const made = tryBench(random, seed, cause);
    if (made) return made;
  }
}

function tryBench(random: Random, seed: number, cause: SmallCause): MadeBench | null {
  const { chain, shelf } = partsFor(random, cause);
  const deep = /few|driver/.test(cause) || random() < 0.5;
  const drill = usualDrill("scatter", "read", deep ? {} : { depth: 1 });
  const slow: Rig = {
    ...rig(chain),
    id: "slow",
    name: "slow",
    fileSystem: SLOW_FILES,
    host: OLD_HOST,
    transport: cause.startsWith("driver") ? "usb-unqueued" : null,
  };
  const culprit = chain.find(({ kind }) => cause.startsWith(`${kind} `));
  const sound: Truth = {
    tolls: new Map(shelf.map(({ id, kind }) => [id, usualToll(random, kind)])),
    driver: between(random, 50, 120),
    host: 0,
    files: 0,
    dropping: null,
  };
  const truth = withCause(random, cause, culprit?.id ?? null, sound);
  const capacity = (one: Rig) => carries(one, drill.depth as number, truth);
  // The cause has to be felt, beside what is usual.
  const usual = carries({ ...slow, transport: null }, drill.depth as number, sound);
  if (capacity(slow) > usual * 0.4) return null;

  const noise = between(random, 0.01, 0.06);
  const setUp = between(random, 0.003, 0.03);
  const measure = (one: Rig): Observation => {
    const rate = capacity(one) * Math.exp(setUp * normal(random));
    const rates = Array.from({ length: 3 }, () => rate * Math.exp(noise * normal(random)));
    return {
      rig: one,
      drill,
      doubtful: false,
      measurementIds: [one.id],
      repeats: summarise(rates),
    };
  };
  const at = culprit ? { part: culprit.id } : { condition: conditionOf(cause) };
  const right = (named: unknown) => JSON.stringify(named) === JSON.stringify(at);
  return {
    seed,
    cause,
    slow,
    shelf,
    right,
    measure,
    carries: ({ id }) => (truth.tolls.get(id)!.most * BLOCK) / 1e6,
    most: (one) => carries(one, drill.depth as number, sound),
  };
}

/** Seeds that follow on each other, far apart (the constants of a step of splitmix32). */
function scattered(seed: number): number {
  let mixed = Math.imul(seed, 0x9e3779b9);
  mixed = Math.imul(mixed ^ (mixed >>> 16), 0x21f0aaad);
  mixed = Math.imul(mixed ^ (mixed >>> 15), 0x735a2d97);
  return (mixed ^ (mixed >>> 15)) >>> 0;
}

const conditionOf = (cause: SmallCause) =>
  cause.startsWith("host ") ? "host" : cause.startsWith("file") ? "fileSystem" : "transport";

function partsFor(random: Random, cause: SmallCause): { chain: Part[]; shelf: Part[] } {
  let count = 0;
  const make = (kind: Part["kind"], connectors: Parameters<typeof part>[2]) =>
    part(kind, `${kind}-${++count}`, connectors);
  const makers = {
    "host-port": () => make("host-port", { down: MODES }),
    cable: () => make("cable", { through: MODES }),
    hub: () => make("hub", { up: MODES, down: MODES }),
    enclosure: () => make("enclosure", { up: MODES, down: SLOT }),
    drive: () => make("drive", { up: SLOT }),
  };
  const between = cause.startsWith("hub") || random() < 0.4 ? [makers.hub(), makers.cable()] : [];
  const chain = [
    makers["host-port"](),
    makers.cable(),
    ...between,
    makers.enclosure(),
    makers.drive(),
  ];
  const spares = (["host-port", "cable", "enclosure", "drive"] as const).flatMap((kind) =>
    Array.from({ length: 1 + Math.floor(random() * 2) }, makers[kind]),
  );
  return { chain, shelf: [...chain, ...spares] };
}

const usualToll = (random: Random, kind: Part["kind"]): Toll => {
  switch (kind) {
    case "host-port":
      return { us: between(random, 3, 10), most: between(random, 150e3, 300e3) };
    case "enclosure":
      return { us: between(random, 8, 40), most: between(random, 35e3, 90e3) };
    case "drive":
      return { us: between(random, 40, 110), most: between(random, 90e3, 500e3) };
    default:
      return { us: between(random, 0.1, 4), most: Infinity };
  }
};

function withCause(random: Random, cause: SmallCause, culprit: string | null, sound: Truth): Truth {
  const slowUs = between(random, 400, 2500);
  const changed = (toll: Partial<Toll>): Truth => {
    const tolls = new Map(sound.tolls);
    tolls.set(culprit!, { ...tolls.get(culprit!)!, ...toll });
    return { ...sound, tolls };
  };
  switch (cause) {
    case "enclosure takes few a second":
      return changed({ most: between(random, 2000, 9000) });
    case "drive is a disk":
      return changed({ us: between(random, 6000, 16_000), most: between(random, 80, 400) });
    case "cable drops to high speed":
      return { ...sound, dropping: culprit };
    case "host takes its time":
      return { ...sound, host: slowUs };
    case "file system takes its time":
      return { ...sound, files: slowUs };
    case "driver that cannot queue":
      return sound;
    default:
      return changed({ us: sound.tolls.get(culprit!)!.us + slowUs });
  }
}

/** What a rig lets through of requests of 4 KiB, MB/s. */
function carries(one: Rig, depth: number, truth: Truth): number {
  const { parts, transport, host: on, fileSystem } = one;
  const { tolls, driver, host, files, dropping } = truth;
  const low = parts.some(({ id }) => id === dropping);
  const unqueued = transport === "usb-unqueued";
  const link = low ? HIGH_SPEED.mbps : 1000;
  const us =
    parts.reduce((sum, { id }) => sum + tolls.get(id)!.us, 0) +
    (driver +
      (unqueued ? 60 : 0) +
      (on === OLD_HOST ? host : 0) +
      (fileSystem === SLOW_FILES ? files : 0) +
      (low ? HIGH_SPEED.us : 0)) +
    BLOCK / link;
  const inFlight = unqueued ? 1 : depth;
  const most = inFlight === 1 ? Infinity : Math.min(...parts.map(({ id }) => tolls.get(id)!.most));
  return Math.min((inFlight * BLOCK) / us, (most * BLOCK) / 1e6, link);
}
