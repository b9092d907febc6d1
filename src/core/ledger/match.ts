import type { Direction } from "../units/rate";
import { account } from "./account";
import type { LinkMode, TransportId } from "./mode";

/** A mode, with a command protocol, whose attainable band holds a rate. */
export interface Match {
  mode: LinkMode;
  transport: TransportId;
  low: number;
  high: number;
  /** How far from the middle of the band, as a share of half its width: 0 in the middle, 1 at an edge. */
  off: number;
}

/**
 * Which links a measured rate looks like: all whose attainable band holds it, with their usual
 * protocol before any other, the one in whose middle it lies first. Several protocols on one mode count once, by the better fit.
 *
 * @param mbps measured payload rate, MB/s
 */
export function modesHolding(
  mbps: number,
  modes: readonly LinkMode[],
  direction: Direction,
): Match[] {
  return modes
    .flatMap((mode) => {
      const fits = mode.transports.flatMap(({ id: transport }): Match[] => {
        const { low, high } = account(mode, direction, { transport }).attainable;
        if (mbps < low || mbps > high) return [];
        const off = Math.abs(mbps - (low + high) / 2) / ((high - low) / 2);
        return [{ mode, transport, low, high, off }];
      });
      return fits.toSorted((a, b) => a.off - b.off).slice(0, 1);
    })
    .toSorted((a, b) => unusual(a) - unusual(b) || a.off - b.off);
}

/** A protocol that a mode does not usually carry is a second thing to suppose. */
const unusual = ({ mode, transport }: Match) => (mode.transports[0]!.id === transport ? 0 : 1);
