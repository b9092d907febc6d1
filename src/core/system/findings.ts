import { findMode } from "../ledger/catalogue";
import { isSlower } from "../chain/link";
import type { Fact, SeenNode, SystemFinding, SystemReport } from "./report";

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

const factOf = (node: SeenNode, what: string) => node.facts.find((fact) => fact.what === what);

/** A link that its own end could run faster; and, where the end above says so, which end is the slower. */
function belowMaximum(node: SeenNode, above: readonly SeenNode[]): SystemFinding[] {
  const { link } = node;
  const now = link?.mode ? findMode(link.mode) : null;
  const most = link?.mostMode ? findMode(link.mostMode) : null;
  if (!link || !now || !most || !isSlower(now, most)) return [];
  const upper = above.at(-1);
  if (upper?.kind === "sata-port") return [belowPort(node, upper)];
  const port = upper && factOf(upper, "most it can do");
  const why =
    port?.value === link.now
      ? `; the ${upper!.name} above it can do no more than ${port.value}`
      : port
        ? `; the ${upper!.name} above it could do ${port.value} too, so it is not the port`
        : "";
  const from = [...link.from, ...(port ? [port.from] : [])];
  const text = `${node.name} runs at ${link.now}, below its maximum of ${link.most}${why}.`;
  return [{ what: "link below its maximum", text, from }];
}

/** The system knows what a SATA port can do, not what the drive can. */
function belowPort({ name, link }: SeenNode, port: SeenNode): SystemFinding {
  const limit = factOf(port, "limit after trouble");
  const lowered = limit && link!.now.endsWith(limit.value) ? [limit] : [];
  const why =
    lowered.length > 0
      ? `The system has lowered the limit of the link to ${limit!.value} itself, as it does after errors: look at the cable.`
      : "The drive, the cable or the backplane holds it.";
  return {
    what: "link below its maximum",
    text: `${name} runs at ${link!.now}, below the ${link!.most} of its port. ${why}`,
    from: [...link!.from, ...lowered.map(({ from }) => from)],
  };
}

/**
 * A device of USB 3 says version 2.10 where it has come up at high speed, since only such devices
 * have the descriptor that the number stands for (USB 3.2, 9.2.6.6 and 9.6.1).
 */
function slowUsb(node: SeenNode, above: readonly SeenNode[]): SystemFinding[] {
  if (node.kind !== "usb-device" && node.kind !== "usb-hub") return [];
  const version = factOf(node, "USB version of the device");
  const speed = Number.parseInt(node.link?.now ?? "");
  if (!version || !(speed <= 480)) return [];
  const hub = above.findLast(({ kind }) => kind === "usb-hub");
  const half = [node, ...above].map((n) => factOf(n, "other half of its socket")).find(Boolean);
  if (Number(version.value) < 2.1) return half ? [slowInFast(node, half)] : [];
  const because =
    hub && Number.parseInt(hub.link?.now ?? "") <= 480
      ? `; ${hub.name} above it runs at ${hub.link!.now}`
      : half
        ? `; the socket’s other half runs at ${half.value}, so look at the cable and the plug`
        : "";
  const from = [version.from, ...(node.link?.from ?? []), ...(half ? [half.from] : [])];
  return [
    {
      what: "runs slower than the device is made for",
      text: `${node.name} runs at ${node.link!.now} though it is made for USB 3 (it says ${version.value})${because}.`,
      from,
    },
  ];
}

/** A device of USB 2 in a socket that could do more: what hangs behind it cannot be faster. */
function slowInFast({ name, link }: SeenNode, half: Fact): SystemFinding {
  return {
    what: "slow device in a fast socket",
    text: `${name} runs at ${link!.now}, though its socket’s other half runs at ${half.value}: nothing behind it can be faster.`,
    from: [...link!.from, half.from],
  };
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

/** NVMe drives without a volatile cache say "write through" too, and lose nothing by it. */
function writeCache({ blocks, ways }: SystemReport): SystemFinding[] {
  return ways.flatMap(({ end, nodes }): SystemFinding[] => {
    const last = nodes.at(-1);
    if (!last || last.kind !== "disk") return [];
    const queue = blocks.find(({ name }) => name === end)?.facts;
    const off = [factOf(last, "write cache of the drive"), queue?.find(isWriteCache)].find(
      (fact) => fact?.value === "write through",
    );
    if (!off) return [];
    const text = `The write cache of ${last.name} is off, or the system is not told of it (“write through”): writing may be slow.`;
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
