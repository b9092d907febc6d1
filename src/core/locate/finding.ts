import { allLinks, offered } from "../chain/link";
import type { Rig } from "../chain/rig";
import { stagesOf } from "../chain/stage";
import { account } from "../ledger/account";
import { modeOf } from "../ledger/catalogue";
import type { LinkMode } from "../ledger/mode";
import type { Repeats } from "../stats/repeats";
import type { Direction } from "../units/rate";
import { narrowsOf, type Narrows } from "./narrows";

/**
 * What one measured rate says of its rig:
 * - at narrows: the rate lies where the predicted narrows lets good hardware get
 * - below: something that the ledger does not know holds the rig back
 * - above: more than the link can carry, so memory answered or the link is not what was declared
 */
export interface Finding {
  kind: "at narrows" | "below" | "above";
  narrows: Narrows;
  observed: Repeats;
  /** Observed (median) over the hard ceiling of the narrows. */
  efficiency: number;
  /** A slower mode of one of this rig's links whose attainable band holds the rate. */
  looksLike: LinkMode | null;
  /** Other places whose ceiling is within a twentieth of the narrows', by label. */
  near: string[];
}

/** Timer and counter error of a run of a few seconds; nothing honest exceeds a ceiling by more. */
const ABOVE_BY = 1.01;
const NEAR = 1.05;

/**
 * Judges a rig's repeats against its ledger.
 *
 * @param observed repeats of one drill in one direction, MB/s
 * @returns null for a rig without stages, or one whose links do not come up
 */
export function findingOf(rig: Rig, direction: Direction, observed: Repeats): Finding | null {
  const narrows = narrowsOf(rig, direction);
  if (!narrows || narrows.ceiling <= 0) return null;
  const efficiency = observed.median / narrows.ceiling;
  const surelyAbove = (observed.interval?.low ?? observed.median) > narrows.ceiling;
  const kind =
    efficiency > ABOVE_BY && surelyAbove
      ? "above"
      : observed.median >= narrows.attainable.low
        ? "at narrows"
        : "below";
  return {
    kind,
    narrows,
    observed,
    efficiency,
    looksLike: kind === "below" ? slowerMode(rig, direction, observed.median) : null,
    near: stagesOf(rig, direction)
      .filter(
        (stage) =>
          stage.ceiling <= narrows.ceiling * NEAR &&
          !narrows.stageKeys.includes(stage.key) &&
          !(stage.cause.kind === "link" && stage.cause.link.upper === narrows.link?.upper),
      )
      .map(({ label }) => label),
  };
}

/** A mode that some part of the rig could have dropped to, given the rate; the fastest such. */
function slowerMode(rig: Rig, direction: Direction, mbps: number): LinkMode | null {
  const ids = new Set(allLinks(rig).flatMap((link) => offered(link).flatMap(([, modes]) => modes)));
  const candidates = [...ids]
    .map(modeOf)
    .filter((mode) => {
      const { attainable } = account(mode, direction);
      return mbps >= attainable.low && mbps <= attainable.high;
    })
    .sort((a, b) => b.gigatransfers * b.lanes - a.gigatransfers * a.lanes);
  return candidates[0] ?? null;
}
