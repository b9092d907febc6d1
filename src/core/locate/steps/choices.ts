import type { Rig } from "../../chain/rig";
import type { Observation } from "../observations/observation";
import type { Choices } from "./change";

/** File systems that any host of today can be given. */
const USUAL_FILE_SYSTEMS = ["ext4", "exFAT"];
const ANOTHER_HOST = "another computer";

/**
 * What the conditions of a rig can be changed to: what other rigs name, what is usual, and the machines at hand.
 *
 * @param hosts machines that a drive can be connected to; of none of them is known where it is empty
 */
export function choicesOf(observations: readonly Observation[], hosts: readonly string[]): Choices {
  const said = (of: (rig: Rig) => string) => [
    ...new Set(observations.map(({ rig }) => of(rig)).filter(Boolean)),
  ];
  const bays = new Map<string, string[]>();
  for (const { rig } of observations) {
    const box = rig.parts.at(-2);
    if (!box || !rig.bay) continue;
    const known = bays.get(box.id) ?? [];
    if (!known.includes(rig.bay)) bays.set(box.id, [...known, rig.bay]);
  }
  const ports = new Map<string, Set<string>>();
  for (const { rig } of observations) {
    const [port] = rig.parts;
    if (!port || !rig.host) continue;
    ports.set(rig.host, (ports.get(rig.host) ?? new Set()).add(port.id));
  }
  return {
    bays,
    ports,
    fileSystems: [...new Set([...said(({ fileSystem }) => fileSystem), ...USUAL_FILE_SYSTEMS])],
    hosts: [
      ...new Set([...said(({ host }) => host), ...(hosts.length > 0 ? hosts : [ANOTHER_HOST])]),
    ],
  };
}
