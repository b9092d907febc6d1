import { allLinks, offered, type Link } from "../../chain/link";
import type { Rig } from "../../chain/rig";
import { stagesOf } from "../../chain/stages";
import { account } from "../../ledger/account";
import { modeOf } from "../../ledger/catalogue";
import type { LinkMode } from "../../ledger/mode";
import type { Repeats } from "../../stats/repeats";
import type { Direction } from "../../units/rate";
import { isDropped } from "../../chain/designed";
import { bottleneckOf, type Bottleneck } from "../../chain/bottleneck";
import { readRate, type Reading } from "../observations/against-ledger";
import type { At } from "../hypotheses/site";
import { degreeOf } from "./certainty";
import type { Standing } from "./standing";

/**
 * What one measured rate says of its rig by itself. Sentence, drawing, course and verdict all start
 * from this one finding, and from what Locate makes of all runs together (`heldAgainst`).
 */
export interface Finding extends Reading {
  /** A slower mode of one of this rig's links whose attainable band holds the rate. */
  looksLike: LinkMode | null;
  /** Other places whose ceiling is within a twentieth of the bottleneck', by label. */
  near: string[];
}

const NEAR = 1.05;

/**
 * Judges a rig's repeats against its ledger.
 *
 * @param observed repeats of one drill in one direction, MB/s
 * @param small whether the drill asks for small requests
 * @returns null for a rig without stages, or one whose links do not come up
 */
export function findingOf(
  rig: Rig,
  direction: Direction,
  observed: Repeats,
  small = false,
): Finding | null {
  const reading = readRate(rig, direction, observed, small);
  if (!reading) return null;
  return {
    ...reading,
    looksLike: reading.kind === "below" ? slowerMode(rig, direction, observed.median) : null,
    near: nearly(rig, direction, reading.bottleneck),
  };
}

/** From here on what Locate says of a rig overrules what its rate looks like by itself. */
const OVERRULES = 0.8;

/**
 * A finding, held against what all runs together make of the rig: a rate that only happens to lie where
 * a bottleneck would let it is none of that bottleneck.
 */
export function heldAgainst(
  finding: Finding,
  rig: Rig,
  direction: Direction,
  observed: Repeats,
  standing: Standing | null,
): Finding {
  const { likeliest } = standing ?? {};
  const other =
    finding.kind === "at bottleneck" &&
    likeliest &&
    likeliest.kind !== "as-designed" &&
    !isDropOf(finding.bottleneck.link, likeliest.at) &&
    likeliest.probability >= OVERRULES;
  return other
    ? { ...finding, kind: "below", looksLike: slowerMode(rig, direction, observed.median) }
    : finding;
}

/** Whether a place is what may hold a link at the slower mode that it was reported at. */
export function isDropOf(link: Link | null, at: At): boolean {
  if (!link || !isDropped(link) || !at) return false;
  const ids = [link.upper, ...link.cables, link.lower].map(({ id }) => id);
  const places = "part" in at ? [at.part] : "between" in at ? at.between : [];
  return places.length > 0 && places.every((id) => ids.includes(id));
}

function nearly(rig: Rig, direction: Direction, bottleneck: Bottleneck): string[] {
  return stagesOf(rig, direction)
    .filter(
      (stage) =>
        stage.ceiling <= bottleneck.ceiling * NEAR &&
        !bottleneck.stageKeys.includes(stage.key) &&
        !(stage.cause.kind === "link" && stage.cause.link.upper === bottleneck.link?.upper),
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

/** Which stages a drawing of a rig marks. */
export interface Marks {
  /** The bottleneck: the stages that limit the flow, or are foreseen to. */
  stageKeys: string[];
  /** Stages of a part that is likely what limits the flow, and not shown to. */
  likelyKeys: string[];
  /** Whether the bottleneck is foreseen, with no flow measured. */
  predicted: boolean;
}

/** What is known of a rig when it is drawn. */
export interface Drawable {
  rig: Rig;
  finding: Finding | null;
  standing: Standing | null;
  observation: object | null;
}

/**
 * The stages to mark: of a measured rig the bottleneck that the flow nearly fills, and the part that is shown
 * to limit it; of one without a flow the predicted bottleneck.
 */
export function marksOf(
  { rig, finding, standing, observation }: Drawable,
  direction: Direction,
): Marks {
  if (!observation)
    return {
      stageKeys: bottleneckOf(rig, direction)?.stageKeys ?? [],
      likelyKeys: [],
      predicted: true,
    };
  const filled = finding?.kind === "at bottleneck" ? finding.bottleneck.stageKeys : [];
  const accused = accusedOf(standing);
  const keys = stagesOf(rig, direction)
    .filter(({ part }) => accused.parts.includes(part.id))
    .map(({ key }) => key);
  return {
    stageKeys: [...new Set([...filled, ...(accused.isShown ? keys : [])])],
    likelyKeys: accused.isShown ? [] : keys,
    predicted: false,
  };
}

/** The parts that a cause names, by their ids; none where it is open which of several it is. */
function accusedOf(standing: Standing | null): { parts: readonly string[]; isShown: boolean } {
  const { likeliest } = standing ?? {};
  const degree = likeliest ? degreeOf(likeliest.probability) : "open";
  if (!likeliest?.at || likeliest.others > 0 || degree === "open")
    return { parts: [], isShown: false };
  const { at } = likeliest;
  const parts = "part" in at ? [at.part] : "between" in at ? at.between : [];
  return { parts, isShown: degree === "shown" };
}
