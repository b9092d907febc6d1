import { pataMode, sasMode, sataMode } from "@/core/system/modes";
import type { SeenLink, SeenNode } from "@/core/system/report";
import { blankNode } from "./node";
import type { SystemTree } from "./tree";

/** A port of a SATA or parallel ATA controller (Documentation/ABI/testing/sysfs-ata), and its link. */
export async function readAta(
  tree: SystemTree,
  at: string,
): Promise<{ port: SeenNode; link: SeenLink | null }> {
  const name = at.split("/").at(-1)!;
  for (const entry of await tree.list(at)) {
    if (!/^link\d/.test(entry)) continue;
    const link = `${at}/${entry}/ata_link/${entry}`;
    const now = await tree.read(`${link}/sata_spd`);
    const most = await tree.read(`${link}/hw_sata_spd_limit`);
    const facts = [
      ...(await tree.fact("limit after trouble", `${link}/sata_spd_limit`)),
      ...(await tree.fact("most the port can do", `${link}/hw_sata_spd_limit`)),
    ];
    if (now && /gbps/i.test(now)) {
      const seen: SeenLink = {
        mode: sataMode(now),
        now: `SATA ${now}`,
        mostMode: most ? sataMode(most) : null,
        most: most && /gbps/i.test(most) ? `SATA ${most}` : null,
        from: [`${link}/sata_spd`],
      };
      return { port: { ...blankNode("sata-port", `SATA port ${name}`, at), facts }, link: seen };
    }
    for (const device of await tree.list(`${at}/${entry}`)) {
      const from = `${at}/${entry}/${device}/ata_device/${device}/xfer_mode`;
      const mode = await tree.read(from);
      if (!mode) continue;
      const seen = { mode: pataMode(mode), now: mode, mostMode: null, most: null, from: [from] };
      return { port: blankNode("pata-port", `ATA port ${name}`, at), link: seen };
    }
  }
  tree.miss("speed of a SATA link", at, "the system does not say");
  return { port: blankNode("sata-port", `SATA port ${name}`, at), link: null };
}

/** A SAS end device's port: what its phys settled on. */
export async function readSas(tree: SystemTree, at: string): Promise<SeenLink | null> {
  for (const name of await tree.list(at)) {
    if (!name.startsWith("phy-")) continue;
    const from = `${at}/${name}/sas_phy/${name}`;
    const now = await tree.read(`${from}/negotiated_linkrate`);
    const most = await tree.read(`${from}/maximum_linkrate`);
    if (!now || !/gbit/i.test(now)) continue;
    return {
      mode: sasMode(now),
      now: `SAS ${now}`,
      mostMode: most ? sasMode(most) : null,
      most: most && `SAS ${most}`,
      from: [`${from}/negotiated_linkrate`],
    };
  }
  return null;
}
