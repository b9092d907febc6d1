import type { PartInput, Part, PartKind } from "../chain/part";
import { isSlower } from "../chain/link";
import { Layout, type LayoutBy } from "../chain/rig";
import { findMode, MODES } from "../ledger/catalogue";
import { placeFrom } from "../units/place";
import { blankNode } from "./blank-node";
import { cableFromChip } from "./cable-chip";
import { isSame } from "./detected";
import { pcieMode, usbMode } from "./modes";
import {
  factOf,
  type SeenCable,
  type SeenNode,
  type SeenWay,
  type SystemReport,
} from "./system-report";

/** A place in a rig that the system's report fills: with an item of the shelf, or with a new one. */
export interface FilledPlace {
  node: SeenNode;
  /** The item that this is, and how it was known; null proposes a new one. */
  part: Part | null;
  by: "serial number" | "name" | null;
  /** What would be put on the shelf. */
  draft: PartInput;
}

/** A rig as far as the system knows it. */
export interface FilledRig {
  chain: FilledPlace[];
  /** Further drives in the same box. */
  beside: FilledPlace[];
  layout: Layout;
  layoutBy: LayoutBy;
  /** What the tester has to add himself. */
  notes: string[];
}

/** The parts that are known, and the host that the drive is plugged in at; null for this machine. */
interface Bench {
  shelf: readonly Part[];
  host: string | null;
}

/**
 * Makes a rig of what the system reports: items that are on the shelf by their serial numbers, new
 * ones proposed for the rest. What the system cannot see (cables, what is behind a bridge) is said,
 * not guessed.
 *
 * @returns null where the report names no link that a rig could be made of
 */
export function fillRig(report: SystemReport, shelf: readonly Part[]): FilledRig | null {
  const [way, ...others] = report.ways;
  const bench = { shelf, host: placeFrom(report.path).host };
  const places = way && placesOf(way, bench, others.length > 0);
  // A link whose speed the system does not say makes no part: it would have to be guessed.
  if (!places || places.some(({ part, draft }) => !part && draft.connectors.length === 0)) {
    return null;
  }
  const chain = withCables(places, report.cables, shelf);
  const beside = others.flatMap(({ nodes }) =>
    place(nodes.at(-1)!, "drive", { up: driveModes(nodes) }, bench),
  );
  const notes = [
    chain.length > places.length
      ? "Of the cables only the one with a chip can be seen: put others in between."
      : "Cables cannot be seen: put them in between.",
  ];
  const unseen = way.nodes.filter(
    ({ kind }) => kind === "sas-expander" || kind === "sata-multiplier",
  );
  for (const { name, link } of unseen) {
    notes.push(`${name}${link ? ` (${link.now})` : ""} stands on the way too: put it in.`);
  }
  if (places.at(-1)!.node.kind === "usb-device") {
    notes.push(
      `What is inside ${places.at(-1)!.node.name} cannot be seen from here, so it stands for the drive as well.`,
    );
  }
  if (way.nodes.some(({ kind }) => kind === "network-interface")) {
    notes.push("What is beyond the network cannot be seen from here: it stands for the drive.");
  }
  const layout = layoutOf(report.raid?.level);
  // A RAID that the system reports is the system's own.
  return { chain, beside, layout, layoutBy: report.raid ? "host" : "box", notes };
}

/** Puts cables that say themselves what they are before what hangs on them. */
function withCables(
  places: readonly FilledPlace[],
  cables: readonly SeenCable[],
  shelf: readonly Part[],
): FilledPlace[] {
  return places.flatMap((place) => {
    const seen = cables.find(({ holds }) => holds === place.node.at);
    const draft = seen?.chip && cableFromChip(seen.chip);
    if (!draft) return [place];
    // A chip tells no serial number: the cable is known again by what it is called.
    const named = shelf.filter(({ kind, name }) => kind === "cable" && name === draft.name);
    const part = named.length === 1 ? named[0]! : null;
    const node = blankNode("usb-cable", draft.name, seen.at);
    return [{ node, part, by: part ? "name" : null, draft }, place];
  });
}

function layoutOf(level: string | undefined): Layout {
  const found = Layout.safeParse(level?.replace(/^raid/, "raid-"));
  return found.success ? found.data : "apart";
}

const valueOf = (node: SeenNode | undefined, what: string) => node && factOf(node, what)?.value;

function placesOf(way: SeenWay, bench: Bench, several: boolean): FilledPlace[] | null {
  const { nodes } = way;
  const find = (kind: SeenNode["kind"]) => nodes.find((node) => node.kind === kind);
  const put = (node: SeenNode, kind: PartKind, up: string[], down: string[], name?: string) =>
    place(node, kind, { up, down }, bench, name);
  const root = find("usb-root");
  const device = find("usb-device");
  if (root && device) return usbPlaces(nodes, root, device, bench);
  const tunnels = nodes.filter(({ kind }) => kind === "thunderbolt");
  const drive = nodes.at(-1)!;
  const port = nodes.at(-2);
  if (tunnels.length > 0) return tunnelPlaces(nodes, tunnels, bench);
  const net = find("network-interface");
  const share = find("network-share") ?? find("nvme");
  if (net?.link?.mode && share) {
    return [
      ...put(net, "host-port", [], [net.link.mode], `network interface ${net.name}`),
      ...put(share, "drive", [net.link.mode], []),
    ];
  }
  if (!drive.link?.mode || !port) return null;
  const modes =
    drive.kind === "nvme"
      ? pcieUpTo(valueOf(port, "most it can do"), drive.link.mode)
      : upTo(drive.link.mostMode ?? drive.link.mode);
  const host = several ? (find("pci-controller") ?? port) : port;
  return [
    ...put(host, "host-port", [], modes, `${host.name} ${host.at.split("/").at(-1)}`),
    ...put(drive, "drive", driveModes(nodes), []),
  ];
}

