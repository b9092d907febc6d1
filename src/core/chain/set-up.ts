import type { TransportId } from "../ledger/mode";
import { drivenLink, usualTransport } from "./link";
import { fileSystemOf, type Rig } from "./rig";

/** The same for two rigs in which the same items stand alike, under the same conditions. */
export function setUpKey(rig: Rig): string {
  let known = setUps.get(rig);
  if (known === undefined) setUps.set(rig, (known = makeSetUpKey(rig)));
  return known;
}

/** Worked out once for each rig. */
const setUps = new WeakMap<Rig, string>();

const makeSetUpKey = (rig: Rig): string =>
  JSON.stringify([
    ...[rig.parts, rig.beside, rig.other].map((list) => list.map(({ id }) => id)),
    rig.layout,
    // What an older version kept does not say it.
    rig.layoutBy ?? "box",
    rig.bay || "",
    transportKey(rig),
    fileSystemOf(rig).toLowerCase(),
    rig.host.toLowerCase(),
    // What an older version kept does not say it.
    (rig.farHost ?? "").toLowerCase(),
  ]);

/** The driver mode, where it is another than comes about by itself. */
function transportKey(rig: Rig): TransportId | null {
  const driven = rig.transport && drivenLink(rig);
  return driven && usualTransport(driven) === rig.transport ? null : rig.transport;
}
