import type { Link } from "../../chain/link";
import type { Rig } from "../../chain/rig";
import { stagesOf } from "../../chain/stages";
import type { Repeats } from "../../stats/repeats";
import type { Direction } from "../../units/rate";
import { bottleneckOf, type Bottleneck } from "../../chain/bottleneck";

/** One measured rate held against the ledger of its rig. */
export interface Reading {
  /**
   * - at bottleneck: the flow nearly fills the bottleneck, as far as good hardware gets there
   * - by protocol: all that the link's protocol gets out of it, which fills it by far not
   * - by requests: small requests, of which each takes its time whatever the width of the link
   * - below: something that the ledger does not know holds the rig back
   * - above: more than the link can carry, so memory answered or the link is not what was declared
   */
  kind: "at bottleneck" | "by protocol" | "by requests" | "below" | "above";
  bottleneck: Bottleneck;
  observed: Repeats;
  /** Observed (median) over the hard ceiling of the bottleneck. */
  efficiency: number;
  /** The link whose protocol explains the rate, of one by protocol; else null. */
  through: Link | null;
}

/** Timer and counter error of a run of a few seconds; nothing honest exceeds a ceiling by more. */
const ABOVE_BY = 1.01;

/**
 * From where on a flow nearly fills a stage, as a share of its ceiling. The bands of queued
 * protocols begin here, and in a drawing, whose widths go with rate^0.42, such a flow covers nine
 * tenths of the channel.
 */
export const NEARLY_FULL = 0.75;

/**
 * Reads a rig's repeats against its ledger.
 *
 * @param observed repeats of one drill in one direction, MB/s
 * @param small whether the drill asks for small requests, of which the ledger foresees no rate
 * @returns null for a rig without stages, or one whose links do not come up
 */
export function readRate(
  rig: Rig,
  direction: Direction,
  observed: Repeats,
  small = false,
): Reading | null {
  const bottleneck = bottleneckOf(rig, direction);
  if (!bottleneck || bottleneck.ceiling <= 0) return null;
  const efficiency = observed.median / bottleneck.ceiling;
  const surelyAbove = (observed.interval?.low ?? observed.median) > bottleneck.ceiling;
  const as = (kind: Reading["kind"], through: Link | null = null): Reading => ({
    kind,
    bottleneck,
    observed,
    efficiency,
    through,
  });
  if (efficiency > ABOVE_BY && surelyAbove) return as("above");
  if (observed.median >= bottleneck.attainable.low && efficiency >= NEARLY_FULL) {
    return as("at bottleneck");
  }
  if (small) return as("by requests");
  const through = slowProtocol(rig, direction, observed.median);
  return through ? as("by protocol", through) : as("below");
}

/** The link whose protocol gets about this rate, and no more than part of its ceiling, out of it. */
function slowProtocol(rig: Rig, direction: Direction, mbps: number): Link | null {
  const found = stagesOf(rig, direction)
    .filter(({ attainable }) => attainable.low <= mbps && mbps <= attainable.high)
    .filter(({ ceiling }) => mbps < ceiling * NEARLY_FULL)
    .toSorted((a, b) => a.attainable.high - b.attainable.high)
    .flatMap(({ cause }) => (cause.kind === "link" ? [cause.link] : []));
  return found[0] ?? null;
}
