import { bestMode, isSlower, linksOf, type Link } from "../chain/link";
import { modesOn, type Part } from "../chain/part";
import type { Rig, SettledMode } from "../chain/rig";
import { findMode } from "../ledger/catalogue";
import { TRANSPORT_NAMES } from "../ledger/account";
import type { FamilyId, LinkMode } from "../ledger/mode";
import { formatSize } from "../units/size";
import type { SeenNode, SeenWay, SystemReport } from "./system-report";
import { mountDiffers, mountSeen } from "./mounted";

/** One thing in which a rig as declared and the system as it reports itself do not agree. */
export interface Disagreement {
  text: string;
  /** The files that say so. */
  from: string[];
}

/** A link of a rig, and the same link as the system sees it. */
interface Pairing {
  link: Link;
  node: SeenNode;
  seen: LinkMode;
}

/** Families whose links stand for one another: a tunnel may be named by either of its makers. */
const GROUPS: Partial<Record<FamilyId, string>> = {
  thunderbolt: "tunnel",
  usb4: "tunnel",
  card: "pcie",
};
const groupOf = (mode: LinkMode) => GROUPS[mode.family] ?? mode.family;

/** Whether a node's link is one that a rig shows: a controller's own link in the host is not. */
const inRig = ({ kind, link }: SeenNode) => link?.mode && kind !== "pci-controller";

/**
 * Pairs a rig's links with those the system sees, family by family, from the drive up: what stands
 * next to the drive is surest to be the same thing.
 */
function pairLinks(
  rig: Rig,
  way: SeenWay,
): { paired: Pairing[]; unseen: Link[]; unsaid: SeenNode[] } {
  const links = linksOf(rig).toReversed();
  const nodes = way.nodes.filter(inRig).toReversed();
  const paired: Pairing[] = [];
  const unseen: Link[] = [];
  for (const link of links) {
    if (!link.mode) continue;
    const group = groupOf(link.mode);
    const i = nodes.findIndex(({ link: own }) => groupOf(findMode(own!.mode!)!) === group);
    if (i < 0) unseen.push(link);
    else {
      const [node] = nodes.splice(i, 1);
      paired.push({ link, node: node!, seen: findMode(node!.link!.mode!)! });
    }
  }
  return { paired, unseen, unsaid: nodes };
}

/** What a rig declares otherwise than the system reports it; empty where both agree as far as can be seen. */
export function disagreements(rig: Rig, report: SystemReport): Disagreement[] {
  const found: Disagreement[] = [];
  const say = (text: string, from: string[]) => found.push({ text, from });
  const [way] = report.ways;
  if (way) {
    const { paired, unseen, unsaid } = pairLinks(rig, way);
    for (const { link, node, seen } of paired) {
      const declared = link.mode!;
      if (declared.id === seen.id) continue;
      const slower = isSlower(seen, declared) ? "" : ", which is faster";
      say(
        `declared ${declared.short}, the system says ${seen.short}${slower}: the link to ${link.lower.name} (${node.name}).`,
        node.link!.from,
      );
    }
    found.push(...chips(paired, report));
    for (const link of unseen) {
      // Behind a bridge, and beyond a network, the system sees nothing.
      if (hidden(link, way)) continue;
      say(`the system sees no link like ${link.mode!.short} to ${link.lower.name}.`, []);
    }
    for (const node of unsaid) {
      say(`the system sees ${node.name} (${node.link!.now}), which the rig does not name.`, [
        node.at,
      ]);
    }
    if (way.transport && way.transport !== driverOf(rig)) {
      const declared = driverOf(rig);
      say(
        `declared ${declared ? TRANSPORT_NAMES[declared] : "no driver"}, the system drives it by ${TRANSPORT_NAMES[way.transport]}.`,
        way.nodes
          .flatMap(({ facts }) => facts.filter(({ what }) => what === "driver"))
          .slice(-1)
          .map(({ from }) => from),
      );
    }
    found.push(...serials(rig, report));
  }
  found.push(...capacity(rig, report));
  const { mount } = report;
  const declared = mount && mountDiffers(rig, mount.type);
  if (declared) say(`declared ${declared}, the system says ${mount.type}.`, [mount.from]);
  const disks = report.ways.length;
  if (disks > 1 && disks !== rig.beside.length + 1) {
    say(
      `the system sees ${disks} disks below it, the rig names ${rig.beside.length + 1}.`,
      report.raid ? [report.raid.from] : [],
    );
  }
  return found;
}

