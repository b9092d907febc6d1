import type { Fact, SeenNode } from "@/core/system/system-report";
import { blankNode } from "@/core/system/blank-node";
import type { SystemTree } from "./tree";

/** A disk as the SCSI, NVMe or other layer names it. @param at its block device's directory */
export async function readDisk(tree: SystemTree, at: string, name: string): Promise<SeenNode> {
  const device = `${at}/device`;
  const node = blankNode("disk", name, at);
  const [vendor, model, own] = await Promise.all([
    tree.read(`${device}/vendor`),
    tree.read(`${device}/model`),
    tree.read(`${device}/serial`),
  ]);
  const ofBlock = await tree.read(`${at}/serial`);
  const serial = own ?? ofBlock ?? (await unitSerial(tree, device));
  const real = await tree.real(device);
  const address = real?.split("/").at(-1) ?? "";
  node.facts.push(
    ...(await tree.fact("model", `${device}/model`)),
    ...serialFact(
      serial,
      own ? `${device}/serial` : ofBlock ? `${at}/serial` : `${device}/vpd_pg80`,
    ),
    ...(await tree.fact("firmware", `${device}/rev`)),
    ...(await tree.fact("requests at once", `${device}/queue_depth`)),
    ...(await tree.fact("write cache of the drive", `${device}/scsi_disk/${address}/cache_type`)),
    ...((await tree.has(`${device}/vpd_pg89`))
      ? [{ what: "behind its bridge", value: "an ATA drive", from: `${device}/vpd_pg89` }]
      : []),
    ...(real ? await readTemperatures(tree, real) : []),
  );
  return {
    ...node,
    name: model ?? name,
    maker: vendor && !/^(ata|0x)/i.test(vendor) ? vendor : null,
    model,
    serial,
  };
}

const serialFact = (value: string | null, from: string): Fact[] =>
  value ? [{ what: "serial number", value, from }] : [];

/** The unit serial number page of a SCSI disk (SPC-4, Unit Serial Number page, 80h): text after a head of four bytes. */
async function unitSerial(tree: SystemTree, device: string): Promise<string | null> {
  const page = await tree.bytes(`${device}/vpd_pg80`);
  if (!page || page.length < 5) return null;
  return (
    page
      .subarray(4, 4 + page[3]!)
      .toString("latin1")
      .trim() || null
  );
}

/** Of a drive, °C: above, what it names is no limit. */
const HIGHEST_LIMIT = 120;

/** Temperatures that a device reports (Documentation/hwmon/sysfs-interface.rst). */
export async function readTemperatures(tree: SystemTree, at: string): Promise<Fact[]> {
  // A disk is asked for its temperature, and some are kept awake by it (Documentation/hwmon/drivetemp.rst).
  if (tree.quiet) return [];
  const facts: Fact[] = [];
  for (const place of [at, `${at}/hwmon`]) {
    for (const name of await tree.list(place)) {
      if (!/^hwmon\d+$/.test(name)) continue;
      for (const file of await tree.list(`${place}/${name}`)) {
        const sensor = /^(temp\d+)_input$/.exec(file)?.[1];
        if (!sensor) continue;
        const from = `${place}/${name}/${file}`;
        const value = await tree.read(from);
        const label = (await tree.read(`${place}/${name}/${sensor}_label`)) ?? sensor;
        if (!value) continue;
        facts.push({ what: `temperature, ${label}`, value: `${Number(value) / 1000} °C`, from });
        const limit = `${place}/${name}/${sensor}_max`;
        const most = Number(await tree.read(limit)) / 1000;
        // Drives without a limit of their own name one that no thing on earth reaches.
        if (most > 0 && most < HIGHEST_LIMIT)
          facts.push({ what: `temperature limit, ${label}`, value: `${most} °C`, from: limit });
      }
    }
  }
  return facts;
}
