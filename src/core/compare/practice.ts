import { differences } from "../chain/difference";
import type { Rig } from "../chain/rig";
import { compareRepeats } from "../stats/compare";
import type { Cell } from "./cell";
import type { Comparison, Row } from "./comparison";

/** What it costs to put a rig together, of what has a price. */
export interface Cost {
  amount: number;
  currency: string;
  /** Parts that have no price. */
  unpriced: number;
}

/** Prices of a rig's parts; the tester's computer is there anyway. @returns null for several currencies, or none */
export function costOf({ parts }: Rig): Cost | null {
  const bought = parts.filter(({ kind }) => kind !== "host-port");
  const priced = bought.flatMap(({ price }) => price ?? []);
  const currencies = new Set(priced.map(({ currency }) => currency));
  if (currencies.size !== 1) return null;
  return {
    amount: priced.reduce((sum, { amount }) => sum + amount, 0),
    currency: [...currencies][0]!,
    unpriced: bought.length - priced.length,
  };
}

/**
 * Time that a path adds to each request against the baseline, seconds: the difference of 1/IOPS with
 * one request at a time (docs/model.md, 3).
 *
 * @returns null where more than one was in flight, or there is nothing to hold it against
 */
export const pathCost = (cell: Cell, base: Cell | null, depth: number | null): number | null =>
  depth === 1 && base && cell.iops > 0 && base.iops > 0 && cell.key === base.key
    ? 1 / cell.iops - 1 / base.iops
    : null;

/** How long it takes to move so much, and what that rests on. */
export interface Moving {
  seconds: number;
  /** Whether the rate after the cache's edge is known, and in it. */
  sustained: boolean;
  /** Whether the other side is what holds it back. */
  byOther: boolean;
}

/**
 * Time to move some bytes: at the burst rate up to the cache's edge, at the sustained rate after it,
 * and never faster than the other side of the copy.
 *
 * @param short what was seen in a short run @param long what was seen in a long one, if anything
 * @param bytes to move @param other MB/s of the other side; null: faster than anything here
 */
export function timeFor(
  bytes: number,
  short: Cell | null,
  long: Cell | null,
  other: number | null,
): Moving | null {
  const most = other ?? Infinity;
  const shown = long ?? short;
  if (!shown) return null;
  const first = long?.edgeBytes ? (long.burst ?? long.repeats.median) : shown.repeats.median;
  const edge = long?.edgeBytes ?? Infinity;
  const after = long?.sustained ?? first;
  const seconds =
    Math.min(bytes, edge) / (Math.min(first, most) * 1e6) +
    Math.max(0, bytes - edge) / (Math.min(after, most) * 1e6);
  const byOther = most < (bytes > edge ? after : first);
  return { seconds, sustained: long !== null, byOther };
}

/** What one exchanged part gained, by what was measured with it and without. */
export interface Upgrade {
  from: Row;
  to: Row;
  what: string;
  /** MB/s, in the first column in which both were seen. */
  gain: number;
  share: number;
  /** What the part costs more than the one it takes the place of; null where a price is missing. */
  extra: { amount: number; currency: string } | null;
}

/** Whether memory answered, or a link is not what was declared: such a rate was gained by no part. */
export const isBeyond = ({ doubtful, ceiling, repeats }: Cell): boolean =>
  doubtful || (ceiling !== null && (repeats.interval?.low ?? repeats.median) > ceiling);

const MOST_PAIRED = 20;

/** Of all pairs of rigs that differ in one part only, what that part gained beyond the noise; the most first. */
export function upgrades({ rows }: Comparison, most = 8): Upgrade[] {
  const found: Upgrade[] = [];
  // Pairs grow with the square: of more rigs the tester asks for fewer.
  const some = rows.slice(0, MOST_PAIRED);
  for (const from of some) {
    for (const to of some) {
      const at = from.cells.findIndex((cell, i) => cell && to.cells[i]);
      const [a, b] = [from.cells[at], to.cells[at]];
      if (!a || !b || isBeyond(a) || isBeyond(b)) continue;
      if (b.repeats.median <= a.repeats.median || a.key !== b.key) continue;
      if (compareRepeats(a.repeats, b.repeats).kind !== "difference") continue;
      const changes = differences(from.rig, to.rig);
      const [change] = changes;
      if (changes.length !== 1 || change!.kind !== "part") continue;
      const [old, fresh] = [change!.a?.price, change!.b?.price];
      const extra =
        fresh && (!change!.a || (old && old.currency === fresh.currency))
          ? { amount: fresh.amount - (old?.amount ?? 0), currency: fresh.currency }
          : null;
      const gain = b.repeats.median - a.repeats.median;
      found.push({ from, to, what: change!.what, gain, share: gain / a.repeats.median, extra });
    }
  }
  return found.toSorted((a, b) => b.gain - a.gain).slice(0, most);
}
