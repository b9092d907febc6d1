import { allLinks, transportOn } from "../../../chain/link";
import type { Rig } from "../../../chain/rig";
import type { Observation } from "../observation";
import { signature, type Sign, type Signature } from "./sign";

/**
 * That a ladder by depth gains nothing from more requests in flight: the mark of a driver without
 * queueing. Now and then a slow drive or a bridge that works on one request at a time shows it too.
 */
export const FLAT_BY_DEPTH: Sign = {
  chance: (site) => (site.kind === "transport" ? 0.91 : null),
  otherwise: 0.11,
};

/** What ladders by depth say of the driver's mode. */
export function noRise({ rig, results, measurementIds }: Observation): Signature[] {
  const fits = results?.flatMap(({ fit }) => (fit?.by === "depth" ? [fit] : [])) ?? [];
  if (fits.length === 0 || !isStorage(rig)) return [];
  const rises = fits.filter((fit) => fit.rises).length > fits.length / 2;
  const text = `${rig.name || "The rig"} ${rises ? "gets faster" : "gets no faster"} with more requests in flight.`;
  return [signature(FLAT_BY_DEPTH, rig, !rises, { text, measurementIds })];
}

/** Whether the driver of a rig could queue, or not, as it is set. */
export const isStorage = (rig: Rig): boolean =>
  allLinks(rig).some((link) => transportOn(rig, link) !== undefined);
