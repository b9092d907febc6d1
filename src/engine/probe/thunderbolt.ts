import { tunnelMode } from "@/core/system/modes";
import type { SeenNode } from "@/core/system/report";
import { blankNode } from "./node";
import type { SystemTree } from "./tree";

/** The Thunderbolt or USB4 devices there are, host routers left out (sysfs-bus-thunderbolt). */
export async function readThunderbolt(tree: SystemTree): Promise<SeenNode[]> {
  const bus = "/sys/bus/thunderbolt/devices";
  const nodes: SeenNode[] = [];
  for (const name of await tree.list(bus)) {
    if (!/^\d+-[1-9a-f][\da-f]*$/.test(name)) continue;
    const at = (await tree.real(`${bus}/${name}`)) ?? `${bus}/${name}`;
    const attribute = (file: string) => tree.read(`${at}/${file}`);
    const maker = await attribute("vendor_name");
    const model = await attribute("device_name");
    const generation = await attribute("generation");
    const speed = await attribute("rx_speed");
    const lanes = await attribute("rx_lanes");
    const node = blankNode("thunderbolt", model ?? "Thunderbolt device", at);
    if (speed && lanes) {
      node.link = {
        mode: generation ? tunnelMode(generation, speed, lanes) : null,
        now: `${lanes} ${lanes === "1" ? "lane" : "lanes"} of ${speed}`,
        mostMode: null,
        most: null,
        from: [`${at}/rx_speed`, `${at}/rx_lanes`],
      };
    }
    nodes.push({
      ...node,
      maker,
      model,
      serial: await attribute("unique_id"),
      facts: [
        ...(await tree.fact("generation", `${at}/generation`)),
        ...(await tree.fact("sending", `${at}/tx_speed`)),
        ...(await tree.fact("sending lanes", `${at}/tx_lanes`)),
        ...(await tree.fact("authorized", `${at}/authorized`)),
      ],
    });
  }
  return nodes;
}
