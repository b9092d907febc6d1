import { sasMode, sataMode } from "@/core/system/modes";
import type { SeenLink, SeenNode } from "@/core/system/system-report";
import { fastestSata, wordsOfPage } from "./identify";
import { blankNode } from "@/core/system/blank-node";
import type { SystemTree } from "./tree";

/** Ports of a SAS adapter or expander: "port-6:0", "port-6:0:5" (drivers/scsi/scsi_transport_sas.c). */
export const SAS_PORT = /\/port-\d+:\d+(:\d+)*$/;
export const SAS_EXPANDER = /\/expander-\d+:\d+$/;

/** What the phys of a port settled on. */
interface Phys {
  rate: string;
  most: string | null;
  count: number;
  from: string[];
}

async function physOf(tree: SystemTree, port: string): Promise<Phys | null> {
  let found: Phys | null = null;
  for (const name of await tree.list(port)) {
    if (!name.startsWith("phy-")) continue;
    const at = `${port}/${name}/sas_phy/${name}`;
    const rate = await tree.read(`${at}/negotiated_linkrate`);
    if (!rate || !/gbit/i.test(rate)) continue;
    const most = await tree.read(`${at}/maximum_linkrate`);
    const from = `${at}/negotiated_linkrate`;
    if (!found)
      found = { rate, most: most && /gbit/i.test(most) ? most : null, count: 1, from: [from] };
    else {
      found.count += 1;
      found.from.push(from);
    }
  }
  return found;
}

/**
 * The link of a disk on a SAS adapter or expander. A SATA drive there runs SATA: its end device says
 * so, and the adapter's own speed says nothing of it.
 *
 * @param port the port nearest to the disk
 * @param device the disk's directory of the SCSI layer
 */
export async function readSasLink(
  tree: SystemTree,
  port: string,
  device: string,
): Promise<SeenLink | null> {
  const phys = await physOf(tree, port);
  if (!phys) return null;
  const { rate, from } = phys;
  const protocols = await endProtocols(tree, port);
  if (protocols && /\bsata\b/.test(protocols.value)) {
    const page = await tree.bytes(`${device}/vpd_pg89`);
    const most = page && fastestSata(wordsOfPage(page));
    return {
      mode: sataMode(rate),
      now: `SATA ${rate}`,
      mostMode: most ? sataMode(most) : null,
      most: most ? `SATA ${most}` : null,
      from: [...from, protocols.from, ...(most ? [`${device}/vpd_pg89`] : [])],
    };
  }
  return { mode: sasMode(rate), now: `SAS ${rate}`, mostMode: null, most: null, from };
}

/** The protocols that the device at the end of a port speaks: "ssp", or "sata". */
async function endProtocols(tree: SystemTree, port: string) {
  for (const name of await tree.list(port)) {
    if (!name.startsWith("end_device-")) continue;
    const from = `${port}/${name}/sas_device/${name}/target_port_protocols`;
    const value = await tree.read(from);
    if (value) return { value, from };
  }
  return null;
}

/** A port of a SAS adapter: what its end of the link could do. */
export async function readSasPort(tree: SystemTree, at: string): Promise<SeenNode> {
  const phys = await physOf(tree, at);
  const node = blankNode("sas-port", `SAS port ${at.split("/port-").at(-1)}`, at);
  if (phys?.most) {
    const from = phys.from[0]!.replace("negotiated_linkrate", "maximum_linkrate");
    node.facts.push({ what: "most the port can do", value: phys.most, from });
  }
  return node;
}

/** A SAS expander, with the link of one or several lanes that everything behind it shares. */
export async function readExpander(tree: SystemTree, at: string): Promise<SeenNode> {
  const name = at.split("/").at(-1)!;
  const files = `${at}/sas_expander/${name}`;
  const maker = await tree.read(`${files}/vendor_id`);
  const model = await tree.read(`${files}/product_id`);
  const phys = await physOf(tree, at.split("/").slice(0, -1).join("/"));
  const node = blankNode("sas-expander", model || "SAS expander", at);
  if (phys) {
    const { rate, count, from } = phys;
    node.link = {
      // Nerrit's SAS modes are of one lane.
      mode: count === 1 ? sasMode(rate) : null,
      now: count === 1 ? `SAS ${rate}` : `SAS ${rate} ×${count}`,
      mostMode: null,
      most: null,
      from,
    };
  }
  node.facts = await tree.fact("firmware", `${files}/product_rev`);
  return { ...node, maker, model };
}
