import { account, ownAssumptions, type LedgerAccount } from "../ledger/account";
import type { LinkMode } from "../ledger/mode";
import type { Direction } from "../units/rate";
import { bestMode, linkAccount, transportOn, type Link } from "./link";
import { modesOn, type Part } from "./part";
import type { Rig } from "./rig";

/** Where along the chain a stage stands; the columns of the Narrows drawing. */
export type StageRole =
  /** The machine itself, by what it was shown to carry (core/machine/machine-stage.ts). */
  | "host"
  | "host port"
  | "cable"
  | "hub"
  | "adapter"
  | "bridge"
  | "network side"
  | "slot"
  | "disk side"
  | "drive";

/** One place the flow passes, and what it can carry there. All rates are MB/s of payload. */
export interface Stage {
  /** Unique within the rig. */
  key: string;
  part: Part;
  /** Where the part stands in the rig's flow (`flowParts`). */
  place: number;
  role: StageRole;
  label: string;
  /** Which way the payload passes here: at the other end of a copy, against the rig's direction. */
  direction: Direction;
  /** Hard ceiling as the rig stands; 0 where the link will not come up. */
  ceiling: number;
  /** What good hardware reaches here as the rig stands. */
  attainable: { low: number; high: number };
  /** The ceiling if all others on the link could follow; above `ceiling` means width lost. */
  own: number;
  /** What others hold of the link here, as far as it narrows this stage. */
  held: number;
  /** Where the ceiling comes from: the link's mode, a limit of the part, or no more than its plug. */
  cause: { kind: "link"; link: Link } | { kind: "limit" } | { kind: "plug" };
  /** Whether this part is one that keeps the flow from being wider here. */
  holds: boolean;
}

/** What a link carries. */
export type Rates = Pick<LedgerAccount, "hardCeiling" | "attainable">;
export type Side = "up" | "down";

/** A limit is a payload figure already; a run is at it from nine tenths up. */
const LIMIT_BAND = 0.9;
export const NOTHING: Rates = { hardCeiling: 0, attainable: { low: 0, high: 0 } };

/** A stage that a link makes at a part. */
export function linkStage(
  rig: Rig,
  { part, role, side, link }: { part: Part; role: StageRole; side: Side; link: Link },
  direction: Direction,
): Omit<Stage, "place"> {
  const rates = link.mode ? linkAccount(rig, link, link.mode, direction) : NOTHING;
  const free = link.mode ? linkAccount(rig, { ...link, held: [] }, link.mode, direction) : NOTHING;
  const best = bestMode(modesOn(part, side));
  const plug = best ? plugAccount(rig, best, direction) : NOTHING;
  const limit = part.limits[direction] ?? Infinity;
  const limited = limit < rates.hardCeiling;
  return {
    key: `${part.id}:${role}`,
    part,
    role,
    label: part.name,
    direction,
    ceiling: limited ? limit : rates.hardCeiling,
    attainable: limited ? limitBand(limit) : rates.attainable,
    own: Math.min(Math.max(plug.hardCeiling, rates.hardCeiling), limit),
    held: Math.max(0, Math.min(free.hardCeiling, limit) - rates.hardCeiling),
    cause: limited ? { kind: "limit" } : { kind: "link", link },
    holds: limited || link.heldBy.some(({ id }) => id === part.id),
  };
}

/** The drive itself, behind its plug: its native rate where known, else what its plug could carry. */
export function driveStage(rig: Rig, part: Part, direction: Direction): Omit<Stage, "place"> {
  const limit = part.limits[direction];
  const best = bestMode(modesOn(part, "up"));
  const ceiling = limit ?? (best ? plugAccount(rig, best, direction).hardCeiling : 0);
  return {
    key: `${part.id}:drive`,
    part,
    role: "drive",
    label: part.name,
    direction,
    ceiling,
    attainable: limitBand(ceiling),
    own: ceiling,
    held: 0,
    cause: { kind: limit === undefined ? "plug" : "limit" },
    holds: limit !== undefined,
  };
}

/** What a plug could carry by itself, accounted as the rig's links are. */
const plugAccount = (rig: Rig, mode: LinkMode, direction: Direction) =>
  account(mode, direction, {
    transport: transportOn(rig, { mode }),
    assumptions: ownAssumptions(mode, rig.assumptions),
  });

const limitBand = (limit: number) => ({ low: limit * LIMIT_BAND, high: limit });

/** A stage that carries a share of what it could. */
export const scaled = (stage: Stage, share: number): Stage => ({
  ...stage,
  ceiling: stage.ceiling * share,
  attainable: { low: stage.attainable.low * share, high: stage.attainable.high * share },
  held: stage.held + stage.ceiling * (1 - share),
});
