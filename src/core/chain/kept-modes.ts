import { allLinks } from "./link";
import type { Rig } from "./rig";

/**
 * A rig that was made from another, without what was said of links and parts that are not the same any
 * more: how a link came up says nothing of it with another cable.
 */
export function keptModes(made: Rig, from: Rig): Rig {
  const here = new Set([...made.parts, ...made.beside, ...made.other].map(({ id }) => id));
  const whole = new Set(
    allLinks(from)
      .filter((link) => [link.upper, ...link.cables, link.lower].every((part) => here.has(part.id)))
      .map(({ lower }) => lower.id),
  );
  const stays = ({ partId }: { partId: string }) => whole.has(partId);
  // A bay belongs to its box.
  const bay = made.parts.at(-2)?.id === from.parts.at(-2)?.id ? from.bay : "";
  return { ...made, bay, settled: from.settled.filter(stays), held: from.held.filter(stays) };
}
