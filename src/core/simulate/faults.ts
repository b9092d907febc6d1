import { allLinks, bestMode, isSlower, offered, type Link } from "../chain/link";
import type { Rig } from "../chain/rig";
import { findMode } from "../ledger/catalogue";
import type { LinkMode } from "../ledger/mode";
import type { Fault } from "./model";

/** The rig as it really runs with its faults: links at slower modes, no queueing. */
export function asItRuns(rig: Rig, faults: readonly Fault[]): Rig {
  const links = allLinks(rig);
  const settled = faults.flatMap((fault) => {
    if (fault.kind !== "dropped" && fault.kind !== "wrong-slot") return [];
    const link = links.find(({ lower }) => lower.id === fault.at);
    const mode = link && (fault.kind === "dropped" ? generationBelow(link) : oneLane(link));
    return mode ? [{ partId: fault.at, mode: mode.id, by: "tester" as const }] : [];
  });
  const places = settled.map(({ partId }) => partId);
  return {
    ...rig,
    settled: [...rig.settled.filter(({ partId }) => !places.includes(partId)), ...settled],
    transport: faults.some(({ kind }) => kind === "unqueued") ? "usb-unqueued" : rig.transport,
  };
}

/** The best mode below the one a link runs at that all on it share; with as many lanes where there is one. */
function generationBelow({ mode, ...link }: Link): LinkMode | null {
  if (!mode) return null;
  const [first = [], ...rest] = offered(link).map(([, modes]) => modes);
  const slower = first
    .filter((id) => rest.every((modes) => modes.includes(id)))
    .flatMap((id) => findMode(id) ?? [])
    .filter((other) => isSlower(other, mode) && other.gigatransfers < mode.gigatransfers);
  const alike = slower.filter(({ lanes }) => lanes === mode.lanes);
  return bestMode((alike.length > 0 ? alike : slower).map(({ id }) => id));
}

const oneLane = ({ mode }: Link): LinkMode | null =>
  mode ? findMode(mode.id.replace(/-x\d+$/, "-x1")) : null;

/**
 * The faults of a rig that nobody named: those of rigs alike that come with what stands in it too. A
 * fault of a link that a cable carries comes with the cable, whatever hangs on it; one at another part
 * with that part and the one above it, that of a file system with it, that of a driver mode with that.
 *
 * @param known rigs whose faults were named; of the same rig all are taken
 */
export function faultsIn(
  rig: Rig,
  known: readonly { rig: Rig; faults: readonly Fault[] }[],
): Fault[] {
  const own = known.find((one) => one.rig.id === rig.id);
  if (own) return [...own.faults];
  const above = (chain: Rig, id: string) => {
    const at = chain.parts.findIndex((part) => part.id === id);
    return at < 0 ? null : (chain.parts[at - 1]?.id ?? null);
  };
  const comes = (fault: Fault, other: Rig) => {
    if ("at" in fault) {
      const neighbour = above(rig, fault.at);
      return neighbour !== null && neighbour === above(other, fault.at);
    }
    if (fault.kind === "file-system")
      return rig.fileSystem.toLowerCase() === other.fileSystem.toLowerCase();
    return fault.kind === "unqueued" && rig.transport === other.transport;
  };
  const found = known.flatMap(({ rig: other, faults }) =>
    faults.flatMap((fault) => {
      // A bad bay stays with its box, whatever drive is in it.
      const cable = cableOf(fault, other);
      if (cable !== null) {
        const below = rig.parts[rig.parts.findIndex(({ id }) => id === cable) + 1];
        const stands = rig.parts.some(({ id }) => id === cable);
        return stands && below ? [{ ...fault, at: below.id } as Fault] : [];
      }
      const bay = fault.kind === "bad-bay" && other.bay ? other.bay : null;
      if (bay === null) return comes(fault, other) ? [fault] : [];
      const [box, drive] = rig.parts.slice(-2);
      const same =
        bay === rig.bay && box?.id === above(other, fault.kind === "bad-bay" ? fault.at : "");
      return same && drive ? [{ ...fault, at: drive.id } as Fault] : [];
    }),
  );
  return [...new Map(found.map((fault) => [JSON.stringify(fault), fault])).values()];
}

/** The cable that carries the faulty link of a rig, by its id; null where it is no link's fault, or no cable's. */
function cableOf(fault: Fault, { parts }: Rig): string | null {
  if (fault.kind !== "dropped" && fault.kind !== "flaky") return null;
  const above = parts[parts.findIndex(({ id }) => id === fault.at) - 1];
  return above?.kind === "cable" ? above.id : null;
}
