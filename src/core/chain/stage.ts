import { account, type LedgerAccount } from "../ledger/account";
import type { TransportId } from "../ledger/mode";
import type { Direction } from "../units/rate";
import { bestMode, linksOf, type Link } from "./link";
import { modesOn, type Part } from "./part";
import type { Rig } from "./rig";

/** Where along the chain a stage stands; the columns of the Narrows drawing. */
export type StageRole = "host port" | "cable" | "hub" | "adapter" | "bridge" | "slot" | "drive";

/** One place the flow passes, and what it can carry there. All rates are MB/s of payload. */
export interface Stage {
  /** Unique within the rig. */
  key: string;
  part: Part;
  role: StageRole;
  label: string;
  /** Hard ceiling as the rig stands; 0 where the link will not come up. */
  ceiling: number;
  /** What good hardware reaches here as the rig stands. */
  attainable: { low: number; high: number };
  /** The ceiling if all others on the link could follow; above `ceiling` means width lost. */
  own: number;
  /** What this part by itself is sure to carry: the low end of its best mode's band, or its limit. */
  sure: number;
  /** Where the ceiling comes from: the link's mode, a limit of the part, or no more than its plug. */
  cause: { kind: "link"; link: Link } | { kind: "limit" } | { kind: "plug" };
  /** Whether this part is one that keeps the flow from being wider here. */
  holds: boolean;
}

/** A limit is a payload figure already; a run is at it from nine tenths up. */
const LIMIT_BAND = 0.9;

/** The command protocol of a link: the rig's where the link offers it, else the link's usual one. */
export function transportOn(rig: Pick<Rig, "transport">, link: Link): TransportId | undefined {
  const offers = link.mode?.transports.map(({ id }) => id) ?? [];
  return rig.transport && offers.includes(rig.transport) ? rig.transport : offers[0];
}

/**
 * The stages of a rig in one direction, from the host down.
 *
 * An enclosure gives two stages, its bridge (towards the host) and its slot (towards the drive);
 * a hub or adapter one, its slower side.
 */
export function stagesOf(rig: Rig, direction: Direction): Stage[] {
  const links = linksOf(rig);
  const at = (part: Part, role: StageRole, side: "up" | "down", link: Link | undefined) =>
    link ? [linkStage(rig, part, role, side, link, direction)] : [];

  return rig.parts.flatMap((part): Stage[] => {
    const above = links.find(({ lower }) => lower === part);
    const below = links.find(({ upper }) => upper === part);
    switch (part.kind) {
      case "host-port":
        return at(part, "host port", "down", below);
      case "cable":
        return at(
          part,
          "cable",
          "down",
          links.find(({ cables }) => cables.includes(part)),
        );
      case "hub":
      case "adapter":
        return [...at(part, part.kind, "up", above), ...at(part, part.kind, "down", below)]
          .toSorted((a, b) => a.ceiling - b.ceiling)
          .slice(0, 1);
      case "enclosure":
        return [
          ...at(part, "bridge", "up", above),
          ...at({ ...part, limits: {} }, "slot", "down", below).map((slot) => ({
            ...slot,
            part,
            label: below?.mode?.short ?? "slot",
          })),
        ];
      case "drive":
        return above ? [driveStage(part, direction)] : [];
    }
  });
}

function linkStage(
  rig: Rig,
  part: Part,
  role: StageRole,
  side: "up" | "down",
  link: Link,
  direction: Direction,
): Stage {
  const rates = link.mode
    ? account(link.mode, direction, { transport: transportOn(rig, link) })
    : { hardCeiling: 0, attainable: { low: 0, high: 0 } };
  const plug = plugAccount(part, side, direction, transportOn(rig, link));
  const limit = part.limits[direction] ?? Infinity;
  const limited = limit < rates.hardCeiling;
  return {
    key: `${part.id}:${role}`,
    part,
    role,
    label: part.name,
    ceiling: limited ? limit : rates.hardCeiling,
    attainable: limited ? limitBand(limit) : rates.attainable,
    own: Math.min(plug.hardCeiling, limit),
    sure: Math.min(plug.attainable.low, limit),
    cause: limited ? { kind: "limit" } : { kind: "link", link },
    holds: limited || link.heldBy.some(({ id }) => id === part.id),
  };
}

/** The drive itself, behind its plug: its native rate where known, else what its plug could carry. */
function driveStage(part: Part, direction: Direction): Stage {
  const limit = part.limits[direction];
  const ceiling = limit ?? plugAccount(part, "up", direction).hardCeiling;
  return {
    key: `${part.id}:drive`,
    part,
    role: "drive",
    label: part.name,
    ceiling,
    attainable: limitBand(ceiling),
    own: ceiling,
    sure: limit ?? 0,
    cause: { kind: limit === undefined ? "plug" : "limit" },
    holds: limit !== undefined,
  };
}

function plugAccount(
  part: Part,
  side: "up" | "down",
  direction: Direction,
  transport?: TransportId,
): Pick<LedgerAccount, "hardCeiling" | "attainable"> {
  const best = bestMode(modesOn(part, side));
  return best
    ? account(best, direction, { transport })
    : { hardCeiling: 0, attainable: { low: 0, high: 0 } };
}

const limitBand = (limit: number) => ({ low: limit * LIMIT_BAND, high: limit });
