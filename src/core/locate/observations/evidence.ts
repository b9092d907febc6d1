import { linksOf, transportOn } from "../../chain/link";
import type { Part } from "../../chain/part";
import { fileSystemOf, type Rig } from "../../chain/rig";
import { TRANSPORT_NAMES } from "../../ledger/account";
import { SMALLEST_EFFECT } from "../../stats/compare";
import type { Repeats } from "../../stats/repeats";
import type { Observation } from "../../study/measurement";
import type { Direction } from "../../units/rate";
import { readRate } from "./against-ledger";

/** Something that a run's flow depended on: a part it passed, or a condition it ran under. */
export interface Carrier {
  /** The same wherever it stands. */
  key: string;
  /** Null for a condition. */
  part: Part | null;
  /** As said in a list: "K5", "file system exFAT". */
  name: string;
}

/** The most that a carrier has been shown to let through in one direction, and by which runs. */
export interface Shown {
  repeats: Repeats;
  /** Of the runs' rate, how much passed the carrier: less than 1 for one drive of several. */
  share: number;
  rig: Rig;
  measurementIds: string[];
}

/**
 * What sound runs have shown, by direction and carrier: those with an interval where there are any, else
 * single ones, which show no more than that so much passed once.
 */
export type Evidence = ReadonlyMap<string, Shown>;

const entry = (direction: Direction, { key }: Pick<Carrier, "key">) => `${direction} ${key}`;

const ofPart = (part: Part): Carrier => ({ key: `part ${part.id}`, part, name: part.name });
const condition = (what: string, value: string): Carrier => ({
  key: `${what} ${value.toLowerCase()}`,
  part: null,
  name: `${what} ${value}`,
});

/** Everything that the flow through a rig depends on. */
export function carriersOf(rig: Rig): Carrier[] {
  const [first] = linksOf(rig);
  const protocol = first && transportOn(rig, first);
  const all = [...rig.parts, ...rig.beside, ...rig.other].map(ofPart);
  return [
    ...all.filter(({ key }, i) => all.findIndex((other) => other.key === key) === i),
    ...(protocol && protocol !== "stated"
      ? [condition("driver mode", TRANSPORT_NAMES[protocol])]
      : []),
    ...(rig.bay && rig.beside.length === 0
      ? [condition("bay", `${rig.bay} of ${rig.parts.at(-2)?.name}`)]
      : []),
    ...(fileSystemOf(rig) ? [condition("file system", fileSystemOf(rig))] : []),
    ...(rig.host ? [condition("host", rig.host)] : []),
  ];
}

/** Which carriers a rig's runs pass in which direction, and how much of their rate. */
function passes(rig: Rig, direction: Direction): { at: string; share: number }[] {
  const against = direction === "read" ? "write" : "read";
  const drives = [rig.parts.at(-1), ...rig.beside].flatMap((part) => part?.id ?? []);
  const share = shareOfDrive(rig, direction);
  const ends = new Set(rig.other.map(({ id }) => id));
  const here = carriersOf(rig)
    .filter(({ part }) => !part || rig.parts.includes(part) || rig.beside.includes(part))
    .map((carrier) => ({
      at: entry(direction, carrier),
      share: carrier.part && drives.includes(carrier.part.id) ? share : 1,
    }));
  const there = carriersOf(rig)
    .filter(({ part }) => part && ends.has(part.id))
    .map((carrier) => ({ at: entry(against, carrier), share: 1 }));
  return [...here, ...there].filter(({ share: part }) => part > 0);
}

/**
 * How much of a rig's rate each of its drives surely moved. Striping spreads evenly, also where parity is
 * written beside the payload; a mirror writes everything to each; how drives apart, or a mirror's readers, share the flow is not known.
 */
function shareOfDrive({ beside, layout }: Rig, direction: Direction): number {
  if (beside.length === 0) return 1;
  const drives = beside.length + 1;
  const written = { "raid-1": 1, "raid-5": 1 / (drives - 1), "raid-6": 1 / (drives - 2) };
  if (layout === "raid-0") return 1 / drives;
  if (layout === "raid-10") return direction === "write" ? 2 / drives : 0;
  if (layout === "apart" || (layout === "raid-1" && direction === "read")) return 0;
  return direction === "write" ? written[layout] : 1 / drives;
}

/**
 * Gathers what runs have shown each part and condition to carry. A run that memory may have answered
 * and a rate above its rig's ceiling show nothing.
 *
 * @param observations of one kind of drill
 */
export function gatherEvidence(observations: readonly Observation[]): Evidence {
  const shown = new Map<string, Shown>();
  for (const { rig, drill, repeats, measurementIds, doubtful } of observations) {
    if (doubtful || drill.direction === "mixed") continue;
    if (readRate(rig, drill.direction, repeats)?.kind === "above") continue;
    for (const { at, share } of passes(rig, drill.direction)) {
      const before = shown.get(at);
      const here: Shown = { repeats, share, rig, measurementIds };
      if (!before || isMore(here, before)) shown.set(at, here);
    }
  }
  return shown;
}

/** The lower end of what was shown, MB/s; nothing for a single run. */
const lowOf = ({ repeats, share }: Shown) => (repeats.interval?.low ?? 0) * share;

const isMore = (a: Shown, b: Shown): boolean =>
  lowOf(a) !== lowOf(b)
    ? lowOf(a) > lowOf(b)
    : a.repeats.median * a.share > b.repeats.median * b.share;

/** The most that runs have shown a carrier to let through, whatever that is; null where nothing passed. */
export const mostShown = (
  evidence: Evidence,
  carrier: Carrier,
  direction: Direction,
): Shown | null => evidence.get(entry(direction, carrier)) ?? null;

/**
 * The runs that show a carrier to let clearly more than a rate through: their whole 95 % interval
 * lies above it, and they exceed it by more than the smallest effect of interest.
 *
 * @param mbps the rate to be exceeded, MB/s
 * @returns null where no run shows that
 */
export function showsMore(
  evidence: Evidence,
  carrier: Carrier,
  direction: Direction,
  mbps: number,
  smallestEffect = SMALLEST_EFFECT,
): Shown | null {
  const shown = evidence.get(entry(direction, carrier));
  if (!shown || lowOf(shown) <= mbps) return null;
  return shown.repeats.median * shown.share >= mbps * (1 + smallestEffect) ? shown : null;
}

/**
 * The directions in which a carrier is passed while a rig moves data one way: at the other end of a
 * copy it is the opposite one, and what stands at both ends is passed both ways.
 */
export function directionsThrough(rig: Rig, carrier: Carrier, direction: Direction): Direction[] {
  const { part } = carrier;
  if (!part || rig.other.length === 0) return [direction];
  const against = direction === "read" ? "write" : "read";
  const here = [...rig.parts, ...rig.beside].some(({ id }) => id === part.id);
  const there = rig.other.some(({ id }) => id === part.id);
  return [...(here ? [direction] : []), ...(there ? [against as Direction] : [])];
}
