import { pataMode, sataMode } from "@/core/system/modes";
import type { Fact, SeenLink, SeenNode } from "@/core/system/system-report";
import { fastestSata, wordsOf } from "./identify";
import { blankNode } from "@/core/system/blank-node";
import type { SystemTree } from "./tree";

/** A port of an ATA controller, its port multiplier where there is one, and the disk's own link. */
export interface AtaPort {
  port: SeenNode;
  multiplier: SeenNode | null;
  link: SeenLink | null;
}

/**
 * A port of a SATA or parallel ATA controller (Documentation/ABI/testing/sysfs-ata).
 *
 * @param channel the SCSI channel of the disk: behind a port multiplier the number of its port there
 */
export async function readAta(tree: SystemTree, at: string, channel: number): Promise<AtaPort> {
  const name = at.split("/").at(-1)!;
  const links = (await tree.list(at)).filter((entry) => /^link\d/.test(entry));
  const behind = links.find((entry) => entry.endsWith(`.${channel}`));
  const own = links.find((entry) => !entry.includes("."));
  const wanted = behind ?? own;
  const sata = wanted ? await sataLink(tree, at, wanted) : null;
  if (sata) {
    const port = blankNode("sata-port", `SATA port ${name}`, at);
    port.facts = [...sata.limits, ...(await hostLimit(tree, at))];
    return { port, link: sata.link, multiplier: behind ? await uplink(tree, at, own) : null };
  }
  for (const entry of links) {
    const pata = await pataLink(tree, `${at}/${entry}`);
    if (pata) {
      const port = blankNode("pata-port", `ATA port ${name}`, at);
      return { port, link: pata, multiplier: null };
    }
  }
  tree.miss("speed of a SATA link", at, "the system does not say");
  return { port: blankNode("sata-port", `SATA port ${name}`, at), link: null, multiplier: null };
}

/** Words of a speed limit; "<unknown>" is what the kernel writes where none was ever set. */
const known = (speed: string | null) => (speed && /gbps/i.test(speed) ? speed : null);

async function sataLink(
  tree: SystemTree,
  at: string,
  entry: string,
): Promise<{ link: SeenLink; limits: Fact[] } | null> {
  const files = `${at}/${entry}/ata_link/${entry}`;
  const now = known(await tree.read(`${files}/sata_spd`));
  if (!now) return null;
  const limits: Fact[] = [];
  const set = known(await tree.read(`${files}/hw_sata_spd_limit`));
  const left = known(await tree.read(`${files}/sata_spd_limit`));
  if (set) {
    limits.push({ what: "limit set at start", value: set, from: `${files}/hw_sata_spd_limit` });
  }
  // The two begin alike; the second only ever goes down, after errors (libata: sata_down_spd_limit).
  if (left && left !== set) {
    limits.push({ what: "limit after errors", value: left, from: `${files}/sata_spd_limit` });
  }
  let most: string | null = null;
  const from = [`${files}/sata_spd`];
  for (const device of await tree.list(`${at}/${entry}`)) {
    const place = `${at}/${entry}/${device}/ata_device/${device}`;
    if (!/^dev\d/.test(device)) continue;
    const lowered = await tree.read(`${place}/spdn_cnt`);
    if (lowered && Number(lowered) > 0) {
      limits.push({ what: "times slowed after errors", value: lowered, from: `${place}/spdn_cnt` });
    }
    most ??= fastestSata(wordsOf((await tree.read(`${place}/id`)) ?? ""));
    if (most) from.push(`${place}/id`);
  }
  const link: SeenLink = {
    mode: sataMode(now),
    now: `SATA ${now}`,
    mostMode: most && sataMode(most),
    most: most && `SATA ${most}`,
    from,
  };
  return { link, limits };
}

/** Interface speeds as an AHCI controller numbers them (AHCI 1.3.1: CAP.ISS, bits 20 to 23). */
const AHCI_SPEEDS = [null, "1.5 Gbps", "3.0 Gbps", "6.0 Gbps"];

/** What the controller says that its ports can do, where it is an AHCI one. */
async function hostLimit(tree: SystemTree, at: string): Promise<Fact[]> {
  for (const host of await tree.list(at)) {
    if (!/^host\d+$/.test(host)) continue;
    const from = `${at}/${host}/scsi_host/${host}/ahci_host_caps`;
    const caps = await tree.read(from);
    const speed = caps && AHCI_SPEEDS[(parseInt(caps, 16) >>> 20) & 0xf];
    if (speed) return [{ what: "most the port can do", value: speed, from }];
  }
  return [];
}

/** A port multiplier: the link between it and the port carries all that is behind it. */
async function uplink(
  tree: SystemTree,
  at: string,
  own: string | undefined,
): Promise<SeenNode | null> {
  const seen = own ? await sataLink(tree, at, own) : null;
  const node = blankNode("sata-multiplier", "SATA port multiplier", `${at}/${own}`);
  return seen && { ...node, link: { ...seen.link, mostMode: null, most: null } };
}

async function pataLink(tree: SystemTree, link: string): Promise<SeenLink | null> {
  for (const device of await tree.list(link)) {
    const from = `${link}/${device}/ata_device/${device}/xfer_mode`;
    const mode = await tree.read(from);
    if (mode) return { mode: pataMode(mode), now: mode, mostMode: null, most: null, from: [from] };
  }
  return null;
}
