import { belowMaximum } from "./below-maximum";
import { factOf, type SeenNode, type SystemFinding, type SystemReport } from "./system-report";
import { slowUsb } from "./slow-usb";

/** What in a system's report a tester should know before measuring anything. */
export function findingsOf(report: SystemReport): SystemFinding[] {
  const own = report.ways.flatMap((way) => [
    ...way.nodes.flatMap((node, i) => [
      ...belowMaximum(node, way.nodes.slice(0, i)),
      ...slowUsb(node, way.nodes.slice(0, i)),
      ...halfDuplex(node),
    ]),
    ...unqueued(way.transport, way.nodes),
  ]);
  const all = [...own, ...writeCache(report), ...missing(report), ...oneUplink(report)];
  // Ways through the same devices say the same things of them.
  return all.filter((one, i) => all.findIndex(({ text }) => text === one.text) === i);
}

function unqueued(transport: string | null, nodes: readonly SeenNode[]): SystemFinding[] {
  const last = nodes.findLast(({ driver }) => driver) ?? nodes.at(-1);
  if (transport === "usb-unqueued") {
    const text = `${last?.name} is driven by ${last?.driver}, one request at a time: small requests gain nothing from depth.`;
    const driver = last && factOf(last, "driver");
    return [{ what: "no queueing", text, from: driver ? [driver.from] : [] }];
  }
  const depth = last && nodes.map((node) => factOf(node, "requests at once")).find(Boolean);
  if (transport !== "legacy-ata" || !last) return [];
  const text = `${nodes.at(-1)!.name} is driven without command queueing${depth ? ` (requests at once: ${depth.value})` : ""}.`;
  return [{ what: "no queueing", text, from: [depth?.from ?? last.at] }];
}

/**
 * Only disks whose words can be trusted: NVMe drives without a volatile cache say "write through" too
 * and lose nothing by it, and so do USB sticks that return no caching page at all (drivers/scsi/sd.c);
 * behind a USB bridge it means something where an ATA drive answers through it.
 */
function writeCache({ blocks, ways }: SystemReport): SystemFinding[] {
  return ways.flatMap(({ end, nodes }): SystemFinding[] => {
    const last = nodes.at(-1);
    if (!last || last.kind !== "disk") return [];
    const usb = nodes.some(({ kind }) => kind === "usb-device");
    if (usb && !factOf(last, "behind its bridge")) return [];
    const queue = blocks.find(({ name }) => name === end)?.facts;
    const off = [factOf(last, "write cache of the drive"), queue?.find(isWriteCache)].find(
      (fact) => fact?.value === "write through",
    );
    if (!off) return [];
    const text = `The write cache of ${last.name} is off (“write through”): writing may be slow.`;
    return [{ what: "write cache off", text, from: [off.from] }];
  });
}

const isWriteCache = ({ what }: { what: string }) => what === "write cache";

function halfDuplex(node: SeenNode): SystemFinding[] {
  const duplex = factOf(node, "duplex");
  if (duplex?.value !== "half") return [];
  const text = `${node.name} runs one direction at a time: look at the other end's settings.`;
  return [{ what: "half duplex", text, from: [duplex.from] }];
}

function missing({ blocks }: SystemReport): SystemFinding[] {
  return blocks.flatMap((block): SystemFinding[] => {
    const gone = block.facts.find(({ what }) => what === "members missing");
    if (!gone || gone.value === "0") return [];
    const text = `${block.name} runs without ${gone.value} of its members.`;
    return [{ what: "device missing", text, from: [gone.from] }];
  });
}

/** Disks that share a device on their way share its uplink; so do neighbours on a hub. */
function oneUplink({ ways }: SystemReport): SystemFinding[] {
  const findings: SystemFinding[] = [];
  const [first, ...others] = ways;
  const shared = first?.nodes.findLast(
    ({ at, link }) =>
      link && others.length > 0 && others.every((way) => way.nodes.some((n) => n.at === at)),
  );
  if (shared) {
    const text = `${ways.map(({ end }) => end).join(" and ")} share the link of ${shared.name} (${shared.link!.now}).`;
    findings.push({ what: "several on one uplink", text, from: shared.link!.from });
  }
  for (const hub of ways.flatMap(({ nodes }) => nodes).filter(({ kind }) => kind === "usb-hub")) {
    const on = hub.facts.filter(({ what }) => what === "on it");
    if (on.length < 2) continue;
    const text = `${on.length} devices share the uplink of ${hub.name} (${hub.link?.now}): ${on.map(({ value }) => value).join(", ")}.`;
    findings.push({ what: "several on one uplink", text, from: on.map(({ from }) => from) });
  }
  return findings;
}
