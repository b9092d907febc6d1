import * as z from "zod";
import { account } from "../ledger/account";
import { modeOf } from "../ledger/catalogue";
import type { LinkMode } from "../ledger/mode";
import { ethernetMode } from "../system/modes";
import { summarise, type Repeats } from "../stats/repeats";
import type { Direction } from "../units/rate";
import { Carried, NetworkEnd, Passage } from "./protocol";

/** What the network between two machines carried by itself, from memory to memory. */
export const NetworkFigures = z.object({
  /** The machine that asked, as rigs name it: a host, or the one that Nerrit runs on. */
  from: z.string().max(255),
  /** The machine that answered: "read" is from there. */
  to: z.string().max(255),
  at: z.iso.datetime({ offset: true }),
  /** Their interfaces; null where an end did not say. */
  ends: z.object({ from: NetworkEnd.nullable(), to: NetworkEnd.nullable() }),
  passages: z.array(Passage.extend({ carried: Carried })).max(200),
});
export type NetworkFigures = z.infer<typeof NetworkFigures>;

/** The passages that are usually done: over one connection and over several, both ways, three times. */
export function usualPassages({
  connections = [1, 4],
  repeats = 3,
  seconds = 3,
  block = 512 * 2 ** 10,
}: {
  connections?: readonly number[];
  repeats?: number;
  seconds?: number;
  block?: number;
} = {}): Passage[] {
  // The repeats stand outermost: what changes over the minute changes all alike.
  return Array.from({ length: repeats }, () =>
    connections.flatMap((count) =>
      (["read", "write"] as const).map((direction): Passage => ({
        direction,
        connections: count,
        block,
        seconds,
        // TCP takes some round trips to reach its rate, and buffers grow meanwhile.
        leadIn: Math.min(1, seconds / 2),
      })),
    ),
  ).flat();
}

/** How long passages take, seconds. */
export const secondsOf = (passages: readonly Passage[]): number =>
  passages.reduce((sum, { seconds, leadIn }) => sum + seconds + leadIn, 0);

/** What was carried over so many connections, MB/s. */
export interface NetworkRow {
  connections: number;
  rates: Record<Direction, Repeats | null>;
}

const rateOf = ({ bytes, ms }: Carried): number => bytes / 1e3 / ms;

/** What was carried, by how many connections there were. */
export function rowsOf({ passages }: Pick<NetworkFigures, "passages">): NetworkRow[] {
  const counts = [...new Set(passages.map(({ connections }) => connections))];
  const of = (count: number, way: Direction) => {
    const rates = passages
      .filter(({ connections, direction }) => connections === count && direction === way)
      .map(({ carried }) => rateOf(carried));
    return rates.length > 0 ? summarise(rates) : null;
  };
  return counts
    .toSorted((a, b) => a - b)
    .map((connections) => ({
      connections,
      rates: { read: of(connections, "read"), write: of(connections, "write") },
    }));
}

/** The most that was carried one way; null where nothing was. */
export const mostCarried = (
  figures: Pick<NetworkFigures, "passages">,
  direction: Direction,
): Repeats | null =>
  rowsOf(figures)
    .flatMap(({ rates }) => rates[direction] ?? [])
    .toSorted((a, b) => b.median - a.median)[0] ?? null;

/** What the link of the slower end carries at most. */
export interface NetworkCeiling {
  mode: LinkMode;
  mtu: number;
  /** Payload of TCP in full frames, MB/s. */
  mbps: number;
}

const USUAL_MTU = 1500;

/** The ledger's ceiling between two ends: of the slower one, in the smaller frames; null where neither says its rate. */
export function ceilingOf({ ends }: Pick<NetworkFigures, "ends">): NetworkCeiling | null {
  const known = [ends.from, ends.to].flatMap((end) => end ?? []);
  const modes = known.flatMap(({ megabits }) => {
    const id = megabits === null ? null : ethernetMode(String(megabits));
    return id ? [modeOf(id)] : [];
  });
  const [slowest] = modes.toSorted((a, b) => a.gigatransfers - b.gigatransfers);
  if (!slowest) return null;
  const mtu = Math.min(...known.flatMap((end) => end.mtu ?? []), Infinity);
  const frames = Number.isFinite(mtu) ? mtu : USUAL_MTU;
  return {
    mode: slowest,
    mtu: frames,
    mbps: account(slowest, "read", { assumptions: { mtu: frames } }).hardCeiling,
  };
}

/** A core, or a process, that has no time left, as a share of its time. */
const FULL = 0.97;

/** Whether a processor had no time left in most passages that counted at one end: then the network may carry more. */
export function isProcessorFull(
  { passages }: Pick<NetworkFigures, "passages">,
  direction: Direction,
): boolean {
  const counted = passages.filter((one) => one.direction === direction);
  const full = counted.filter(
    ({ carried }) => carried.process >= FULL || (carried.busiestCore ?? 0) >= FULL,
  );
  return full.length > counted.length / 2;
}
