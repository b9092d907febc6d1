import type { Direction } from "../units/rate";
import { linksOf, otherLinks, type Link } from "./link";
import type { Part } from "./part";
import type { Rig } from "./rig";
import { several } from "./several";
import { driveStage, linkStage, scaled, type Side, type Stage, type StageRole } from "./stage";

/**
 * The stages of a rig in one direction, from the host down; of a copy, from the drive at its other
 * end up to the host and down again.
 *
 * A box gives two stages, its bridge (towards the host) and its slot (towards the drive); a hub or
 * adapter one, its slower side.
 */
export function stagesOf(rig: Rig, direction: Direction): readonly Stage[] {
  let known = stages.get(rig);
  if (!known) stages.set(rig, (known = {}));
  return (known[direction] ??= makeStages(rig, direction));
}

/** Worked out once for each rig: a study asks again for every run. */
const stages = new WeakMap<Rig, Partial<Record<Direction, Stage[]>>>();

function makeStages(rig: Rig, direction: Direction): Stage[] {
  const here = several(rig, direction, chainStages(rig, rig.parts, linksOf(rig), direction));
  if (rig.other.length === 0) return here;
  const against = direction === "read" ? "write" : "read";
  const there = chainStages(rig, rig.other, otherLinks(rig), against)
    .toReversed()
    .map((stage) => ({
      ...stage,
      key: `other:${stage.key}`,
      place: rig.other.length - 1 - stage.place,
    }));
  const moved = here.map((stage) => ({ ...stage, place: stage.place + rig.other.length }));
  return [...there, ...moved].map((stage) => passedTwice(rig, stage));
}

function chainStages(
  rig: Rig,
  parts: readonly Part[],
  links: readonly Link[],
  direction: Direction,
): Stage[] {
  return parts.flatMap((part, place): Stage[] => {
    const above = links.find(({ lower }) => lower === part);
    const below = links.find(({ upper }) => upper === part);
    const at = (role: StageRole, side: Side, link: Link | undefined, as = part) =>
      link ? [{ ...linkStage(rig, { part: as, role, side, link }, direction), part, place }] : [];
    const box = (upper: StageRole, lower: StageRole) => [
      ...at(upper, "up", above),
      ...at(lower, "down", below, { ...part, limits: {} }).map((slot) => ({
        ...slot,
        label: below?.mode?.short ?? lower,
      })),
    ];
    switch (part.kind) {
      case "host-port":
        return at("host port", "down", below);
      case "cable":
        return at(
          "cable",
          "down",
          links.find(({ cables }) => cables.includes(part)),
        );
      case "hub":
      case "adapter":
        return [...at(part.kind, "up", above), ...at(part.kind, "down", below)]
          .toSorted((a, b) => a.ceiling - b.ceiling)
          .slice(0, 1);
      case "enclosure":
        return box("bridge", "slot");
      case "network-box":
        return box("network side", "disk side");
      case "drive":
        return above ? [{ ...driveStage(rig, part, direction), place }] : [];
    }
  });
}

/**
 * A copy passes what stands at both of its ends twice: a drive must read and write in turn, and a
 * half-duplex link serves the one or the other.
 */
function passedTwice(rig: Rig, stage: Stage): Stage {
  const twice = (id: string) =>
    rig.parts.some((part) => part.id === id) && rig.other.some((part) => part.id === id);
  const { part, cause, ceiling } = stage;
  if (stage.role === "drive") {
    if (!twice(part.id)) return stage;
    const against = driveStage(rig, part, stage.direction === "read" ? "write" : "read").ceiling;
    return scaled(stage, against / (against + ceiling));
  }
  if (cause.kind !== "link" || cause.link.mode?.duplex !== "half") return stage;
  return twice(cause.link.lower.id) && twice(cause.link.upper.id) ? scaled(stage, 1 / 2) : stage;
}