/** A drive reached through a tunnel: each device on the way but the last is a dock. */
function tunnelPlaces(
  nodes: readonly SeenNode[],
  tunnels: readonly SeenNode[],
  bench: Bench,
): FilledPlace[] | null {
  const modes = tunnels.flatMap(({ link }) => link?.mode ?? []);
  if (modes.length < tunnels.length) return null;
  const inside = pcieUpTo(valueOf(nodes.at(-2), "most it can do"), nodes.at(-1)!.link?.mode);
  return [
    ...place(nodes[0]!, "host-port", { down: [modes[0]!] }, bench, `port of ${tunnels[0]!.name}`),
    ...tunnels.flatMap((device, i) =>
      i < tunnels.length - 1
        ? place(device, "hub", { up: [modes[i]!], down: [modes[i + 1]!] }, bench)
        : place(device, "enclosure", { up: [modes[i]!], down: inside }, bench),
    ),
    ...place(nodes.at(-1)!, "drive", { up: driveModes(nodes) }, bench),
  ];
}

function usbPlaces(
  nodes: readonly SeenNode[],
  root: SeenNode,
  device: SeenNode,
  bench: Bench,
): FilledPlace[] {
  const hubs = nodes.filter(({ kind }) => kind === "usb-hub");
  // The socket's other half is told of what is plugged into it: the first hub, where there is one.
  const plugged = hubs[0] ?? device;
  const speeds = [
    valueOf(root, "speed of this root hub"),
    valueOf(plugged, "other half of its socket"),
  ];
  const fastest = Math.max(...speeds.map((words) => Number.parseInt(words ?? "0")));
  const top = usbMode(String(fastest)) ?? device.link?.mode;
  const socket = plugged.at.split("/").at(-1);
  const disk = nodes.at(-1)!;
  const known = bench.shelf.find((part) => part.kind === "drive" && isSame(part, disk));
  const own = device.link?.mode ? upTo(device.link.mode) : [];
  const inside = known?.connectors.find(({ side }) => side === "up")?.modes ?? [];
  return [
    ...place(root, "host-port", { down: top ? upTo(top) : [] }, bench, `USB socket ${socket}`),
    ...hubs.flatMap((hub) => {
      // A hub of USB 3 is two devices; what is plugged into one half does not tell what the other can.
      const twin = usbMode(String(Number.parseInt(valueOf(hub, "its other half") ?? "")));
      const best = twin ?? hub.link?.mode;
      const modes = best ? upTo(best) : [];
      return place(hub, "hub", { up: modes, down: modes }, bench);
    }),
    ...(known
      ? [
          ...place(device, "enclosure", { up: own, down: inside }, bench),
          ...place(disk, "drive", { up: inside }, bench),
        ]
      : place(device, "drive", { up: own }, bench)),
  ];
}

/** The modes of a family up to one, as a connector that can do the best also can the rest. */
function upTo(id: string): string[] {
  const top = findMode(id);
  if (!top) return [];
  return MODES.filter(
    (mode) => mode.family === top.family && (mode.id === id || isSlower(mode, top)),
  )
    .filter(({ id: own }) => top.family !== "usb" || own === id || own !== "usb-10g-two-lane")
    .map((mode) => mode.id);
}

/** PCIe modes of every version and width up to what is said, or to what runs now. */
function pcieUpTo(words: string | undefined, now: string | null | undefined): string[] {
  const [speed, width] = (words ?? "").split(" ×");
  const top = (speed && width ? pcieMode(speed, width) : null) ?? now;
  const mode = top ? findMode(top) : null;
  if (!mode) return [];
  return MODES.filter(
    ({ family, gigatransfers, lanes }) =>
      family === "pcie" && gigatransfers <= mode.gigatransfers && lanes <= mode.lanes,
  ).map(({ id }) => id);
}

/** What the drive at the end of a way can run, as far as it says so. */
function driveModes(nodes: readonly SeenNode[]): string[] {
  const { link, kind } = nodes.at(-1)!;
  const top = link?.mostMode ?? link?.mode;
  if (!top) return [];
  if (kind === "nvme") return pcieUpTo(undefined, top);
  // A port's limit says nothing of the drive: what was seen is sure.
  return upTo(link?.mode ?? top);
}

/** Fills one place, with the item of the shelf that it is where that can be told. */
function place(
  node: SeenNode,
  kind: PartKind,
  { up = [], down = [] }: { up?: string[]; down?: string[] },
  bench: Bench,
  name = node.name,
): FilledPlace[] {
  const draft: PartInput = {
    kind,
    // A port belongs to its machine: another one has ports of the same names.
    name: (kind === "host-port" && bench.host ? `${name} of ${bench.host}` : name).slice(0, 80),
    maker: (node.maker ?? "").slice(0, 80),
    model: (node.model ?? "").slice(0, 80),
    serial: (node.serial ?? "").slice(0, 80),
    notes: `As the system reported it at ${node.at}; it may be able to do more.`.slice(0, 2000),
    connectors: [
      ...(up.length > 0 ? [{ side: "up" as const, modes: up }] : []),
      ...(down.length > 0 ? [{ side: "down" as const, modes: down }] : []),
    ],
  };
  const bySerial = bench.shelf.find((part) => isSame(part, node));
  const named = bench.shelf.filter(
    (part) => part.kind === kind && part.name === draft.name && !part.serial,
  );
  const byName = named.length === 1 && !node.serial ? named[0] : undefined;
  const part = bySerial ?? byName ?? null;
  return [{ node, part, by: bySerial ? "serial number" : byName ? "name" : null, draft }];
}
