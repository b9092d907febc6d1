import { bottleneckOf, type Bottleneck } from "../../chain/bottleneck";
import { isRateClaim, judgedClaims, type Claim } from "../../chain/claim";
import { modesOn, type Part } from "../../chain/part";
import { flowParts, type Rig } from "../../chain/rig";
import { plainPart, plainRig } from "../../exchange/plain-rig";
import { findMode } from "../../ledger/catalogue";
import type { LinkMode } from "../../ledger/mode";
import { Direction } from "../../units/rate";
import type { Place, Put } from "../tables";
import type { Digest } from "./digest";

/** When and where rows are written, and how versions are told apart. */
export interface Writing {
  put: Put;
  digest: Digest;
  /** ISO 8601. */
  at: string;
  /** Folder of what was made at no moment of its own. */
  place: Place;
}

/** The version of a part: the same as long as nothing of it changes. */
export const partVersion = (part: Part, digest: Digest): string =>
  digest(JSON.stringify(plainPart(part)));

/** The version of a rig: the same as long as nothing of it and of its parts changes. */
export const rigVersion = (rig: Rig, digest: Digest): string =>
  digest(JSON.stringify(plainRig(rig)));

/** Writes a part and its claims. */
export function putPart(part: Part, { put, digest, at, place }: Writing): void {
  const version = partVersion(part, digest);
  const uplink = fastestOf(part);
  put("parts", place, {
    part_version: version,
    part_id: part.id,
    kind: part.kind,
    name: part.name,
    maker: part.maker,
    model: part.model,
    serial: part.serial,
    tag: part.tag,
    chip: part.chip,
    firmware: part.firmware,
    uplink: uplink?.formal ?? null,
    uplink_gb_per_s: uplink && signallingOf(uplink),
    length_m: part.lengthM,
    read_limit_mb_per_s: part.limits.read ?? null,
    write_limit_mb_per_s: part.limits.write ?? null,
    capacity_bytes: part.capacityBytes,
    cache_bytes: part.cacheBytes,
    price: part.price?.amount ?? null,
    price_currency: part.price?.currency ?? null,
    document_json: JSON.stringify(plainPart(part)),
    written_at: at,
  });
  part.claims.forEach((claim, i) =>
    put("claims", place, {
      part_version: version,
      part_id: part.id,
      claim: i,
      kind: claim.kind,
      direction: claim.kind === "link" ? null : claim.direction,
      claimed_mb_per_s: claimedMBps(claim),
      claimed_iops: claim.kind === "iops" ? claim.iops : null,
      claimed_gb_per_s: claim.kind === "link" ? claim.gbps : null,
    }),
  );
}

/** A claim as a rate, MB/s; null for the class of a link. */
export const claimedMBps = (claim: Claim): number | null =>
  isRateClaim(claim)
    ? claim.mbps
    : claim.kind === "iops"
      ? judgedClaims([claim], claim.direction)[0]!.mbps
      : null;

/** Gb/s over all lanes. */
const signallingOf = ({ gigatransfers, lanes }: LinkMode): number => gigatransfers * lanes;

function fastestOf(part: Part): LinkMode | null {
  const modes = modesOn(part, part.kind === "host-port" ? "down" : "up").flatMap(
    (id) => findMode(id) ?? [],
  );
  return modes.toSorted((a, b) => signallingOf(b) - signallingOf(a))[0] ?? null;
}

/** Writes a rig, and which parts stand where in it. */
export function putRig(rig: Rig, { put, digest, at, place }: Writing): void {
  const version = rigVersion(rig, digest);
  const [read, write] = Direction.options.map((direction) => bottleneckOf(rig, direction));
  put("rigs", place, {
    rig_version: version,
    rig_id: rig.id,
    name: rig.name,
    rig_host: rig.host,
    file_system: rig.fileSystem,
    mounted_as: rig.mountedAs,
    layout: rig.layout,
    host_port: rig.parts[0]?.name ?? "",
    drive: rig.parts.at(-1)?.name ?? "",
    enclosure: rig.parts.findLast(({ kind }) => kind === "enclosure")?.name ?? null,
    read_ceiling_mb_per_s: read?.ceiling ?? null,
    write_ceiling_mb_per_s: write?.ceiling ?? null,
    read_bottleneck: bottleneckName(read ?? null),
    write_bottleneck: bottleneckName(write ?? null),
    document_json: JSON.stringify(plainRig(rig)),
    written_at: at,
  });
  const sides = { chain: rig.parts, beside: rig.beside, other: rig.other };
  for (const [side, parts] of Object.entries(sides)) {
    parts.forEach((part, i) =>
      put("rig_parts", place, {
        rig_version: version,
        rig_id: rig.id,
        side,
        place: i,
        part_version: partVersion(part, digest),
        part_id: part.id,
      }),
    );
  }
}

/** The parts that make a stage the narrowest, by their names. */
const bottleneckName = (bottleneck: Bottleneck | null): string | null =>
  bottleneck && bottleneck.culprits.map(({ name }) => name).join(", ");

/** All parts of a rig, each once. */
export const partsOf = (rig: Rig): Part[] => [
  ...new Map([...flowParts(rig), ...rig.beside].map((part) => [part.id, part])).values(),
];
