import { allLinks, offered, type Link } from "./link";
import type { Part } from "./part";
import { replacePart, type Chain, type Rig } from "./rig";
import type { Stage } from "./stage";
import { stagesOf } from "./stages";
import type { Direction } from "../units/rate";

/** The stage, or the stages of one link, with the lowest ceiling of a rig. Rates in MB/s. */
export interface Bottleneck {
  ceiling: number;
  attainable: { low: number; high: number };
  /** The link that is narrow; null where a part's own limit is. */
  link: Link | null;
  /** The parts that make it so: only a change of all of these can widen it. */
  culprits: Part[];
  /** Keys of the stages to mark in a drawing: these, and any elsewhere that are just as narrow. */
  stageKeys: string[];
}

/**
 * The predicted bottleneck of a rig: the lowest stage ceiling in one direction.
 *
 * @returns null for a rig without stages (no drive at its end, say)
 */
export function bottleneckOf(rig: Rig, direction: Direction): Bottleneck | null {
  return lowest(stagesOf(rig, direction));
}

function lowest(stages: readonly Stage[]): Bottleneck | null {
  const first = stages.toSorted((a, b) => a.ceiling - b.ceiling)[0];
  if (!first) return null;
  if (first.cause.kind !== "link") {
    return {
      ceiling: first.ceiling,
      attainable: first.attainable,
      link: null,
      culprits: [first.part],
      stageKeys: [first.key],
    };
  }
  const { link } = first.cause;
  const onLink = stages.filter(({ cause }) => cause.kind === "link" && cause.link === link);
  const holding = onLink.filter(({ holds }) => holds);
  const equals = stages.filter(
    (s) => s.holds && !onLink.includes(s) && s.ceiling === first.ceiling,
  );
  return {
    ceiling: first.ceiling,
    attainable: first.attainable,
    link,
    culprits: link.heldBy,
    stageKeys: [...(holding.length > 0 ? holding : onLink), ...equals].map(({ key }) => key),
  };
}

/**
 * What would limit the rig if its bottleneck were replaced by a part that lets everything through.
 *
 * Where every part of the narrow link is as slow as the link, all of them would have to change, so
 * the link as a whole is left out.
 */
export function nextBottleneck(rig: Rig, direction: Direction): Bottleneck | null {
  const stages = stagesOf(rig, direction);
  const now = lowest(stages);
  if (!now) return null;
  if (!now.link) {
    const [culprit] = now.culprits;
    const freed = replacePart(rig, culprit!, { ...culprit!, limits: {} });
    if (culprit!.kind !== "drive") return bottleneckOf(freed, direction);
    return lowest(stages.filter(({ role }) => role !== "drive"));
  }
  const { link, culprits } = now;
  const ends = offered(link);
  if (culprits.length === ends.length) {
    return lowest(stages.filter(({ cause }) => cause.kind !== "link" || cause.link !== link));
  }
  return bottleneckOf(culprits.reduce(widen, rig), direction);
}

/** Replaces a part by one that takes whatever its neighbours offer, on every side it has. */
function widen(rig: Rig, part: Part): Rig {
  const wide = allLinks(rig).reduce((whole, link) => {
    const ends = offered(link);
    if (!ends.some(([{ id }]) => id === part.id)) return whole;
    const modes = ends.filter(([{ id }]) => id !== part.id).flatMap(([, own]) => own);
    const side = link.upper.id === part.id ? "down" : "up";
    const connectors = whole.connectors.map((connector) =>
      connector.side === side || connector.side === "through"
        ? { ...connector, modes: [...new Set([...connector.modes, ...modes])] }
        : connector,
    );
    return { ...whole, connectors };
  }, part);
  // A drive keeps its own rate: it is the plug that was narrow.
  return replacePart(rig, part, part.kind === "drive" ? wide : { ...wide, limits: {} });
}

/** The problems of a rig's links that will not come up. */
export function linkProblems(rig: Chain): string[] {
  return allLinks(rig).flatMap(({ problem }) => problem ?? []);
}
