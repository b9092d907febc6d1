import { allLinks, isSlower, type Link } from "./link";
import type { Rig } from "./rig";
import { setUpKey } from "./set-up";

/** The links of a rig that came up at a slower mode than all their parts share, as was reported. */
export function droppedLinks(rig: Rig): Link[] {
  return allLinks(rig).filter(isDropped);
}

/** Whether a link was reported at a slower mode than its parts share. */
export const isDropped = ({ mode, negotiated, settledBy }: Link): boolean =>
  settledBy !== null && mode !== null && negotiated !== null && isSlower(mode, negotiated);

/**
 * A rig as its parts would have it: a link that was reported at a slower mode than they share is no
 * design but a sign of something that held it there. The same object for the same rig.
 */
export function designed(rig: Rig): Rig {
  let known = designs.get(rig);
  if (!known) designs.set(rig, (known = withoutDrops(rig)));
  return known;
}

const designs = new WeakMap<Rig, Rig>();

function withoutDrops(rig: Rig): Rig {
  const dropped = new Set(droppedLinks(rig).map(({ lower }) => lower.id));
  if (dropped.size === 0) return rig;
  return { ...rig, settled: rig.settled.filter(({ partId }) => !dropped.has(partId)) };
}

/**
 * Whether one set-up was seen with a link dropped and without: then nothing in it holds it there for
 * good, and the mode is what came about that time.
 */
export const comesAndGoes = (rig: Rig, others: readonly Rig[]): boolean => {
  const dropped = droppedLinks(rig);
  if (dropped.length === 0) return false;
  const key = setUpKey(rig);
  return others
    .filter((other) => setUpKey(other) === key)
    .some((other) => {
      const modes = new Map(allLinks(other).map(({ lower, mode }) => [lower.id, mode?.id]));
      return dropped.some(({ lower, mode }) => modes.get(lower.id) !== mode?.id);
    });
};