/** Cables that say something else of themselves than the rig says of them. */
function chips(paired: readonly Pairing[], { cables }: SystemReport): Disagreement[] {
  return paired.flatMap(({ link, node }) => {
    const seen = cables.find(({ holds }) => holds === node.at);
    const said = seen?.chip?.modes && bestMode(seen.chip.modes);
    if (!said) return [];
    return link.cables.flatMap((cable) => {
      const declared = bestMode(modesOn(cable, "down"));
      if (!declared || declared.id === said.id) return [];
      const text = `${cable.name} is declared to carry ${declared.short}; its own chip says ${seen.chip!.speed}.`;
      return [{ text, from: [seen.at] }];
    });
  });
}

/** The protocol on the host's link: as declared, else the usual one. */
const driverOf = (rig: Rig) => rig.transport ?? linksOf(rig)[0]?.mode?.transports[0]?.id ?? null;

const hidden = (link: Link, way: SeenWay) =>
  way.nodes.some(
    ({ kind }) =>
      kind === "network-share" || (kind === "usb-device" && link.lower.kind === "drive"),
  );

/** Letters and digits of a serial number, as makers, bridges and the kernel pad them differently. */
export const bareSerial = (serial: string) => serial.replace(/[^\da-z]/gi, "").toLowerCase();

/** Whether a part of the shelf is what the system sees, by its serial number. */
export const isSame = (part: Pick<Part, "serial">, node: SeenNode): boolean =>
  Boolean(part.serial && node.serial) && bareSerial(part.serial) === bareSerial(node.serial!);

/** A drive or box whose serial number is entered, and which the system does not report. */
function serials(rig: Rig, report: SystemReport): Disagreement[] {
  const nodes = report.ways.flatMap(({ nodes }) => nodes).filter(({ serial }) => serial);
  const kinds = ["drive", "enclosure"];
  return [...rig.parts, ...rig.beside]
    .filter((part) => kinds.includes(part.kind) && part.serial)
    .filter((part) => nodes.length > 0 && !nodes.some((node) => isSame(part, node)))
    .map((part) => ({
      text: `the rig names ${part.name} with serial number ${part.serial}; the system sees ${nodes.map(({ serial }) => serial).join(" and ")}.`,
      from: nodes.map(({ at }) => at),
    }));
}

/** Labels count in thousands or not, and leave out what is spare; a size further off is another drive's. */
const SAME_SIZE = 0.1;

/** A drive of another size than the rig's. */
function capacity(rig: Rig, { blocks, ways }: SystemReport): Disagreement[] {
  const stated = rig.parts.at(-1)?.capacityBytes;
  const [upper] = blocks;
  const disk = upper?.kind === "loop" ? upper : blocks.find(({ kind }) => kind === "disk");
  if (!stated || !disk?.bytes || ways.length > 1 || rig.beside.length > 0) return [];
  if (Math.abs(disk.bytes / stated - 1) <= SAME_SIZE) return [];
  const text = `the rig's drive holds ${formatSize(stated, 1000)}, the system sees one of ${formatSize(disk.bytes, 1000)}.`;
  return [{ text, from: disk.facts.slice(0, 1).map(({ from }) => from) }];
}

/** A rig with the links, the driver and the file system that the system reports. */
export function asDetected(rig: Rig, report: SystemReport): Rig {
  const [way] = report.ways;
  if (!way) return rig;
  const settled = pairLinks({ ...rig, settled: [] }, way).paired.flatMap(
    ({ link, seen }): SettledMode[] =>
      link.negotiated?.id === seen.id
        ? []
        : [{ partId: link.lower.id, mode: seen.id, by: "system" }],
  );
  const kept = rig.settled.filter(
    ({ partId, by }) => by === "tester" && !settled.some((said) => said.partId === partId),
  );
  const mtu = way.nodes.flatMap(({ facts }) => facts).find(({ what }) => what === "MTU");
  const frame = mtu ? Number.parseInt(mtu.value) : NaN;
  return {
    ...rig,
    settled: [...kept, ...settled],
    transport: way.transport ?? rig.transport,
    ...mountSeen(rig, report.mount?.type),
    assumptions: frame > 0 && frame !== 1500 ? { ...rig.assumptions, mtu: frame } : rig.assumptions,
  };
}
