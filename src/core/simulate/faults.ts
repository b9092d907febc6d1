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
