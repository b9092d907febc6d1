import { allLinks, offered } from "../chain/link";
import type { Rig } from "../chain/rig";
import { stagesOf } from "../chain/stage";
import { account } from "../ledger/account";
import { modeOf } from "../ledger/catalogue";
import type { LinkMode } from "../ledger/mode";
import type { Repeats } from "../stats/repeats";
import type { Direction } from "../units/rate";
import { NO_EVIDENCE, suspectsOf, type Carrier, type Evidence } from "./evidence";
import { narrowsOf, type Narrows } from "./narrows";
import { readRate, type Reading } from "./reading";

/**
 * What one measured rate says of its rig, together with what other runs have shown. Sentence,
 * drawing, course and verdict all start from this one finding.
 */
export interface Finding extends Reading {
  /** A slower mode of one of this rig's links whose attainable band holds the rate. */
  looksLike: LinkMode | null;
  /** Other places whose ceiling is within a twentieth of the narrows', by label. */
  near: string[];
  /**
   * Of a rate below its ledger: what no run has shown to carry clearly more, and so may hold it
   * back; otherwise empty.
   */
  suspects: Carrier[];
}

const NEAR = 1.05;

/**
 * Judges a rig's repeats against its ledger and against what runs have shown.
 *
 * @param observed repeats of one drill in one direction, MB/s
 * @param small whether the drill asks for small requests
 * @returns null for a rig without stages, or one whose links do not come up
 */
export function findingOf(
  rig: Rig,
  direction: Direction,
  observed: Repeats,
  evidence: Evidence = NO_EVIDENCE,
  small = false,
): Finding | null {
  const reading = readRate(rig, direction, observed, small);
  if (!reading) return null;
  const below = reading.kind === "below";
  return {
    ...reading,
    looksLike: below ? slowerMode(rig, direction, observed.median) : null,
    near: nearly(rig, direction, reading.narrows),
    suspects: below ? suspectsOf(rig, direction, observed.median, evidence) : [],
  };
}

function nearly(rig: Rig, direction: Direction, narrows: Narrows): string[] {
  return stagesOf(rig, direction)
    .filter(
      (stage) =>
        stage.ceiling <= narrows.ceiling * NEAR &&
        !narrows.stageKeys.includes(stage.key) &&
        !(stage.cause.kind === "link" && stage.cause.link.upper === narrows.link?.upper),
    )
    .map(({ label }) => label);
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

/** Which stages a drawing of a rig marks, and whether as found or as foreseen. */
export interface Marks {
  stageKeys: string[];
  predicted: boolean;
}

/**
 * The stages to mark: of a measured rig the narrows that the flow nearly fills, and none where
 * something else holds the flow back; of one without a flow the predicted narrows.
 *
 * @param finding of the flow that is drawn
 */
export function marksOf(
  rig: Rig,
  direction: Direction,
  finding: Finding | null,
  measured: boolean,
): Marks {
  if (measured) {
    const found = finding?.kind === "at narrows" ? finding.narrows.stageKeys : [];
    return { stageKeys: found, predicted: false };
  }
  return { stageKeys: narrowsOf(rig, direction)?.stageKeys ?? [], predicted: true };
}
